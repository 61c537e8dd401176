import type { AskKind } from '../asks/index.ts';
import type { Address, Family } from '../net/index.ts';
import {
  runBaseChain,
  type Ask,
  type BaseChain,
  type ChainResult,
  type HeaderName,
  type Hook,
  type RejectKind,
  type Subject,
  type Need,
} from '../rules/index.ts';
import type { Machine, NetInterface } from '../site/index.ts';
import type { Cuts } from './cuts.ts';
import { flightOf, headerOf } from './flight.ts';
import { movingAt, type Moving } from './moving.ts';
import type { Passed } from './lookups.ts';
import type { Exit, Mover, Part, TranslationSide } from './mover.ts';
import { endpointOf, PacketHost } from './packetHost.ts';
import type { RouteAnswer } from './routing.ts';
import { SessionTables, track } from './sessions.ts';
import type { SocketAnswer } from './sockets.ts';
import { applyStage } from './translate.ts';
import { unknownRulesQuestion } from './unknownRules.ts';
import type { Ending, ErrorKind, Flight, Leg, LegEvent } from './types.ts';

/**
 * Machines that one packet may come into before it counts as going round in circles (the usual initial TTL).
 */
export const MOST_HOPS = 64;

/** What the stages of a machine mean for one packet. Where it ends is the follower's (`follow.ts`). */
export abstract class PacketMover implements Mover<Moving> {
  protected readonly legs: Leg[] = [];
  protected hops = 0;
  /** `hops` as the packet of the moment set out. */
  #hopsBefore = 0;
  #isCarried = false;
  protected readonly ask: Ask;
  readonly #explain: boolean;
  readonly #sessions = new SessionTables();

  constructor(ask: Ask, explain: boolean) {
    this.ask = ask;
    this.#explain = explain;
  }

  abstract delivered(machine: Machine, p: Moving, found: SocketAnswer): void;
  abstract concluded(machine: Machine | null, p: Moving): void;
  abstract lost(machine: Machine, p: Moving, ending: Ending): void;
  abstract rejected(machine: Machine, p: Moving, kind: RejectKind | ErrorKind, ending: Ending): void;
  abstract unreachable(machine: Machine, p: Moving, ending: Ending): void;
  abstract unknown(stop: string | null, p: Moving, need: Need, yields: AskKind): void;
  abstract gone(stop: string | null, p: Moving, outcome: 'lost' | 'open', ending: Ending): void;
  abstract home(p: Moving): Address | null;
  /** A rule of a hook ended it. */
  protected abstract filtered(
    machine: Machine,
    p: Moving,
    hook: Hook,
    ending: Ending,
    reject: RejectKind | null,
  ): void;

  isQuestion(p: Moving): boolean {
    return p.flight.form === 'question' || p.flight.form === 'further';
  }

  familyOf(p: Moving): Family {
    return p.subject.family;
  }

  enter(machine: Machine, device: NetInterface | null, { flight }: Moving): Moving | null {
    this.hops++;
    if (this.hops <= MOST_HOPS) return this.at(machine, flight, device?.name ?? null);
    this.rejected(machine, this.at(machine, flight, null), 'time-exceeded', { kind: 'loop' });
    return null;
  }

  /** A packet starts anew: none has taken a hop off it yet. */
  protected setsOut(): void {
    this.#hopsBefore = this.hops;
    this.#isCarried = false;
  }

  carried(p: Moving): Moving {
    this.#isCarried = true;
    return p;
  }

