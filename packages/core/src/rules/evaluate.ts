import type { Doubt } from './needs.ts';
import { chainIndex } from './chainIndex.ts';
import { isDoubt, isIdleDoubt } from './conditions.ts';
import { actionQuestion, circleQuestion, doubtQuestion, overTimeQuestion } from './doubts.ts';
import { inValues, isMissing, valueOf } from './fields.ts';
import type { BaseChain, Chain, MarkName, RejectKind, Rule, Step } from './program.ts';
import type { Subject } from './subject.ts';
import { lookUp, matches, rowMatches, values } from './matching.ts';
import type { RuleHost, TranslationEnd, Visit } from './host.ts';

/** What a base chain did with the packet. */
export type ChainResult =
  | { readonly verdict: 'accept'; readonly rule: Rule | null }
  | { readonly verdict: 'drop'; readonly rule: Rule | null }
  | { readonly verdict: 'reject'; readonly kind: RejectKind; readonly rule: Rule }
  /** A translation to one of more addresses than can be looked at one by one. */
  | { readonly verdict: 'open'; readonly rule: Rule };

type StepResult =
  | { readonly end: 'next-rule' | 'continue' }
  | { readonly end: 'accept' | 'drop' | 'return' | 'open' }
  | { readonly end: 'reject'; readonly kind: RejectKind }
  | { readonly end: 'jump' | 'goto'; readonly chain: Chain };

/** Kernel limit of nested jumps (NFT_JUMP_STACK_SIZE). */
export const MAX_DEPTH = 16;

/** What an action that is not modelled may do, by the answer to its doubt. */
const ACTION_ENDS = ['continue', 'next-rule', 'accept', 'drop'] as const;

/** In a chain of type nat it may also translate, to nobody knows where. */
const TRANSLATING_ENDS = [...ACTION_ENDS, 'open'] as const;

export const actionEnds = (type: BaseChain['type']): readonly (typeof TRANSLATING_ENDS)[number][] =>
  type === 'nat' ? TRANSLATING_ENDS : ACTION_ENDS;

/**
 * Runs the packet through one base chain. Translations and marks are carried out on the subject on the way.
 */
export function runBaseChain(base: BaseChain, subject: Subject, host: RuleHost): ChainResult {
  const result = runChain(base.chain, subject, host, 0);
  if (result.end === 'accept' || result.end === 'drop' || result.end === 'open')
    return { verdict: result.end, rule: result.rule };
  if (result.end === 'reject') return { verdict: 'reject', kind: result.kind, rule: result.rule };
  return { verdict: base.policy, rule: null };
}

type ChainEnd =
  | { readonly end: 'fell-through' }
  | { readonly end: 'accept' | 'drop' | 'open'; readonly rule: Rule }
  | { readonly end: 'reject'; readonly kind: RejectKind; readonly rule: Rule };

function runChain(chain: Chain, subject: Subject, host: RuleHost, depth: number): ChainEnd {
  const numbers = chainIndex(chain)?.forPacket(subject) ?? null;
  const count = numbers ? numbers.length : chain.rules.length;
  let next = 0;
  for (let i = 0; i < count; i++) {
    const number = numbers?.[i] ?? i;
    const rule = chain.rules[number] as Rule;
    if (number > next) recordSkipped(chain, next, number, subject, host);
    next = number + 1;
    const result = runRule(chain, rule, subject, host);
    switch (result.end) {
      case 'next-rule':
      case 'continue':
        continue;
      case 'return':
        return { end: 'fell-through' };
      case 'accept':
      case 'drop':
      case 'open':
        return { end: result.end, rule };
      case 'reject':
        return { end: 'reject', kind: result.kind, rule };
      case 'jump':
      case 'goto': {
        if (depth >= MAX_DEPTH) {
          const passes = host.ask(circleQuestion(host.stop, chain, rule), 2) === 0;
          return { end: passes ? 'accept' : 'drop', rule };
        }
        const inner = runChain(result.chain, subject, host, depth + 1);
        if (inner.end !== 'fell-through') return inner;
        if (result.end === 'goto') return { end: 'fell-through' };
      }
    }
  }
  if (chain.rules.length > next) recordSkipped(chain, next, chain.rules.length, subject, host);
  return { end: 'fell-through' };
}

function recordSkipped(chain: Chain, from: number, to: number, subject: Subject, host: RuleHost): void {
  if (!host.record) return;
  const then = { ...subject };
  host.record.skipped({
    chain,
    count: to - from,
    *visits() {
      for (const rule of chain.rules.slice(from, to)) yield skippedVisit(chain, rule, then, host);
    },
  });
}

