import type { AskKind } from '../asks/index.ts';
import { addressKind, sameAddress } from '../net/index.ts';
import type { Ask, Need, Tracking } from '../rules/index.ts';
import type { Machine, Site } from '../site/index.ts';
import { bareWay } from './bareSender.ts';
import { destinationOf, headerOf } from './flight.ts';
import { throughHook } from './hook.ts';
import { movingAt, type Moving } from './moving.ts';
import { PacketMover } from './packetMover.ts';
import { routed } from './routed.ts';
import type { Ending, Flight, Leg, Run } from './types.ts';
import { Walk } from './walk.ts';

/** Where packets start: at a sender, at a machine that answers or refuses, or somewhere on the internet. */
export abstract class Departing extends PacketMover {
  protected readonly site: Site;
  protected readonly walk: Walk<Moving>;

  constructor(site: Site, ask: Ask, explain: boolean) {
    super(ask, explain);
    this.site = site;
    this.walk = new Walk(site, this);
  }

  protected abstract open(stop: string | null, leg: Leg | null, need: Need, yields: AskKind): void;
  protected abstract end(
    outcome: Run['outcome'],
    stop: string | null,
    direction: Run['direction'],
    ending: Ending,
    leg: Leg | null,
  ): void;

  /**
   * A sender that no stop of the case is: somewhere on the internet, or on a network that a stop has an
   * interface in.
   */
  protected fromNowhere(flight: Flight): void {
    this.setsOut();
    const { source } = headerOf(flight);
    if (addressKind(source.address).reachable && this.site.internet !== null)
      this.walk.transit(movingAt(this.site.internet, flight, null));
    else this.open(null, null, { need: 'sender', endpoint: source }, 'addresses');
  }

  #fromBare(machine: Machine, flight: Flight): void {
    const p = this.at(machine, flight, null);
    const way = bareWay(this.site, machine, destinationOf(flight));
    if (way.is === 'unknown') this.unknown(machine.id, p, way.need, way.yields);
    else if (way.is === 'internet') this.walk.transit(p);
    else {
      p.leg.out = 'net';
      this.walk.arrive(way.machine, way.interface, p);
    }
  }

  /**
   * A packet that a machine makes itself: its own first packet, an answer, or a refusal (`tracking` is the
   * session it belongs to).
   */
  protected send(machine: Machine, flight: Flight, tracking: Tracking | null): void {
    this.setsOut();
    if (machine.presumed.kind === 'bare') {
      this.#fromBare(machine, flight);
      return;
    }
    const p = this.at(machine, flight, null);
    const { subject } = p;
    subject.tracking = tracking;
    const before = this.#routeOwn(machine, p);
    if (!before) return;
    const { mark, destination } = subject;
    if (throughHook('output', machine, p, this).length === 0) return;
    const isChanged = subject.mark !== mark || !sameAddress(subject.destination, destination);
    const way = isChanged ? this.#routeOwn(machine, p) : before;
    if (!way) return;
    if (way.local) this.unknown(machine.id, p, { need: 'to-itself', stop: machine.id }, 'sockets');
    else this.walk.leave(machine, p, way.exit);
  }

  /** The way of a machine's own packet; null where it has none, which is then dealt with. */
  #routeOwn(machine: Machine, p: Moving) {
    const way = routed(this, machine, p, 'lo')[0]?.value;
    if (!way) return null;
    if ('end' in way) {
      this.#atSender(machine, p, way.end);
      return null;
    }
    if (way.local) {
      p.subject.out = 'lo';
      p.subject.nextHop = p.subject.destination;
    } else this.towards(p, way.exit);
    return way;
  }

  /** The sender's own stack has no way out: a client is told at once, an answer is simply not sent. */
  #atSender(machine: Machine, p: Moving, ending: Ending): void {
    if (ending.kind === 'not-known') this.unknown(machine.id, p, ending.need, 'routes');
    else if (this.isQuestion(p)) this.end('refused', machine.id, 'forward', ending, p.leg);
    else this.lost(machine, p, ending);
  }
}
