import type { AskKind } from '../asks/index.ts';
import type { Question } from './ask.ts';
import type { Doubt, Need } from './needs.ts';
import type { Chain, Rule } from './program.ts';

/**
 * Whether a condition holds (0) or not (1) that time, chance or earlier packets decide, or that is not
 * modelled.
 */
export function doubtQuestion(stop: string, rule: Rule, doubt: Doubt): Question {
  // A rule with no place in a listing was made from rows or settings: its counters cannot be asked for, the
  // rows can.
  const printed = rule.source !== null;
  return {
    key: ofMachine(doubt) ? `${stop}/${doubtKey(doubt)}` : `${stop}/${rule.id}/${doubtKey(doubt)}`,
    need: { need: 'condition', stop, doubt, rule: printed ? rule.text : null },
    settle: { stop, yields: settledBy(doubt, printed) },
  };
}

function settledBy(doubt: Doubt, printed: boolean): AskKind {
  if (doubt.doubt === 'port-of-program') return 'sockets';
  // A line or zone that a row names, and no listing has.
  if (doubt.doubt === 'word' && doubt.field === 'interface') return 'addresses';
  return printed ? 'counters' : 'rules';
}

/**
 * What an action that is not modelled does. A question of its own: a condition of the same rule may be
 * open for the same reason.
 */
export function actionQuestion(stop: string, rule: Rule, doubt: Doubt): Question {
  const question = doubtQuestion(stop, rule, doubt);
  return { ...question, key: `${question.key}/action` };
}

/**
 * How a condition comes out (one answer for each way) that looks at something which the evidence does not
 * tell.
 */
export const missingQuestion = (stop: string, rule: Rule, need: Need): Question => ({
  key: `${stop}/${rule.id}/${keyOf(need)}`,
  need,
  settle: { stop, yields: rule.source === null ? 'rules' : 'counters' },
});

/** What is open about the machine is open alike for all of its rules: which program has the port. */
const ofMachine = ({ doubt }: Doubt): boolean => doubt === 'port-of-program';

/** The same doubt about the same rule is one question. */
const doubtKey = (doubt: Doubt): string => keyOf(doubt);

/** The key of a question that the evidence does not let anybody answer. */
export const openKey = (need: Need): string => `open/${keyOf(need)}`;

export const keyOf = (data: object): string =>
  JSON.stringify(data, (_, value: unknown) => (typeof value === 'bigint' ? value.toString(16) : value));

/** Whether a condition that is false at first (0) has come true (1). */
export const overTimeQuestion = (stop: string, doubt: Doubt): Question => ({
  key: `${stop}/over-time/${doubtKey(doubt)}`,
  need: { need: 'over-time', doubt },
  settle: { stop, yields: 'status' },
  overTime: true,
});

/** What becomes of a packet whose jumps go round in a circle: it passes (0) or not (1). */
export const circleQuestion = (stop: string, chain: Chain, rule: Rule): Question => ({
  key: `${stop}/loop/${rule.id}`,
  need: { need: 'circle', stop, chain: chain.name },
  settle: { stop, yields: 'rules' },
});

/** Which address of a range the kernel picks: by a hash that nobody can foretell. */
export const rangeQuestion = (stop: string, rule: Rule): Question => ({
  key: `${stop}/${rule.id}/range`,
  need: { need: 'choice-of-range' },
  settle: null,
});

/** Ranges of more addresses than this are not tried one by one: what becomes of the packet is then open. */
export const MOST_RANGE_CHOICES = 16;
