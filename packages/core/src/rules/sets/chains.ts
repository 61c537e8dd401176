import type { Doubt } from '../needs.ts';
import { join, sideLine, without, type Address, type Side, type SideIndex } from '../../net/index.ts';
import { chainIndex } from '../chainIndex.ts';
import {
  conditionSide,
  isDoubt,
  isIdleDoubt,
  plainConditions,
  type HeaderCondition,
  type OtherCondition,
} from '../conditions.ts';
import { actionQuestion, circleQuestion, doubtQuestion, overTimeQuestion } from '../doubts.ts';
import type { Effort } from '../effort.ts';
import { actionEnds, MAX_DEPTH } from '../evaluate.ts';
import { inValues, readField } from '../fields.ts';
import type { Question } from '../ask.ts';
import { answersTo } from '../given.ts';
import type { BaseChain, Chain, MarkName, Rule, Step, TranslationTarget, Verdict } from '../program.ts';
import {
  sentSide,
  touches,
  withBoxSide,
  withSession,
  withTrail,
  type Mapped,
  type PacketSet,
} from './packetSet.ts';
import { splitByLookup, splitByMatch, type Lookups } from './split.ts';
import { translateSet } from './translate.ts';

/** Where packets are after a chain. Nobody asks for those that were dropped or refused. */
export interface SetEnd {
  readonly accepted: PacketSet[];
  readonly through: PacketSet[];
  /** It is not known what becomes of them. */
  readonly open: PacketSet[];
}

/** What a machine does for rules on sets of packets. */
export interface SetHost extends Lookups {
  /** The addresses that masquerading or redirecting takes; null where there is none. */
  ownAddresses(
    kind: 'masquerade' | 'redirect',
    set: PacketSet,
  ): readonly { readonly part: PacketSet; readonly address: Address | null }[];
  readonly effort: Effort;
  /** Of the base chain that runs. */
  readonly chainType: BaseChain['type'];
  /** False: doubts go both ways and are forgotten, so that they do not multiply. Default: true. */
  readonly keepsAnswers?: boolean;
  /** Told of every rule that some packets fulfil. */
  readonly onHit?: (rule: Rule) => void;
}

/** Runs sets of packets through a chain: the same rules as `evaluate.ts`, on all packets at once. */
export function runChainOnSets(chain: Chain, sets: readonly PacketSet[], host: SetHost, depth = 0): SetEnd {
  const end: SetEnd = { accepted: [], through: [], open: [] };
  for (const set of sets) new ChainRun(chain, host, depth, end).run(set);
  return end;
}

/**
 * What dropping rules take from a set, kept until somebody needs what is left: one subtraction instead of
 * thousands.
 */
interface TakenAway {
  readonly side: SideIndex;
  readonly sides: Side[];
}

class ChainRun {
  readonly #chain: Chain;
  readonly #host: SetHost;
  readonly #depth: number;
  readonly #end: SetEnd;
  /** Packets that go on to the next rule. */
  #next: PacketSet[] = [];

  constructor(chain: Chain, host: SetHost, depth: number, end: SetEnd) {
    this.#chain = chain;
    this.#host = host;
    this.#depth = depth;
    this.#end = end;
  }

