import type { AskKind } from '../asks/index.ts';
import { reversed, sameHeader, type Address, type Header } from '../net/index.ts';
import { openKey, type Ask, type Hook, type Need, type RejectKind, type Tracking } from '../rules/index.ts';
import type { Machine, Site } from '../site/index.ts';
import { holds } from './bareSender.ts';
import { Departing } from './departing.ts';
import { errorSource } from './errorSource.ts';
import { flightOf, headerOf, laneOf } from './flight.ts';
import type { Moving } from './moving.ts';
import { MOST_HOPS } from './packetMover.ts';
import type { SocketAnswer } from './sockets.ts';
import type { Ending, ErrorKind, Flight, Leg, Run } from './types.ts';

/**
 * Follows one new connection (TCP) or first datagram (UDP) and what comes back, under the given answers to
 * open questions. A TCP connection counts as answered once the segment that follows the answer has come
 * through as well: rules that let nothing but new connections in keep it from being of any use.
 */
export function follow(site: Site, packet: Header, ask: Ask, explain: boolean): Run {
  return new Follower(site, packet, ask, explain).run();
}

/** Why a refusal that is on its way back was born, and where. */
interface Refusal {
  readonly stop: string;
  readonly ending: Ending;
}

class Follower extends Departing {
  readonly #sent: Header;
  readonly #client: Machine | null;
  #seen: Run['seen'] = null;
  #reached: Run['reached'] = null;
  #refusal: Refusal | null = null;
  #run: Run | null = null;

  constructor(site: Site, packet: Header, ask: Ask, explain: boolean) {
    super(site, ask, explain);
    this.#sent = packet;
    const holders = site.machines.filter((m) => holds(m, packet.source.address));
    this.#client = holders.find((m) => m.role === 'client') ?? holders[0] ?? null;
  }

