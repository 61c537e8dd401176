import type { Subject } from '../rules/index.ts';
import { type Machine, type NetInterface, type Site, type Socket } from '../site/index.ts';
import { NO_CUTS, siteCuts, socketAddressCuts, socketPortCuts } from './cuts.ts';
import { isForwarding } from './forwarding.ts';
import { throughHook } from './hook.ts';
import type { Exit, Mover } from './mover.ts';
import { notMartian, routed, sourceChecked } from './routed.ts';
import { findSocket, socketsOn } from './sockets.ts';
import { holderOf } from './transit.ts';
import type { Ending } from './types.ts';
import { refusalOf } from './ways.ts';
import { wireEnd } from './wire.ts';

/**
 * A packet's way through the machines of a site, in the kernel's order: prerouting, martian check, route,
 * source check, input or (forwarding) forward, postrouting, the wire. Written once, for one packet and for
 * all packets at once (`mover.ts`).
 */
export class Walk<P> {
  readonly #site: Site;
  readonly #mover: Mover<P>;

  constructor(site: Site, mover: Mover<P>) {
    this.#site = site;
    this.#mover = mover;
  }

  /** Comes in by an interface. */
  arrive(machine: Machine, device: NetInterface, p: P): void {
    const entered = this.#mover.enter(machine, device, p);
    if (entered === null) return;
    if (machine.presumed.kind === 'bare') {
      this.#deliver(machine, entered);
      return;
    }
    for (const seen of throughHook('prerouting', machine, entered, this.#mover))
      for (const sound of notMartian(this.#mover, machine, device, seen))
        this.#routed(machine, device, sound);
  }

  #routed(machine: Machine, device: NetInterface, p: P): void {
    for (const { value: way, part } of routed(this.#mover, machine, p, device.name)) {
      if ('end' in way) this.#unroutable(machine, part, way.end);
      else
        for (const sound of sourceChecked(this.#mover, machine, device, part)) {
          if (way.local) this.#input(machine, sound);
          else this.#forward(machine, sound, way.exit);
        }
    }
  }

  #input(machine: Machine, p: P): void {
    for (const passed of throughHook('input', machine, p, this.#mover)) {
      this.#mover.confirm(machine, passed);
      this.#deliver(machine, passed);
    }
  }

  #forward(machine: Machine, p: P, exit: Exit): void {
    for (const { value: forwarding, part } of this.#forwarding(machine, p)) {
      if (!forwarding.on) {
        for (const same of this.#unchanged(machine, part))
          this.#mover.lost(machine, same, { kind: 'forwarding-off', source: forwarding.source });
        continue;
      }
      for (const passed of throughHook('forward', machine, this.#mover.towards(part, exit), this.#mover))
        this.leave(machine, passed, exit);
    }
  }

  /** What a machine without a rule set may have dropped or translated before it looked for a way. */
  #unchanged(machine: Machine, p: P): readonly P[] {
    const isOpen = machine.program[this.#mover.familyOf(p)] === null;
    return isOpen ? this.#mover.unknownRules('prerouting', machine, p) : [p];
  }

  #forwarding(machine: Machine, p: P) {
    return this.#mover.split(
      p,
      'destination',
      NO_CUTS,
      (packet, ask) => isForwarding(machine, packet.family, ask),
      ({ on }) => String(on),
    );
  }

  /** Leaves a machine by an interface. */
  leave(machine: Machine, p: P, exit: Exit): void {
    for (const passed of throughHook('postrouting', machine, p, this.#mover)) {
      this.#mover.confirm(machine, passed);
      this.#wire(machine, this.#mover.leave(machine, passed, exit), exit);
    }
  }

  #wire(machine: Machine, p: P, exit: Exit): void {
    const how = { isQuestion: this.#mover.isQuestion(p), isForwarded: this.#mover.isForwarded(p) };
    const ends = this.#mover.split(
      p,
      'destination',
      exit.via ? NO_CUTS : siteCuts(this.#site),
      (packet) =>
        wireEnd(this.#site, machine, exit, exit.via ?? packet.destination, {
          ...how,
          destination: packet.destination,
        }),
      (end) => (end.to === 'machine' ? `${end.machine.id}/${end.interface.name}` : end.to),
    );
    for (const { value: end, part } of ends) {
      switch (end.to) {
        case 'machine':
          this.arrive(end.machine, end.interface, part);
          break;
        case 'internet':
          this.transit(part, machine.role === 'client');
          break;
        case 'nobody':
          this.#mover.unreachable(machine, part, end.ending);
          break;
        case 'outside':
          this.#mover.gone(machine.id, part, 'open', end.ending);
          break;
        case 'unknown':
          this.#mover.unknown(machine.id, part, end.need, end.yields);
          break;
      }
    }
  }

  /**
   * The internet carries a packet to whoever holds a public address.
   * @param towards it comes from outside, so that the carrier's own filters for its customers see it
   */
  transit(p: P, towards = true): void {
    const carrier = towards ? this.#site.machines.find((m) => m.id === this.#site.internet) : undefined;
    const far = this.#mover.carried(p);
    const passed = carrier ? this.#towardsCustomer(carrier, this.#mover.atCarrier(carrier, far)) : [far];
    for (const part of passed) this.#handOver(part);
  }

  /** A carrier of which it is known what it keeps from its customers. */
  #towardsCustomer(carrier: Machine, p: P): readonly P[] {
    const known = carrier.interfaces === null && carrier.program[this.#mover.familyOf(p)] !== null;
    return known && this.#mover.isQuestion(p) ? throughHook('forward', carrier, p, this.#mover) : [p];
  }

  #handOver(p: P): void {
    const holders = this.#mover.split(
      p,
      'destination',
      siteCuts(this.#site),
      (packet) => holderOf(this.#site, packet.destination, this.#mover.home(p)),
      (h) => {
        if (h.is === 'machine') return `${h.machine.id}/${h.interface.name}`;
        return h.is === 'gone' ? h.ending.kind : h.is;
      },
    );
    for (const { value: holder, part } of holders) {
      switch (holder.is) {
        case 'machine':
          this.arrive(holder.machine, holder.interface, part);
          break;
        case 'home':
          this.#mover.concluded(null, part);
          break;
        case 'gone':
          this.#mover.gone(holder.stop, part, holder.outcome, holder.ending);
          break;
        case 'unknown':
          this.#mover.unknown(holder.stop, part, holder.need, holder.yields);
          break;
      }
    }
  }

  #deliver(machine: Machine, p: P): void {
    if (!this.#mover.isQuestion(p)) {
      this.#mover.concluded(machine, p);
      return;
    }
    const onPort = (packet: Subject): readonly Socket[] => socketsOn(machine, packet.dport);
    const byPort = this.#mover.split(p, 'dport', socketPortCuts(machine), onPort, portKey);
    for (const { part } of byPort) {
      const found = this.#mover.split(
        part,
        'destination',
        socketAddressCuts(machine),
        (packet, ask) => findSocket(machine, packet, ask),
        (answer) => (answer.is === 'open' && answer.socket ? socketKey(answer.socket) : answer.is),
      );
      for (const { value, part: piece } of found) this.#mover.delivered(machine, piece, value);
    }
  }

  #unroutable(machine: Machine, p: P, ending: Ending): void {
    if (ending.kind === 'not-known') {
      this.#mover.unknown(machine.id, p, ending.need, 'routes');
      return;
    }
    const unchanged = this.#unchanged(machine, p);
    for (const { value: forwarding, part } of unchanged.flatMap((same) => this.#forwarding(machine, same))) {
      // With forwarding off the packet is dropped before anybody is told (ip_error).
      if (!forwarding.on)
        this.#mover.lost(machine, part, { kind: 'forwarding-off', source: forwarding.source });
      else if (ending.kind === 'special-route' && ending.type === 'blackhole')
        this.#mover.lost(machine, part, ending);
      else this.#mover.rejected(machine, part, refusalOf(ending), ending);
    }
  }
}

const portKey = (sockets: readonly Socket[]): string =>
  sockets.length === 0 ? 'none' : String(sockets[0]?.port);
const socketKey = (s: Socket): string =>
  `${s.transport} ${s.address?.bits ?? '*'} ${s.port} ${s.device ?? ''}`;