  run(set: PacketSet): void {
    let current: PacketSet[] = [set];
    let taken: TakenAway | null = null;
    for (const rule of rulesFor(this.#chain, set)) {
      this.#host.effort.spend(current.length);
      const [only] = current;
      if (only && current.length === 1) {
        if (missesWhole(rule, only)) continue;
        const away = this.#host.onHit ? null : takenBy(rule, only);
        if (away && (taken === null || taken.side === away.side)) {
          taken ??= { side: away.side, sides: [] };
          taken.sides.push(away.values);
          continue;
        }
      }
      current = takeAway(current, taken);
      taken = null;
      this.#next = [];
      for (const piece of current) this.#rule(rule, piece);
      current = this.#host.keepsAnswers === false ? distinct(this.#next) : this.#next;
      if (current.length === 0) return;
    }
    pushAll(this.#end.through, takeAway(current, taken));
  }

  #rule(rule: Rule, set: PacketSet): void {
    if (missesWhole(rule, set)) {
      this.#next.push(set);
      return;
    }
    let live: PacketSet[] = [set];
    for (let i = 0; i < rule.steps.length && live.length > 0; i++) {
      const step = rule.steps[i] as Step;
      if (isDoubt(step) && isIdleDoubt(rule, i)) break;
      const after: PacketSet[] = [];
      for (const part of live) this.#step(step, rule, part, after);
      live = after;
    }
    this.#hit(rule, live);
    // A rule without a verdict only counts or marks; its packets go on.
    pushAll(this.#next, live);
  }

  /** One step on one set; packets that go on to the next step come into `after`. */
  #step(step: Step, rule: Rule, set: PacketSet, after: PacketSet[]): void {
    const { stop } = this.#host;
    switch (step.do) {
      case 'match': {
        const { hit, miss } = splitByMatch(step, rule, set, this.#host);
        pushAll(after, hit);
        pushAll(this.#next, miss);
        return;
      }
      case 'note':
        after.push(set);
        return;
      case 'chance':
      case 'unmodelled-match':
        for (const { answer, given } of this.#answers(set, doubtQuestion(stop, rule, step.doubt), 2))
          (answer === 0 ? after : this.#next).push({ ...set, given });
        return;
      case 'over-time':
        for (const { answer, given } of this.#answers(set, overTimeQuestion(stop, step.doubt), 2))
          (answer === 1 ? after : this.#next).push({ ...set, given });
        return;
      case 'unmodelled-action':
        this.#unmodelled(step.doubt, rule, set, after);
        return;
      case 'set-mark':
        after.push(marked(set, step));
        return;
      case 'notrack':
        after.push(set.tracking === null ? { ...set, untracked: true } : set);
        return;
      case 'verdict':
        this.#conclude(step.verdict, rule, [set], after);
        return;
      case 'verdict-map': {
        const { rows, miss } = splitByLookup(step.lookup, rule, set, this.#host);
        for (const { value, parts } of rows) this.#conclude(value, rule, parts, after);
        pushAll(this.#next, miss);
        return;
      }
      case 'translate':
        this.#translate(step.side, step.target, rule, [set]);
        return;
      case 'translate-map': {
        const { rows, miss } = splitByLookup(step.lookup, rule, set, this.#host);
        for (const { value, parts } of rows) this.#translate(step.side, value, rule, parts);
        pushAll(this.#next, miss);
        return;
      }
      case 'masquerade':
      case 'redirect':
        for (const { part, address } of this.#host.ownAddresses(step.do, set)) {
          if (address === null) continue;
          const side = step.do === 'masquerade' ? 'source' : 'destination';
          const target = { addresses: { first: address, last: address }, ports: step.ports };
          this.#translate(side, target, rule, [part]);
        }
        return;
    }
  }

  #answers(set: PacketSet, question: Question, options: number): ReturnType<typeof answersTo> {
    if (this.#host.keepsAnswers ?? true) return answersTo(set.given, question, options);
    return Array.from({ length: options }, (_, answer) => ({ answer, given: set.given }));
  }

  /** An action that is not modelled may do any of four things. */
  #unmodelled(doubt: Doubt, rule: Rule, set: PacketSet, after: PacketSet[]): void {
    const question = actionQuestion(this.#host.stop, rule, doubt);
    const ends = actionEnds(this.#host.chainType);
    for (const { answer, given } of this.#answers(set, question, ends.length)) {
      const part = { ...set, given };
      switch (ends[answer]) {
        case 'continue':
          after.push(part);
          break;
        case 'next-rule':
          this.#next.push(part);
          break;
        case 'accept':
          this.#end.accepted.push(part);
          break;
        case 'open':
          this.#end.open.push(part);
          break;
        default:
          break;
      }
    }
  }

  #translate(
    side: 'source' | 'destination',
    target: TranslationTarget,
    rule: Rule,
    sets: readonly PacketSet[],
  ): void {
    this.#hit(rule, sets);
    for (const set of sets) {
      const { parts, open } = translateSet(set, { side, target, stop: this.#host.stop, rule });
      for (const part of parts) this.#end.accepted.push(withTrail(part, this.#host.stop, rule));
      pushAll(this.#end.open, open);
    }
  }

  #conclude(verdict: Verdict, rule: Rule, sets: readonly PacketSet[], after: PacketSet[]): void {
    this.#hit(rule, sets);
    switch (verdict.verdict) {
      case 'accept':
        for (const set of sets) this.#end.accepted.push(withTrail(set, this.#host.stop, rule));
        return;
      case 'drop':
      case 'reject':
        return;
      case 'return':
        pushAll(this.#end.through, sets);
        return;
      case 'continue':
        pushAll(after, sets);
        return;
      case 'jump':
      case 'goto':
        this.#jump(verdict.chain, verdict.verdict, rule, sets);
    }
  }

  #jump(chain: Chain, kind: 'jump' | 'goto', rule: Rule, sets: readonly PacketSet[]): void {
    if (this.#depth >= MAX_DEPTH) {
      const question = circleQuestion(this.#host.stop, this.#chain, rule);
      for (const set of sets) {
        for (const { answer, given } of this.#answers(set, question, 2))
          if (answer === 0) this.#end.accepted.push({ ...set, given });
      }
      return;
    }
    const inner = runChainOnSets(chain, sets, this.#host, this.#depth + 1);
    pushAll(this.#end.accepted, inner.accepted);
    pushAll(this.#end.open, inner.open);
    pushAll(kind === 'jump' ? this.#next : this.#end.through, inner.through);
  }

  #hit(rule: Rule, sets: readonly PacketSet[]): void {
    if (sets.length > 0) this.#host.onHit?.(rule);
  }
}

/** Sets that differ in nothing but the doubts behind them are one. */
function distinct(sets: PacketSet[]): PacketSet[] {
  const byBox = new Map<PacketSet['box'], PacketSet[]>();
  return sets.filter((set) => {
    const alike = byBox.get(set.box);
    if (!alike) byBox.set(set.box, [set]);
    else if (alike.some((other) => sameState(set, other))) return false;
    else alike.push(set);
    return true;
  });
}

const sameState = (a: PacketSet, b: PacketSet): boolean =>
  a.now === b.now && a.mark === b.mark && a.untracked === b.untracked && a.tracking === b.tracking;

/** The rules of a chain that a set can meet, in order. */
function rulesFor(chain: Chain, set: PacketSet): readonly Rule[] {
  const { dport } = set.now;
  const index = 'value' in dport ? chainIndex(chain) : null;
  if (!index || !('value' in dport)) return chain.rules;
  return index.forPort(Number(dport.value)).map((n) => chain.rules[n] as Rule);
}

/**
 * Whether one of the rule's conditions fails for the whole set. Looking at that first keeps a set in one
 * piece where the rule has nothing to do with it: pieces that all miss would only multiply.
 */
const missesWhole = (rule: Rule, set: PacketSet): boolean =>
  plainConditions(rule).some((c) => (c.on === 'header' ? headerMisses(c, set) : otherMisses(c, set)));

const headerMisses = (c: HeaderCondition, set: PacketSet): boolean =>
  (c.protocol !== null && c.protocol !== set.protocol) ||
  (c.family !== null && c.family !== set.family) ||
  !touches(set, set.now[c.header], conditionSide(c, set.family));

function otherMisses({ field, step }: OtherCondition, set: PacketSet): boolean {
  const reading = readField(field, set);
  if (reading === null) return true;
  if (typeof reading === 'object') return false;
  return step.rows.some((row) => row[0] !== undefined && inValues(row[0], reading)) === step.negate;
}

/** For a rule that drops by one header alone, as far as this set goes: the values that it takes. */
function takenBy(rule: Rule, set: PacketSet): { side: SideIndex; values: Side } | null {
  const last = rule.steps[rule.steps.length - 1];
  if (last?.do !== 'verdict' || last.verdict.verdict !== 'drop' || !isPlainRule(rule)) return null;
  let found: { side: SideIndex; values: Side } | null = null;
  for (const condition of plainConditions(rule)) {
    if (condition.on === 'other') {
      if (typeof readField(condition.field, set) === 'object') return null;
      continue;
    }
    const mapped: Mapped = set.now[condition.header];
    if ('value' in mapped) continue;
    if (found) return null;
    const values = conditionSide(condition, set.family);
    found = { side: mapped.from, values: sentSide(set.family, mapped, values) };
  }
  return found;
}

/** Whether nothing but plain conditions on one field each stand before the rule's verdict. */
const isPlainRule = (rule: Rule): boolean =>
  rule.steps
    .slice(0, -1)
    .every((s) => s.do === 'note' || (s.do === 'match' && s.fields.length === 1 && !s.negate)) &&
  plainConditions(rule).length === rule.steps.filter((s) => s.do === 'match').length;

function takeAway(sets: PacketSet[], taken: TakenAway | null): PacketSet[] {
  const [set] = sets;
  if (!taken || !set) return sets;
  const line = sideLine(set.family, taken.side);
  const left = without(line, set.box[taken.side], join(line, ...taken.sides));
  return left.length === 0 ? [] : [withBoxSide(set, taken.side, left)];
}

function marked(
  set: PacketSet,
  step: { readonly on: MarkName; readonly from: MarkName; readonly keep: number; readonly flip: number },
): PacketSet {
  const from = step.from === 'mark' ? set.mark : (set.tracking?.session?.mark ?? 0);
  const to = ((from & step.keep) ^ step.flip) >>> 0;
  return step.on === 'mark' ? { ...set, mark: to } : withSession(set, { mark: to });
}

/** `push(...list)` would overflow the stack on long lists. */
function pushAll<T>(into: T[], list: readonly T[]): void {
  for (const item of list) into.push(item);
}