function skippedVisit(chain: Chain, rule: Rule, subject: Subject, host: RuleHost): Visit {
  const failed = rule.steps.find((step) => step.do === 'match' && missesPlainly(step, subject, host));
  return { chain, rule, hit: false, missed: failed ? missedBy(failed, subject, host) : null };
}

function missesPlainly(step: Extract<Step, { do: 'match' }>, subject: Subject, host: RuleHost): boolean {
  const found = values(step.fields, subject, host);
  if (found === null) return true;
  return !isMissing(found) && step.rows.some((row) => rowMatches(row, found)) === step.negate;
}

/**
 * A rule's steps run in order; the first match that fails ends the rule, what stood before it has taken
 * effect.
 */
function runRule(chain: Chain, rule: Rule, subject: Subject, host: RuleHost): StepResult {
  for (let i = 0; i < rule.steps.length; i++) {
    const step = rule.steps[i]!;
    if (isDoubt(step) && isIdleDoubt(rule, i)) break;
    const result = runStep(step, rule, subject, host);
    if (result.end === 'continue') continue;
    host.record?.visited({
      chain,
      rule,
      hit: result.end !== 'next-rule',
      missed: result.end === 'next-rule' ? missedBy(step, subject, host) : null,
    });
    return result;
  }
  host.record?.visited({ chain, rule, hit: true, missed: null });
  return { end: 'continue' };
}

function missedBy(step: Step, subject: Subject, host: RuleHost): Visit['missed'] {
  if (step.do !== 'match') return null;
  const field =
    step.fields.find((f, i) => {
      const value = valueOf(f, subject, host);
      return (
        value === null ||
        isMissing(value) ||
        !step.rows.some((row) => inValues(row[i]!, value)) === !step.negate
      );
    }) ?? step.fields[0]!;
  const value = valueOf(field, subject, host);
  return { field, value: isMissing(value) ? null : value };
}

function runStep(step: Step, rule: Rule, subject: Subject, host: RuleHost): StepResult {
  switch (step.do) {
    case 'match':
      return { end: matches(step, rule, subject, host) ? 'continue' : 'next-rule' };
    case 'note':
      return { end: 'continue' };
    case 'verdict':
      return verdictEnd(step.verdict);
    case 'verdict-map': {
      const found = lookUp(step.lookup, rule, subject, host);
      return found === null ? { end: 'next-rule' } : verdictEnd(found);
    }
    case 'translate':
      return translated(host.translate(subject, step.side, step.target, rule));
    case 'translate-map': {
      const found = lookUp(step.lookup, rule, subject, host);
      return found === null
        ? { end: 'next-rule' }
        : translated(host.translate(subject, step.side, found, rule));
    }
    case 'masquerade':
      return translated(host.masquerade(subject, step.ports, rule));
    case 'redirect':
      return translated(host.redirect(subject, step.ports, rule));
    case 'set-mark': {
      const from = step.from === 'mark' ? subject.mark : (subject.tracking?.session?.mark ?? 0);
      setMark(subject, step.on, ((from & step.keep) ^ step.flip) >>> 0);
      return { end: 'continue' };
    }
    case 'notrack':
      subject.untracked = subject.tracking === null || subject.untracked;
      return { end: 'continue' };
    case 'over-time':
      return { end: host.ask(overTimeQuestion(host.stop, step.doubt), 2) === 1 ? 'continue' : 'next-rule' };
    case 'chance':
    case 'unmodelled-match':
      return { end: asksDoubt(step.doubt, rule, host, 2) === 0 ? 'continue' : 'next-rule' };
    case 'unmodelled-action': {
      const ends = actionEnds(host.chainType);
      const answer = host.ask(actionQuestion(host.stop, rule, step.doubt), ends.length);
      return { end: ends[answer] ?? 'continue' };
    }
  }
}

const translated = (outcome: TranslationEnd): StepResult => ({
  end: outcome === 'done' ? 'accept' : outcome,
});

function verdictEnd(v: Extract<Step, { do: 'verdict' }>['verdict']): StepResult {
  switch (v.verdict) {
    case 'reject':
      return { end: 'reject', kind: v.kind };
    case 'jump':
    case 'goto':
      return { end: v.verdict, chain: v.chain };
    case 'continue':
      return { end: 'continue' };
    default:
      return { end: v.verdict };
  }
}

function setMark(subject: Subject, on: MarkName, value: number): void {
  if (on === 'mark') subject.mark = value;
  else if (subject.tracking?.session) subject.tracking.session.mark = value;
}

const asksDoubt = (doubt: Doubt, rule: Rule, host: RuleHost, options: number): number =>
  host.ask(doubtQuestion(host.stop, rule, doubt), options);