  run(): Run {
    const flight: Flight = { form: 'question', header: this.#sent };
    if (this.#client) this.send(this.#client, flight, null);
    else this.fromNowhere(flight);
    if (!this.#run) throw new Error('a packet has to end somewhere');
    return this.#run;
  }

  home(p: Moving): Address | null {
    return this.isQuestion(p) ? null : this.#sent.source.address;
  }

  // Where packets end

  delivered(machine: Machine, p: Moving, found: SocketAnswer): void {
    const header = headerOf(flightOf(p.flight, p.subject));
    if (p.flight.form === 'further') {
      this.#answered(p.leg);
      return;
    }
    switch (found.is) {
      case 'unknown':
        this.unknown(machine.id, p, found.need, 'sockets');
        return;
      case 'open':
        this.note(p.leg, { event: 'delivered', socket: found.socket });
        this.#seen = { source: header.source, destination: header.destination };
        this.#reached = { stop: machine.id, socket: found.socket };
        this.send(machine, { form: 'answer', header: reversed(header) }, null);
        return;
      case 'closed': {
        const { near, source } = found;
        const ending: Ending = { kind: 'closed-port', endpoint: header.destination, near, source };
        this.note(p.leg, { event: 'ended', ending });
        this.#refusal = { stop: machine.id, ending };
        if (header.transport === 'tcp') this.send(machine, { form: 'reset', header: reversed(header) }, null);
        else this.#sendError(machine, p, 'port-unreachable', ending);
      }
    }
  }

  /** Something came back to a machine: is it what the client waits for? */
  concluded(machine: Machine | null, p: Moving): void {
    const flight = flightOf(p.flight, p.subject);
    const atClient = machine === null || machine === this.#client;
    const expected = flight.form === 'error' ? this.#sent : reversed(this.#sent);
    const got = flight.form === 'error' ? flight.quote : flight.header;
    const refusal = this.#refusal;
    if (atClient && sameHeader(expected, got)) {
      if (flight.form === 'answer' && this.#reached) {
        if (this.#sent.transport === 'tcp') this.#goOn(p.leg);
        else this.#answered(p.leg);
      } else if (refusal) this.end('refused', refusal.stop, 'forward', refusal.ending, p.leg);
    } else if (refusal && refusal.ending.kind !== 'closed-port')
      this.end('lost', refusal.stop, 'forward', refusal.ending, p.leg);
    else {
      const stop = machine?.id ?? this.#client?.id ?? null;
      this.end('lost', stop, 'reply', { kind: 'not-expected', expected, got }, p.leg);
    }
  }

  #answered(leg: Leg): void {
    const { stop = null, socket = null } = this.#reached ?? {};
    this.end('answered', stop, 'reply', { kind: 'listener', socket }, leg);
  }

  /**
   * The answer has opened the connection: the next segment goes the way of the first one. Where it comes
   * through as well, what is told is the way of the first one.
   */
  #goOn(leg: Leg): void {
    const opened = this.legs.splice(0);
    this.hops = 0;
    const flight: Flight = { form: 'further', header: this.#sent };
    if (this.#client) this.send(this.#client, flight, null);
    else this.fromNowhere(flight);
    if (this.#run?.outcome !== 'answered') return;
    this.legs.splice(0, this.legs.length, ...opened);
    this.#answered(leg);
  }

  protected filtered(
    machine: Machine,
    p: Moving,
    hook: Hook,
    ending: Ending,
    reject: RejectKind | null,
  ): void {
    const isFurther = p.flight.form === 'further' && (ending.kind === 'rule' || ending.kind === 'policy');
    const why: Ending = isFurther ? { ...ending, further: true } : ending;
    if (reject === null) this.lost(machine, p, why);
    else if (hook !== 'output') this.rejected(machine, p, reject, why);
    else if (this.isQuestion(p)) this.end('refused', machine.id, 'forward', why, p.leg);
    else this.lost(machine, p, why);
  }

  /**
   * Nobody answers for the next hop: after about three seconds the machine tells the sender (RFC 1812
   * §5.2.7.1).
   */
  unreachable(machine: Machine, p: Moving, ending: Ending): void {
    const isOwn = this.isQuestion(p) && p.leg.in === null && machine === this.#client;
    if (isOwn) this.end('refused', machine.id, 'forward', ending, p.leg);
    else this.rejected(machine, p, 'host-unreachable', ending);
  }

  /**
   * Says no: only the first packet's sender listens for it, and never in answer to an error (RFC 1122
   * §3.2.2).
   */
  rejected(machine: Machine, p: Moving, kind: RejectKind | ErrorKind, ending: Ending): void {
    if (!this.isQuestion(p)) {
      this.lost(machine, p, ending);
      return;
    }
    this.note(p.leg, { event: 'ended', ending });
    this.#refusal = { stop: machine.id, ending };
    const own = headerOf(flightOf(p.flight, p.subject));
    const other = kind === 'by-transport' ? 'port-unreachable' : kind;
    if (other === 'tcp-reset' || (kind === 'by-transport' && own.transport === 'tcp'))
      this.send(machine, { form: 'reset', header: reversed(own) }, bornOf(p.subject, 'established'));
    // A connection that stands is not ended by what routers say of it (RFC 5461 §2.2).
    else if (p.flight.form === 'further') this.lost(machine, p, ending);
    else this.#sendError(machine, p, other, ending);
  }

  #sendError(machine: Machine, p: Moving, kind: ErrorKind, ending: Ending): void {
    this.hops = Math.min(this.hops, MOST_HOPS / 2);
    const quote = headerOf(flightOf(p.flight, p.subject));
    const source = errorSource(machine, p.subject, this.ask);
    if (!source) {
      this.lost(machine, p, ending);
      return;
    }
    const flight: Flight = { form: 'error', kind, source, destination: p.subject.source, quote };
    this.send(machine, flight, bornOf(p.subject, 'related'));
  }

  /**
   * A refusal by a rule that is lost on its way leaves silence, and the rule is the reason. The reset of a
   * closed port is an answer like any other: what lost it is the reason.
   */
  lost(machine: Machine, { flight, leg }: Moving, ending: Ending): void {
    const isRefusal = flight.form === 'reset' || flight.form === 'error';
    const refusal = this.#refusal;
    if (isRefusal && refusal && refusal.ending.kind !== 'closed-port') {
      this.note(leg, { event: 'ended', ending });
      this.end('lost', refusal.stop, 'forward', refusal.ending, null);
    } else this.end('lost', machine.id, laneOf(flight), ending, leg);
  }

  unknown(stop: string | null, { leg }: Moving, need: Need, yields: AskKind): void {
    this.open(stop, leg, need, yields);
  }

  protected open(stop: string | null, leg: Leg | null, need: Need, yields: AskKind): void {
    this.ask({ key: openKey(need), need, settle: stop ? { stop, yields } : null }, 1);
    this.end('open', stop, 'forward', { kind: 'not-known', need }, leg);
  }

  gone(stop: string | null, { flight, leg }: Moving, outcome: 'lost' | 'open', ending: Ending): void {
    this.end(outcome, stop, laneOf(flight), ending, leg);
  }

  protected end(
    outcome: Run['outcome'],
    stop: string | null,
    direction: Run['direction'],
    ending: Ending,
    leg: Leg | null,
  ): void {
    if (outcome !== 'answered' && leg) this.note(leg, { event: 'ended', ending });
    const perhaps = outcome === 'lost' || outcome === 'refused' ? this.unknownPassed : null;
    if (perhaps && ending.kind !== 'not-known') {
      const need: Need = { need: 'rules', stop: perhaps.id, family: this.#sent.destination.address.family };
      const open: Ending = { kind: 'not-known', need };
      this.#tell('open', perhaps.id, direction, open);
      return;
    }
    this.#tell(outcome, stop, direction, ending);
  }

  #tell(outcome: Run['outcome'], stop: Run['stop'], direction: Run['direction'], ending: Ending): void {
    const seen = outcome === 'open' ? null : this.#seen;
    this.#run = { outcome, stop, direction, seen, ending, reached: this.#reached, legs: this.legs };
  }
}

/** The session that a refusal belongs to, seen from the way back. */
function bornOf({ tracking }: Moving['subject'], state: 'related' | 'established'): Tracking | null {
  if (!tracking?.session) return null;
  const direction = tracking.direction === 'original' ? 'reply' : 'original';
  return { state, direction, session: tracking.session };
}
