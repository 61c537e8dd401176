import { sameHeader, type Endpoint } from '../net/index.ts';
import {
  rangeQuestion,
  type Ask,
  type BaseChain,
  type Hook,
  type LookupField,
  type Missing,
  type Recorder,
  type Rule,
  type RuleHost,
  type Session,
  type Skipped,
  type Subject,
  type TranslationEnd,
  type TranslationTarget,
  type Visit,
} from '../rules/index.ts';
import type { Machine } from '../site/index.ts';
import {
  hopsLeft,
  loopbackAddress,
  masqueradeAddress,
  redirectAddress,
  routeValue,
  type Passed,
} from './lookups.ts';
import type { TranslationSide } from './mover.ts';
import { bind, chooseTarget } from './translate.ts';
import type { Leg } from './types.ts';

/** What one machine does for its rules while one packet runs through a hook. */
export class PacketHost implements RuleHost {
  readonly stop: string;
  readonly ask: Ask;
  readonly record: Recorder | null;
  readonly chainType: BaseChain['type'];
  /** The rule that translated the packet; null where none has. */
  translatedBy: Rule | null = null;
  readonly #machine: Machine;
  readonly #sessions: readonly Session[];
  readonly #hook: Hook;
  readonly #passed: Passed;

  constructor(
    machine: Machine,
    hook: Hook,
    type: BaseChain['type'],
    sessions: readonly Session[],
    leg: Leg,
    passed: Passed,
    ask: Ask,
    explain: boolean,
  ) {
    this.stop = machine.id;
    this.chainType = type;
    this.#sessions = sessions;
    this.ask = ask;
    this.#machine = machine;
    this.#hook = hook;
    this.#passed = passed;
    this.record = explain ? new LegRecorder(hook, leg) : null;
  }

  lookUp(field: LookupField, subject: Subject): number | Missing {
    return field.of === 'hops-left'
      ? hopsLeft(this.#passed, this.ask)
      : routeValue(this.#machine, field, subject, this.ask);
  }

  translate(subject: Subject, side: TranslationSide, target: TranslationTarget, rule: Rule): TranslationEnd {
    const session = subject.tracking?.session;
    if (!session) return 'done';
    const original = session.original[side];
    const question = rangeQuestion(this.stop, rule);
    const to = chooseTarget(endpointOf(subject, side), original, target, question, this.ask);
    if (to === null) return 'open';
    if (to.address.family === subject.family)
      bind(session, side, side === 'source' ? this.#freePort(session, to) : to);
    this.translatedBy = rule;
    return 'done';
  }

  /**
   * A source that would give two sessions one answer gets another port (nf_nat_used_tuple); which one, nobody
   * can foretell.
   */
  #freePort(session: Session, to: Endpoint): Endpoint {
    const answer = { ...session.reply, destination: to };
    const isTaken = this.#sessions.some((s) => s !== session && sameHeader(s.reply, answer));
    return isTaken ? this.#freePort(session, { ...to, port: nextPort(to.port) }) : to;
  }

  masquerade(subject: Subject, ports: TranslationTarget['ports'], rule: Rule): TranslationEnd {
    if (!subject.tracking?.session) return 'done';
    const own = masqueradeAddress(this.#machine, subject);
    return own
      ? this.translate(subject, 'source', { addresses: { first: own, last: own }, ports }, rule)
      : 'drop';
  }

  redirect(subject: Subject, ports: TranslationTarget['ports'], rule: Rule): TranslationEnd {
    if (!subject.tracking?.session) return 'done';
    const own =
      this.#hook === 'output'
        ? loopbackAddress(subject.family)
        : redirectAddress(this.#machine, subject.in, subject.family);
    return own
      ? this.translate(subject, 'destination', { addresses: { first: own, last: own }, ports }, rule)
      : 'drop';
  }
}

const nextPort = (port: number): number => (port >= 65535 ? 1024 : port + 1);

export const endpointOf = (s: Subject, side: TranslationSide): Endpoint =>
  side === 'source'
    ? { address: s.source, port: s.sport ?? 0 }
    : { address: s.destination, port: s.dport ?? 0 };

class LegRecorder implements Recorder {
  readonly #hook: Hook;
  readonly #leg: Leg;

  constructor(hook: Hook, leg: Leg) {
    this.#hook = hook;
    this.#leg = leg;
  }

  visited(visit: Visit): void {
    this.#leg.events.push({ event: 'rule', hook: this.#hook, visit });
  }

  skipped(rules: Skipped): void {
    this.#leg.events.push({ event: 'rules-skipped', hook: this.#hook, rules });
  }
}
