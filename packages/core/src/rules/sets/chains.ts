import { rulesFor } from './rulesFor.ts';
import type { Doubt } from '../needs.ts';
import type { Address } from '../../net/index.ts';
import { isDoubt, isIdleDoubt } from '../conditions.ts';
import { actionQuestion, circleQuestion, doubtQuestion, overTimeQuestion } from '../doubts.ts';
import { Effort } from '../effort.ts';
import { actionEnds, MAX_DEPTH } from '../evaluate.ts';
import type { Question } from '../ask.ts';
import { answersTo } from '../given.ts';
import type { BaseChain, Chain, Rule, Step, TranslationTarget, Verdict } from '../program.ts';
import { withTrail, type PacketSet } from './packetSet.ts';
import { splitByLookup, splitByMatch, type Lookups } from './split.ts';
import { translateSet } from './translate.ts';
import { distinct, marked, missesWhole, pushAll, takeAway, type TakenAway, takenBy } from './takenAway.ts';

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
