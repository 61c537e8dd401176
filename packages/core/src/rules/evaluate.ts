import type { Ask } from './ask.ts';
import { chainIndex } from './chainIndex.ts';
import { inValues, isMissing, readField, type FieldValue, type Missing, type Surroundings } from './fields.ts';
import type { BaseChain, Chain, Field, Lookup, MarkName, RejectKind, Rule, Step, TranslationTarget, ValueSet } from './program.ts';
import type { Subject } from './subject.ts';

/** What a base chain did with the packet. */
export type ChainResult =
  | { readonly verdict: 'accept'; readonly rule: Rule | null }
  | { readonly verdict: 'drop'; readonly rule: Rule | null }
  | { readonly verdict: 'reject'; readonly kind: RejectKind; readonly rule: Rule };

/** One rule that the packet met, for the explanation. */
export interface Visit {
  readonly chain: Chain;
  readonly rule: Rule;
  readonly hit: boolean;
  /** For a miss: the first field that did not agree, and the value that the packet had. */
  readonly missed: { readonly field: Field; readonly value: FieldValue | null } | null;
}

/** What the machine does for the rules: carries out translations, answers questions about routes. */
export interface Bench extends Surroundings {
  readonly stop: string;
  readonly ask: Ask;
  translate(subject: Subject, side: 'source' | 'destination', target: TranslationTarget, rule: Rule): 'done' | 'drop';
  masquerade(subject: Subject, ports: TranslationTarget['ports'], rule: Rule): 'done' | 'drop';
  redirect(subject: Subject, ports: TranslationTarget['ports'], rule: Rule): 'done' | 'drop';
  /** null where nobody wants to know. */
  readonly record: ((visit: Visit) => void) | null;
}

type StepResult =
  | { readonly end: 'next-rule' | 'continue' }
  | { readonly end: 'accept' | 'drop' | 'return' }
  | { readonly end: 'reject'; readonly kind: RejectKind }
  | { readonly end: 'jump' | 'goto'; readonly chain: Chain };

/** Kernel limit of nested jumps (NFT_JUMP_STACK_SIZE). */
const MAX_DEPTH = 16;

/** Runs the packet through one base chain. Translations and marks are carried out on the subject on the way. */
export function runBaseChain(base: BaseChain, subject: Subject, bench: Bench): ChainResult {
  const result = runChain(base.chain, subject, bench, 0);
  if (result.end === 'accept' || result.end === 'drop') return { verdict: result.end, rule: result.rule };
  if (result.end === 'reject') return { verdict: 'reject', kind: result.kind, rule: result.rule };
  return { verdict: base.policy, rule: null };
}

type ChainEnd =
  | { readonly end: 'fell-through' }
  | { readonly end: 'accept' | 'drop'; readonly rule: Rule }
  | { readonly end: 'reject'; readonly kind: RejectKind; readonly rule: Rule };

function runChain(chain: Chain, subject: Subject, bench: Bench, depth: number): ChainEnd {
  const numbers = chainIndex(chain)?.candidates(subject) ?? null;
  const count = numbers ? numbers.length : chain.rules.length;
  for (let i = 0; i < count; i++) {
    const number = numbers ? numbers[i]! : i;
    if (numbers && bench.record) recordSkipped(chain, i === 0 ? 0 : numbers[i - 1]! + 1, number, subject, bench);
    const rule = chain.rules[number]!;
    const result = runRule(chain, rule, subject, bench);
    switch (result.end) {
      case 'next-rule': continue;
      case 'continue': continue;
      case 'return': return { end: 'fell-through' };
      case 'accept':
      case 'drop': return { end: result.end, rule };
      case 'reject': return { end: 'reject', kind: result.kind, rule };
      case 'jump':
      case 'goto': {
        if (depth >= MAX_DEPTH) {
          const answer = bench.ask({ key: `${bench.stop}/loop/${rule.id}`, needs: `rule set of ${bench.stop}: the jumps of chain ${chain.name} go round in a circle`, settle: { stop: bench.stop, yields: 'rules' } }, 2);
          return { end: answer === 0 ? 'accept' : 'drop', rule };
        }
        const inner = runChain(result.chain, subject, bench, depth + 1);
        if (inner.end !== 'fell-through') return inner;
        if (result.end === 'goto') return { end: 'fell-through' };
      }
    }
  }
  if (numbers && bench.record) recordSkipped(chain, count === 0 ? 0 : numbers[count - 1]! + 1, chain.rules.length, subject, bench);
  return { end: 'fell-through' };
}

