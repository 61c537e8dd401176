import type { Question } from './ask.ts';
import type { Chain, Rule } from './program.ts';

/** Whether a condition holds (0) or not (1) that time, chance or earlier packets decide, or that is not modelled. */
export function doubtQuestion(stop: string, rule: Rule, reason: string): Question {
  // A rule with no place in a listing was made from rows or settings: its counters cannot be asked for, the rows can.
  const printed = rule.source !== null;
  return {
    key: `${stop}/${rule.id}/${reason}`,
    needs: `${stop}: ${reason}${printed ? `, in the rule “${rule.text}”` : ''}`,
    settle: { stop, yields: printed ? 'counters' : 'rules' },
  };
}

/** Whether a condition that is false at first (0) has come true (1). */
export const overTimeQuestion = (stop: string, reason: string): Question => ({
  key: `${stop}/over-time/${reason}`,
  needs: reason,
  settle: { stop, yields: 'status' },
  overTime: true,
});

/** What becomes of a packet whose jumps go round in a circle: it passes (0) or not (1). */
export const circleQuestion = (stop: string, chain: Chain, rule: Rule): Question => ({
  key: `${stop}/loop/${rule.id}`,
  needs: `rule set of ${stop}: the jumps of chain ${chain.name} go round in a circle`,
  settle: { stop, yields: 'rules' },
});

/** Which address of a range the kernel picks: by a hash that nobody can foretell. */
export const rangeQuestion = (stop: string, rule: Rule): Question => ({
  key: `${stop}/${rule.id}/range`,
  needs: 'which address of a range the kernel picks',
  settle: null,
});

/** Ranges of more addresses than this are not tried one by one: what becomes of the packet is then open. */
export const MOST_RANGE_CHOICES = 16;