  #passed(hook: Hook, { leg }: Moving): Passed {
    return {
      form: leg.form === 'further' ? 'question' : leg.form,
      machines: this.hops - this.#hopsBefore,
      isCarried: this.#isCarried,
      isForwarded: hook === 'forward' || (hook === 'postrouting' && leg.in !== null),
    };
  }

  split<T>(
    p: Moving,
    _header: HeaderName,
    _cuts: Cuts,
    judge: (packet: Subject, ask: Ask) => T,
  ): readonly Part<Moving, T>[] {
    return [{ value: judge(p.subject, this.ask), part: p }];
  }

  chain(hook: Hook, machine: Machine, base: BaseChain, p: Moving): readonly Moving[] {
    const sessions = this.#sessions.of(machine.id);
    const host = new PacketHost(
      machine,
      hook,
      base.type,
      sessions,
      p.leg,
      this.#passed(hook, p),
      this.ask,
      this.#explain,
    );
    const result = runBaseChain(base, p.subject, host);
    this.note(p.leg, { event: 'chain', hook, chain: base.chain, result });
    p.translatedBy = host.translatedBy ?? p.translatedBy;
    if (result.verdict === 'accept') return [p];
    if (result.verdict === 'open') {
      this.unknown(machine.id, p, { need: 'target', stop: machine.id, rule: result.rule.text }, 'sessions');
      return [];
    }
    const reject = result.verdict === 'reject' ? result.kind : null;
    this.filtered(machine, p, hook, endingOf(hook, base, result, reject), reject);
    return [];
  }

  /**
   * The first machine without a rule set that the packet passed: it may have been translated there, so that
   * an end that it comes to unchanged is none that is known.
   */
  protected unknownPassed: Machine | null = null;

  /**
   * Without a rule set the packet may pass or end; a session that was let in is answered by every stateful
   * filter.
   */
  unknownRules(hook: Hook, machine: Machine, p: Moving): readonly Moving[] {
    const state = p.subject.tracking?.state;
    if (state === 'established' || state === 'related') return [p];
    if (this.ask(unknownRulesQuestion(machine, p.subject.family), 2) === 0) {
      this.unknownPassed ??= machine;
      return [p];
    }
    const need: Need = { need: 'rules', stop: machine.id, family: p.subject.family };
    const ending: Ending = { kind: 'not-known', need };
    this.filtered(machine, p, hook, ending, null);
    return [];
  }

  track(machine: Machine, p: Moving): Moving {
    if (!p.subject.untracked) p.subject.tracking ??= track(this.#sessions.of(machine.id), p.flight);
    return p;
  }

  isTranslated({ subject: { tracking } }: Moving, side: TranslationSide): boolean {
    if (!tracking?.session || tracking.state !== 'new' || tracking.direction !== 'original') return false;
    return !(side === 'destination' ? tracking.session.destinationDone : tracking.session.sourceDone);
  }

  closeTranslation(p: Moving, side: TranslationSide): Moving {
    const session = p.subject.tracking?.session;
    if (session && side === 'destination') session.destinationDone = true;
    else if (session) session.sourceDone = true;
    return p;
  }

  rewrite(_machine: Machine, p: Moving, side: TranslationSide): Moving {
    const from = endpointOf(p.subject, side);
    applyStage(p.subject, side);
    const to = endpointOf(p.subject, side);
    if (from.address.bits !== to.address.bits || from.port !== to.port)
      this.note(p.leg, { event: 'translated', side, from, to, rule: p.translatedBy });
    p.translatedBy = null;
    return p;
  }

  noteRoute(_machine: Machine, { leg, subject }: Moving, answer: RouteAnswer): void {
    if (answer.is !== 'unicast') return;
    const { route, hop } = answer;
    this.note(leg, {
      event: 'routed',
      destination: subject.destination,
      route,
      via: hop.via,
      out: hop.device,
    });
  }

  towards(p: Moving, exit: Exit): Moving {
    p.subject.out = exit.out;
    p.subject.nextHop = exit.via ?? p.subject.destination;
    return p;
  }

  confirm(machine: Machine, { subject: { tracking } }: Moving): void {
    const session = tracking?.session;
    if (!session || session.confirmed || tracking.state === 'related') return;
    session.confirmed = true;
    this.#sessions.of(machine.id).push(session);
  }

  leave(_machine: Machine, p: Moving, exit: Exit): Moving {
    const flight = flightOf(p.flight, p.subject);
    p.leg.out = exit.out;
    p.leg.after = headerOf(flight);
    return { ...p, flight };
  }

  isForwarded({ subject }: Moving): boolean {
    return subject.tracking?.session?.destinationTranslated === true;
  }

  atCarrier(carrier: Machine, { flight }: Moving): Moving {
    return this.at(carrier, flight, null);
  }

  /** What travels, at a machine that it comes into or starts from. */
  protected at(machine: Machine, flight: Flight, device: string | null): Moving {
    const p = movingAt(machine.id, flight, device);
    if (this.#explain) this.legs.push(p.leg);
    return p;
  }

  protected note(leg: Leg, event: LegEvent): void {
    if (this.#explain) leg.events.push(event);
  }
}

function endingOf(
  hook: Hook,
  { chain }: BaseChain,
  { rule }: ChainResult,
  reject: RejectKind | null,
): Ending {
  return rule ? { kind: 'rule', hook, chain, rule, reject } : { kind: 'policy', hook, chain };
}