/** A rule that the index left out. What it missed by is worked out when somebody looks. */
class SkippedVisit implements Visit {
  readonly chain: Chain;
  readonly rule: Rule;
  readonly hit = false;
  readonly #subject: Subject;
  readonly #bench: Bench;

  constructor(chain: Chain, rule: Rule, subject: Subject, bench: Bench) {
    this.chain = chain;
    this.rule = rule;
    this.#subject = subject;
    this.#bench = bench;
  }

  get missed(): Visit['missed'] {
    const failed = this.rule.steps.find((step) => step.do === 'match' && missesPlainly(step, this.#subject, this.#bench));
    return failed ? missedBy(failed, this.#subject, this.#bench) : null;
  }
}

function recordSkipped(chain: Chain, from: number, to: number, subject: Subject, bench: Bench): void {
  if (from >= to) return;
  const then = { ...subject };
  for (let n = from; n < to; n++) bench.record!(new SkippedVisit(chain, chain.rules[n]!, then, bench));
}

function missesPlainly(step: Extract<Step, { do: 'match' }>, subject: Subject, bench: Bench): boolean {
  const found = values(step.fields, subject, bench);
  if (found === null) return true;
  return !isMissing(found) && step.rows.some((row) => rowMatches(row, found)) === step.negate;
}

/** A rule's steps run in order; the first match that fails ends the rule, what stood before it has taken effect. */
function runRule(chain: Chain, rule: Rule, subject: Subject, bench: Bench): StepResult {
  for (let i = 0; i < rule.steps.length; i++) {
    const step = rule.steps[i]!;
    if (isDoubt(step) && rule.steps.slice(i + 1).every((later) => later.do === 'note' || isDoubt(later) || later.do === 'match')) break;
    const result = runStep(step, rule, subject, bench);
    if (result.end === 'continue') continue;
    bench.record?.({ chain, rule, hit: result.end !== 'next-rule', missed: result.end === 'next-rule' ? missedBy(step, subject, bench) : null });
    return result;
  }
  bench.record?.({ chain, rule, hit: true, missed: null });
  return { end: 'continue' };
}

const isDoubt = (step: Step): boolean => step.do === 'chance' || step.do === 'over-time' || step.do === 'unmodelled-match';

function missedBy(step: Step, subject: Subject, bench: Bench): Visit['missed'] {
  if (step.do !== 'match') return null;
  const field = step.fields.find((f, i) => {
    const value = readField(f, subject, bench);
    return value === null || isMissing(value) || !step.rows.some((row) => inValues(row[i]!, value)) === !step.negate;
  }) ?? step.fields[0]!;
  const value = readField(field, subject, bench);
  return { field, value: isMissing(value) ? null : value };
}

function runStep(step: Step, rule: Rule, subject: Subject, bench: Bench): StepResult {
  switch (step.do) {
    case 'match': return { end: matches(step, rule, subject, bench) ? 'continue' : 'next-rule' };
    case 'note': return { end: 'continue' };
    case 'verdict': return verdictEnd(step.verdict);
    case 'verdict-map': {
      const found = lookUp(step.lookup, rule, subject, bench);
      return found === null ? { end: 'next-rule' } : verdictEnd(found);
    }
    case 'translate': return translated(bench.translate(subject, step.side, step.target, rule));
    case 'translate-map': {
      const found = lookUp(step.lookup, rule, subject, bench);
      return found === null ? { end: 'next-rule' } : translated(bench.translate(subject, step.side, found, rule));
    }
    case 'masquerade': return translated(bench.masquerade(subject, step.ports, rule));
    case 'redirect': return translated(bench.redirect(subject, step.ports, rule));
    case 'set-mark': {
      const from = step.from === 'mark' ? subject.mark : (subject.tracking?.session?.mark ?? 0);
      setMark(subject, step.on, ((from & step.keep) ^ step.flip) >>> 0);
      return { end: 'continue' };
    }
    case 'notrack': subject.untracked = subject.tracking === null || subject.untracked; return { end: 'continue' };
    case 'over-time': return { end: bench.ask({ key: `${bench.stop}/over-time/${step.reason}`, needs: step.reason, settle: { stop: bench.stop, yields: 'status' }, overTime: true }, 2) === 1 ? 'continue' : 'next-rule' };
    case 'chance':
    case 'unmodelled-match': return { end: doubt(step.reason, rule, bench, 2) === 0 ? 'continue' : 'next-rule' };
    case 'unmodelled-action': return { end: (['continue', 'next-rule', 'accept', 'drop'] as const)[doubt(step.reason, rule, bench, 4)]! };
  }
}

const translated = (outcome: 'done' | 'drop'): StepResult => ({ end: outcome === 'done' ? 'accept' : 'drop' });

function verdictEnd(v: Extract<Step, { do: 'verdict' }>['verdict']): StepResult {
  switch (v.verdict) {
    case 'reject': return { end: 'reject', kind: v.kind };
    case 'jump':
    case 'goto': return { end: v.verdict, chain: v.chain };
    case 'continue': return { end: 'continue' };
    default: return { end: v.verdict };
  }
}

function setMark(subject: Subject, on: MarkName, value: number): void {
  if (on === 'mark') subject.mark = value;
  else if (subject.tracking?.session) subject.tracking.session.mark = value;
}

function doubt(reason: string, rule: Rule, bench: Bench, options: number): number {
  // A rule with no place in a listing was made from rows or settings: its counters cannot be asked for, the rows can.
  const printed = rule.source !== null;
  return bench.ask({ key: `${bench.stop}/${rule.id}/${reason}`, needs: `${bench.stop}: ${reason}${printed ? `, in the rule “${rule.text}”` : ''}`, settle: { stop: bench.stop, yields: printed ? 'counters' : 'rules' } }, options);
}

/** The packet's values for the fields; null where one is absent. An unknown value is asked for and comes back as the flag. */
function values(fields: readonly Field[], subject: Subject, bench: Bench): FieldValue[] | Missing | null {
  const out: FieldValue[] = [];
  for (const field of fields) {
    const value = readField(field, subject, bench);
    if (value === null || isMissing(value)) return value;
    out.push(value);
  }
  return out;
}

const rowMatches = (row: readonly ValueSet[], found: readonly FieldValue[]): boolean => row.every((set, i) => inValues(set, found[i]!));

function matches(step: Extract<Step, { do: 'match' }>, rule: Rule, subject: Subject, bench: Bench): boolean {
  const found = values(step.fields, subject, bench);
  if (found === null) return false;
  if (isMissing(found)) return doubt(found.missing, rule, bench, 2) === 0;
  return step.rows.some((row) => rowMatches(row, found)) !== step.negate;
}

function lookUp<T>(lookup: Lookup<T>, rule: Rule, subject: Subject, bench: Bench): T | null {
  const found = values(lookup.fields, subject, bench);
  if (found === null) return null;
  if (isMissing(found)) {
    const taken = doubt(found.missing, rule, bench, lookup.rows.length + 1);
    return lookup.rows[taken]?.value ?? null;
  }
  return lookup.rows.find((row) => rowMatches(row.key, found))?.value ?? null;
}
