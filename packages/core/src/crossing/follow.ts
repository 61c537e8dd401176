import { addressKind, formatEndpoint, parseAddress, PROTOCOL, reversed, sameAddress, sameHeader, type Address, type Endpoint, type Header } from '../net/index.ts';
import type { Ask, RejectKind, Session, Subject } from '../rules/index.ts';
import type { Machine, NetInterface, Site } from '../site/index.ts';
import { runHook, type HookEnd, type Visit } from './hooks.ts';
import { onLink, onOneLink, resolve } from './links.ts';
import { checkSource } from './reversePath.ts';
import { lookUpRoute, type RouteAnswer } from './routing.ts';
import { SessionTables, track } from './sessions.ts';
import { findSocket } from './sockets.ts';
import type { Ending, ErrorKind, Flight, Leg, LegEvent, Run } from './types.ts';

/** Machines that one packet may pass before it counts as going round in circles (the usual initial TTL). */
const MOST_HOPS = 64;

/** Follows one new connection (TCP) or first datagram (UDP) and what comes back, under the given answers to open questions. */
export function follow(site: Site, packet: Header, ask: Ask, explain: boolean): Run {
  return new Follower(site, packet, ask, explain).run();
}

interface Exit {
  readonly out: string;
  readonly hop: Address;
  readonly viaDefault: boolean;
}

class Follower {
  readonly #site: Site;
  readonly #sent: Header;
  readonly #ask: Ask;
  readonly #explain: boolean;
  readonly #sessions = new SessionTables();
  readonly #legs: Leg[] = [];
  #client: Machine | null = null;
  #seen: Run['seen'] = null;
  #reached: Ending | null = null;
  #reachedAt: string | null = null;
  /** Where the refusal that is on its way back was born. */
  #refusedBy: { stop: string; ending: Ending } | null = null;
  #hops = 0;

  constructor(site: Site, packet: Header, ask: Ask, explain: boolean) {
    this.#site = site;
    this.#sent = packet;
    this.#ask = ask;
    this.#explain = explain;
  }

  run(): Run {
    const { address } = this.#sent.source;
    const holders = this.#site.machines.filter((m) => m.interfaces?.some((i) => i.addresses.some((a) => sameAddress(a.address, address))));
    this.#client = holders.find((m) => m.role === 'client') ?? holders[0] ?? null;
    const flight: Flight = { form: 'question', header: this.#sent };
    if (!this.#client) return this.#fromNowhere(flight);
    return this.#client.presumed.kind === 'bare' ? this.#fromBare(this.#client, flight) : this.#send(this.#client, flight, null);
  }

  // ---- where packets start -------------------------------------------------------------------------------------------

  /** A sender that no stop of the case is: somewhere on the internet, or on a network that a stop has a leg in. */
  #fromNowhere(flight: Flight): Run {
    const { address } = this.#sent.source;
    if (addressKind(address).reachable && this.#site.internet !== null) return this.#transit(flight, null);
    return this.#open(null, `which machine ${formatEndpoint(this.#sent.source)} is`, 'addresses', null);
  }

  /** A client of which only its address is known: it talks on-link where it can, else through the router of its network. */
  #fromBare(machine: Machine, flight: Flight): Run {
    const own = machine.interfaces![0]!;
    const leg = this.#leg(machine, flight, null);
    const to = destinationOf(flight);
    const neighbours = this.#site.machines.filter((m) => m !== machine && m.interfaces?.some((i) => onOneLink(own, i)));
    const onLink = neighbours.flatMap((m) => m.interfaces!.filter((i) => onOneLink(own, i)).map((i) => ({ m, i })));
    const direct = onLink.find(({ m }) => m.interfaces!.some((i) => i.addresses.some((a) => sameAddress(a.address, to))));
    if (direct) return this.#hand(leg, flight, direct.m, direct.i);
    const sameSubnet = onLink.some(({ i }) => i.addresses.some((a) => a.address.family === to.family && to.bits >> hostBits(a) === a.address.bits >> hostBits(a)));
    if (sameSubnet) return this.#open(machine.id, `which machine has ${formatAddressOf(to)} on the network of ${machine.id}`, 'neighbours', leg);
    const routers = onLink.filter(({ m }) => m.role === 'gateway' || m.role === 'carrier' || m.role === 'edge');
    if (routers.length === 1) return this.#hand(leg, flight, routers[0]!.m, routers[0]!.i);
    if (routers.length === 0 && this.#site.internet !== null) return this.#transit(flight, leg);
    return this.#open(machine.id, `the default gateway of ${machine.id}`, 'routes', leg);
  }

  /** A packet that a machine makes itself: its own first packet, an answer, or a refusal (`born` is the session it belongs to). */
  #send(machine: Machine, flight: Flight, born: Subject['tracking']): Run {
    if (machine.presumed.kind === 'bare') return this.#fromBare(machine, flight);
    const leg = this.#leg(machine, flight, null);
    const subject = subjectOf(flight, null);
    subject.tracking = born;
    const route = this.#route(machine, subject, 'lo', leg);
    if ('end' in route) return this.#atSender(machine, flight, leg, route.end);
    subject.out = route.local ? 'lo' : route.exit.out;
    subject.nextHop = route.local ? subject.destination : route.exit.hop;
    const markBefore = subject.mark;
    const destinationBefore = subject.destination;
    const output = this.#hook('output', machine, subject, flight, leg);
    if (!output.passes) return this.#filteredAtSender(machine, flight, leg, output);
    if (subject.mark !== markBefore || !sameAddress(subject.destination, destinationBefore)) {
      const again = this.#route(machine, subject, 'lo', leg);
      if ('end' in again) return this.#atSender(machine, flight, leg, again.end);
      if (again.local) return this.#open(machine.id, `what ${machine.id} does with a packet to itself`, 'sockets', leg);
      subject.out = again.exit.out;
      subject.nextHop = again.exit.hop;
      return this.#leave(machine, flight, subject, again.exit, leg);
    }
    if (route.local) return this.#open(machine.id, `what ${machine.id} does with a packet to itself`, 'sockets', leg);
    return this.#leave(machine, flight, subject, route.exit, leg);
  }

  /** The sender's own stack has no way out: a client is told at once, an answer is simply not sent. */
  #atSender(machine: Machine, flight: Flight, leg: Leg, ending: Ending): Run {
    if (ending.kind === 'not-known') return this.#open(machine.id, ending.what, 'routes', leg);
    if (flight.form === 'question') return this.#end('refused', machine.id, 'forward', ending, leg);
    return this.#lost(machine, flight, leg, ending);
  }

  #filteredAtSender(machine: Machine, flight: Flight, leg: Leg, end: Exclude<HookEnd, { passes: true }>): Run {
    if (flight.form === 'question' && end.reject) return this.#end('refused', machine.id, 'forward', end.ending, leg);
    return this.#lost(machine, flight, leg, end.ending);
  }

  // ---- through a machine ---------------------------------------------------------------------------------------------

  #arrive(machine: Machine, device: NetInterface, flight: Flight): Run {
    if (++this.#hops > MOST_HOPS) return this.#expired(machine, flight);
    const leg = this.#leg(machine, flight, device.name);
    if (machine.presumed.kind === 'bare') return this.#deliver(machine, flight, subjectOf(flight, device.name), leg);
    const subject = subjectOf(flight, device.name);
    const prerouting = this.#hook('prerouting', machine, subject, flight, leg);
    if (!prerouting.passes) return this.#filtered(machine, flight, subject, leg, prerouting);
    const martian = this.#martian(machine, subject, device);
    if (martian) return this.#lost(machine, flight, leg, martian);
    const route = this.#route(machine, subject, device.name, leg);
    if ('end' in route) return this.#unroutable(machine, flight, subject, leg, route.end);
    const rest = (): Run => {
      const check = checkSource(machine, subject, device.name, this.#ask);
      if (!check.passes) return this.#lost(machine, flight, leg, check.why === 'martian' ? { kind: 'martian', address: subject.source } : { kind: 'reverse-path', address: subject.source, interface: device.name, source: check.source });
      return route.local ? this.#input(machine, flight, subject, leg) : this.#forward(machine, flight, subject, route.exit, leg);
    };
    return rest();
  }

  /** Loopback addresses never come in from a wire (RFC 1122 §3.2.1.3), unless route_localnet says otherwise. */
  #martian(machine: Machine, subject: Subject, device: NetInterface): Ending | null {
    const loop = (a: Address): boolean => addressKind(a).kind === 'loopback';
    const bad = loop(subject.destination) ? subject.destination : loop(subject.source) ? subject.source : null;
    if (!bad || device.loopback) return null;
    const on = (key: string): boolean => machine.settings.get(`net.ipv4.conf.${key}.route_localnet`)?.value === '1';
    return subject.family === 4 && (on('all') || on(device.name)) ? null : { kind: 'martian', address: bad };
  }

  #input(machine: Machine, flight: Flight, subject: Subject, leg: Leg): Run {
    const input = this.#hook('input', machine, subject, flight, leg);
    if (!input.passes) return this.#filtered(machine, flight, subject, leg, input);
    this.#confirm(machine, subject);
    return this.#deliver(machine, flight, subject, leg);
  }

  #forward(machine: Machine, flight: Flight, subject: Subject, exit: Exit, leg: Leg): Run {
    const forwarding = this.#forwards(machine, subject.family);
    if (!forwarding.on) return this.#lost(machine, flight, leg, { kind: 'forwarding-off', source: forwarding.source });
    subject.out = exit.out;
    subject.nextHop = exit.hop;
    const forward = this.#hook('forward', machine, subject, flight, leg);
    if (!forward.passes) return this.#filtered(machine, flight, subject, leg, forward);
    return this.#leave(machine, flight, subject, exit, leg);
  }

  #forwards(machine: Machine, family: 4 | 6): { on: boolean; source: { file: string; line: number } | null } {
    const key = family === 4 ? 'net.ipv4.ip_forward' : 'net.ipv6.conf.all.forwarding';
    const setting = machine.settings.get(key);
    if (setting) return { on: setting.value !== '0', source: setting.source };
    const presumed = machine.presumed.forwarding;
    const on = presumed ?? this.#ask({ key: `${machine.id}/${key}`, needs: `whether ${machine.id} forwards (${key})`, settle: { stop: machine.id, yields: 'routes' } }, 2) === 0;
    return { on, source: null };
  }

  #leave(machine: Machine, flight: Flight, subject: Subject, exit: Exit, leg: Leg): Run {
    const postrouting = this.#hook('postrouting', machine, subject, flight, leg);
    if (!postrouting.passes) return this.#filtered(machine, flight, subject, leg, postrouting);
    this.#confirm(machine, subject);
    const next = flightOf(flight, subject);
    leg.out = exit.out;
    leg.after = headerOf(next);
    return this.#wire(machine, next, subject, exit, leg);
  }

  #wire(machine: Machine, flight: Flight, subject: Subject, exit: Exit, leg: Leg): Run {
    const device = machine.interfaces!.find((i) => i.name === exit.out);
    if (!device) return this.#open(machine.id, `the interface ${exit.out} of ${machine.id}`, 'addresses', leg);
    const receiver = resolve(this.#site, machine, device, exit.hop);
    if (receiver.who === 'machine' && (device.carrier !== false || device.noNeighbours)) return this.#arrive(receiver.machine, receiver.interface, flight);
    if (device.carrier === false) return this.#unreachable(machine, flight, subject, leg, { kind: 'link-down', interface: device, address: exit.hop });
    const farEnd = device.noNeighbours && !onLink(device, exit.hop) ? this.#farEnd(machine, device) : null;
    if (farEnd) return this.#arrive(farEnd.machine, farEnd.interface, flight);
    if (device.noNeighbours) return this.#end('open', machine.id, laneOf(flight), { kind: 'left-by-tunnel', interface: device.name, address: exit.hop }, leg);
    if (receiver.who === 'nobody') return this.#unreachable(machine, flight, subject, leg, { kind: 'nobody-there', address: exit.hop, interface: device.name, source: receiver.source });
    if (receiver.who === 'stranger' && flight.form === 'question' && this.#isForward(machine, subject)) return this.#end('open', machine.id, 'forward', { kind: 'astray', address: exit.hop, mac: receiver.mac, source: receiver.source }, leg);
    if (receiver.who === 'stranger') return this.#open(machine.id, `which machine has ${formatAddressOf(exit.hop)} (${receiver.mac}) on ${device.name} of ${machine.id}`, 'addresses', leg);
    if (this.#site.internet !== null && exit.viaDefault && machine.id !== this.#site.internet && facesInternet(machine, device)) return this.#transit(flight, null);
    if (flight.form === 'question' && this.#isForward(machine, subject)) return this.#end('open', machine.id, 'forward', { kind: 'astray', address: exit.hop, mac: null, source: null }, leg);
    return this.#open(machine.id, `who has ${formatAddressOf(exit.hop)} on ${device.name} of ${machine.id}`, 'neighbours', leg);
  }

  /** A tunnel has two ends: whatever goes in comes out at the other, where the case knows it. */
  #farEnd(machine: Machine, device: NetInterface): { machine: Machine; interface: NetInterface } | null {
    const ends = this.#site.machines.filter((m) => m !== machine).flatMap((m) => (m.interfaces ?? []).filter((i) => i.noNeighbours && i.adminUp && onOneLink(device, i)).map((i) => ({ machine: m, interface: i })));
    return ends.length === 1 ? ends[0]! : null;
  }

  /** The machine's own translation sent the packet there, and the server's addresses are known: it is nobody we wait for. */
  #isForward(machine: Machine, subject: Subject): boolean {
    return subject.tracking?.session?.destinationTranslated === true && this.#site.machines.some((m) => m !== machine && m.role === 'host' && m.interfaces !== null);
  }

  // ---- the world between ---------------------------------------------------------------------------------------------

  /** The internet carries a packet to whoever holds a public address; the carrier in between has no evidence of its own. */
  #transit(flight: Flight, from: Leg | null): Run {
    const to = destinationOf(flight);
    const stop = this.#site.internet;
    const carrier = this.#site.machines.find((m) => m.id === stop);
    const leg = carrier ? this.#leg(carrier, flight, null) : from;
    const blocked = carrier && leg ? this.#towardsCustomer(carrier, flight, leg) : null;
    if (blocked) return blocked;
    const front = this.#site.fronts?.find((f) => sameAddress(f.address, to));
    const perimeter = front && this.#site.machines.find((m) => m.id === front.machine);
    if (perimeter) return this.#arrive(perimeter, perimeter.interfaces!.find((i) => i.name === front.interface)!, flight);
    for (const machine of this.#site.machines) {
      for (const device of machine.interfaces ?? []) {
        if (!device.adminUp || device.carrier === false || !device.addresses.some((a) => sameAddress(a.address, to))) continue;
        if (!addressKind(to).reachable && machine.presumed.kind !== 'bare') continue;
        return this.#arrive(machine, device, flight);
      }
    }
    if (sameAddress(to, this.#sent.source.address)) return this.#home(flight, leg);
    const shared = this.#site.sharedAddresses.find((s) => sameAddress(s.address, to));
    if (shared) return this.#end('lost', shared.carrier, laneOf(flight), { kind: 'shared-address', address: to, gateway: shared.gateway, source: shared.source }, leg);
    if (!addressKind(to).reachable) return this.#end('lost', stop, laneOf(flight), { kind: 'not-routed', address: to }, leg);
    const unknown = this.#site.outsideUnknown;
    if (unknown && flight.form === 'question') return this.#open(unknown.stop, unknown.what, unknown.yields, leg);
    return this.#end('open', stop, laneOf(flight), { kind: 'elsewhere', address: to, from: null }, leg);
  }

  /** A carrier of which it is known what it keeps from its customers. */
  #towardsCustomer(carrier: Machine, flight: Flight, leg: Leg): Run | null {
    if (flight.form !== 'question' || carrier.interfaces !== null) return null;
    const subject = subjectOf(flight, null);
    if (carrier.program[subject.family] === null) return null;
    const end = this.#hook('forward', carrier, subject, flight, leg);
    return end.passes ? null : this.#lost(carrier, flight, leg, end.ending);
  }

  /** An answer comes back to a client that the case knows by its address alone. */
  #home(flight: Flight, leg: Leg | null): Run {
    return this.#conclude(flight, null, leg);
  }

  // ---- where packets end ---------------------------------------------------------------------------------------------

  #deliver(machine: Machine, flight: Flight, subject: Subject, leg: Leg): Run {
    if (flight.form !== 'question') return this.#conclude(flightOf(flight, subject), machine, leg);
    const header = headerOf(flightOf(flight, subject));
    const found = findSocket(machine, header, subject.in, this.#ask);
    if (found.is === 'unknown') return this.#open(machine.id, found.needs, 'sockets', leg);
    const endpoint = header.destination;
    if (found.is === 'open') {
      this.#note(leg, { event: 'delivered', socket: found.socket });
      this.#seen = { source: header.source, destination: endpoint };
      this.#reached = { kind: 'listener', socket: found.socket };
      this.#reachedAt = machine.id;
      return this.#send(machine, { form: 'answer', header: reversed(header) }, null);
    }
    const ending: Ending = { kind: 'closed-port', endpoint, near: found.near, source: found.source };
    this.#note(leg, { event: 'ended', ending });
    this.#refusedBy = { stop: machine.id, ending };
    if (header.transport === 'tcp') return this.#send(machine, { form: 'reset', header: reversed(header) }, null);
    return this.#sendError(machine, subject, flight, 'port-unreachable');
  }

  /** Something came back to a machine: is it what the client waits for? */
  #conclude(flight: Flight, machine: Machine | null, leg: Leg | null): Run {
    const atClient = machine === null || machine === this.#client;
    const expected = flight.form === 'error' ? this.#sent : reversed(this.#sent);
    const got = flight.form === 'error' ? flight.quote : flight.header;
    const stop = machine?.id ?? this.#client?.id ?? null;
    if (!atClient || !sameHeader(expected, got)) {
      const ending: Ending = { kind: 'not-expected', expected, got };
      if (this.#refusedBy && this.#refusedBy.ending.kind !== 'closed-port') return this.#end('lost', this.#refusedBy.stop, 'forward', this.#refusedBy.ending, leg);
      return this.#end('lost', stop, 'reply', ending, leg);
    }
    if (flight.form === 'answer') return this.#end('answered', this.#reachedAt, 'reply', this.#reached!, leg);
    return this.#end('refused', this.#refusedBy!.stop, 'forward', this.#refusedBy!.ending, leg);
  }

  #filtered(machine: Machine, flight: Flight, subject: Subject, leg: Leg, end: Exclude<HookEnd, { passes: true }>): Run {
    return end.reject ? this.#reject(machine, flight, subject, leg, end.reject, end.ending) : this.#lost(machine, flight, leg, end.ending);
  }

  #unroutable(machine: Machine, flight: Flight, subject: Subject, leg: Leg, ending: Ending): Run {
    if (ending.kind === 'not-known') return this.#open(machine.id, ending.what, 'routes', leg);
    const forwarding = this.#forwards(machine, subject.family);
    // With forwarding off the packet is dropped before anybody is told (ip_error).
    if (!forwarding.on) return this.#lost(machine, flight, leg, { kind: 'forwarding-off', source: forwarding.source });
    if (ending.kind === 'special-route' && ending.type === 'blackhole') return this.#lost(machine, flight, leg, ending);
    return this.#reject(machine, flight, subject, leg, ending.kind === 'special-route' && ending.type === 'prohibit' ? 'admin-prohibited' : ending.kind === 'special-route' ? 'host-unreachable' : 'net-unreachable', ending);
  }

  /** Nobody answers for the next hop: after about three seconds the machine tells the sender (RFC 1812 §5.2.7.1). */
  #unreachable(machine: Machine, flight: Flight, subject: Subject, leg: Leg, ending: Ending): Run {
    if (flight.form === 'question' && leg.in === null && machine === this.#client) return this.#end('refused', machine.id, 'forward', ending, leg);
    return this.#reject(machine, flight, subject, leg, 'host-unreachable', ending);
  }

  #expired(machine: Machine, flight: Flight): Run {
    const leg = this.#leg(machine, flight, null);
    return this.#reject(machine, flight, subjectOf(flight, null), leg, 'time-exceeded', { kind: 'loop' });
  }

  /** Says no: only the first packet's sender listens for it, and never in answer to an error (RFC 1122 §3.2.2). */
  #reject(machine: Machine, flight: Flight, subject: Subject, leg: Leg, kind: RejectKind | 'time-exceeded', ending: Ending): Run {
    if (flight.form !== 'question') return this.#lost(machine, flight, leg, ending);
    this.#note(leg, { event: 'ended', ending });
    this.#refusedBy = { stop: machine.id, ending };
    if (kind !== 'tcp-reset') return this.#sendError(machine, subject, flight, kind);
    const header = reversed(headerOf(flightOf(flight, subject)));
    return this.#send(machine, { form: 'reset', header }, born(subject, 'established'));
  }

  #sendError(machine: Machine, subject: Subject, flight: Flight, kind: ErrorKind): Run {
    this.#hops = Math.min(this.#hops, MOST_HOPS / 2);
    const quote = headerOf(flightOf(flight, subject));
    const own = this.#errorSource(machine, subject);
    if (!own) return this.#lost(machine, flight, this.#legs[this.#legs.length - 1] ?? this.#leg(machine, flight, null), this.#refusedBy!.ending);
    return this.#send(machine, { form: 'error', kind, source: own, destination: subject.source, quote }, born(subject, 'related'));
  }

  /** The asked address where it is the machine's own, else the one that the route back prefers (icmp_route_lookup). */
  #errorSource(machine: Machine, subject: Subject): Address | null {
    const own = machine.interfaces?.flatMap((i) => i.addresses.map((a) => ({ i, a }))) ?? [];
    if (own.some(({ a }) => sameAddress(a.address, subject.destination))) return subject.destination;
    const route = lookUpRoute(machine, { destination: subject.source, source: null, in: 'lo', mark: 0 }, this.#ask);
    if (route.is === 'unicast') {
      if (route.route.preferred) return route.route.preferred;
      const onDevice = own.filter(({ i, a }) => i.name === route.hop.device && a.address.family === subject.family && a.scope !== 'link' && !a.unusable);
      if (onDevice[0]) return onDevice[0].a.address;
    }
    return own.find(({ i, a }) => !i.loopback && a.address.family === subject.family && a.scope !== 'link')?.a.address ?? parseAddress(subject.family === 4 ? '0.0.0.0' : '::');
  }

  /**
   * A refusal by a rule that is lost on its way leaves silence, and the rule is the reason. The reset of a closed port is an
   * answer like any other: what lost it is the reason.
   */
  #lost(machine: Machine, flight: Flight, leg: Leg, ending: Ending): Run {
    if ((flight.form === 'reset' || flight.form === 'error') && this.#refusedBy!.ending.kind !== 'closed-port') {
      this.#note(leg, { event: 'ended', ending });
      return this.#end('lost', this.#refusedBy!.stop, 'forward', this.#refusedBy!.ending, null);
    }
    return this.#end('lost', machine.id, laneOf(flight), ending, leg);
  }

  #open(stop: string | null, what: string, yields: string, leg: Leg | null): Run {
    this.#ask({ key: `open/${what}`, needs: what, settle: stop ? { stop, yields } : null }, 1);
    return this.#end('open', stop, 'forward', { kind: 'not-known', what }, leg);
  }

  #end(outcome: Run['outcome'], stop: string | null, direction: Run['direction'], ending: Ending, leg: Leg | null): Run {
    if (outcome !== 'answered' && leg) this.#note(leg, { event: 'ended', ending });
    return { outcome, stop, direction, seen: this.#seen, ending, legs: this.#legs };
  }

  // ---- helpers -------------------------------------------------------------------------------------------------------

  #hand(leg: Leg, flight: Flight, machine: Machine, device: NetInterface): Run {
    leg.out = 'net';
    return this.#arrive(machine, device, flight);
  }

  #route(machine: Machine, subject: Subject, from: string, leg: Leg): { exit: Exit; local: false } | { local: true } | { end: Ending } {
    const found: RouteAnswer = lookUpRoute(machine, { destination: subject.destination, source: subject.source, in: from, mark: subject.mark, protocol: subject.protocol, sport: subject.sport, dport: subject.dport }, this.#ask);
    switch (found.is) {
      case 'local': return { local: true };
      case 'unicast': {
        const out = found.hop.device;
        const hop = found.hop.via ?? subject.destination;
        this.#note(leg, { event: 'routed', destination: subject.destination, route: found.route, via: found.hop.via, out });
        return out === null ? { end: { kind: 'not-known', what: `the interface of the route to ${formatAddressOf(subject.destination)} on ${machine.id}` } } : { local: false, exit: { out, hop, viaDefault: found.route.destination.length === 0 } };
      }
      case 'blackhole': case 'unreachable': case 'prohibit': return { end: { kind: 'special-route', type: found.is, by: found.by } };
      case 'none': return { end: { kind: 'no-route', destination: subject.destination } };
      case 'unknown': return { end: { kind: 'not-known', what: found.needs } };
      default: return { end: { kind: 'not-known', what: `what ${machine.id} does with a ${found.is} packet` } };
    }
  }

  #hook(hook: Parameters<typeof runHook>[0], machine: Machine, subject: Subject, flight: Flight, leg: Leg): HookEnd {
    const visit: Visit = {
      machine,
      subject,
      ask: this.#ask,
      track: () => {
        subject.tracking ??= track(this.#sessions.of(machine.id), flight);
      },
      note: this.#explain ? (event) => this.#note(leg, event) : null,
      hopsLeft: () => this.#hopsLeft(flight),
    };
    if (machine.program[subject.family] === null && FILTERING.has(hook)) return this.#unknownFilter(hook, machine, subject, visit);
    const end = runHook(hook, visit);
    if (flight.form === 'error') leg.after = leg.before;
    return end;
  }

  /** Systems start with 64, 128 or 255 (the RFC 1340 default and the two other common ones); which one is only asked where a rule looks. */
  #hopsLeft(flight: Flight): number {
    const initial = [64, 128, 255][this.#ask({ key: `hops/${flight.form}`, needs: 'the time to live that the sender starts with', settle: null }, 3)]!;
    return initial - Math.max(0, this.#hops - 1);
  }

  /** Without a rule set the packet may pass or end; a session that was let in is answered by every stateful filter. */
  #unknownFilter(hook: Parameters<typeof runHook>[0], machine: Machine, subject: Subject, visit: Visit): HookEnd {
    const end = runHook(hook, visit);
    if (subject.tracking?.state === 'established' || subject.tracking?.state === 'related') return end;
    const family = subject.family;
    const passes = this.#ask({ key: `${machine.id}/rules/${family}`, needs: `the firewall rules of ${machine.id} (IPv${family})`, settle: { stop: machine.id, yields: 'rules' } }, 2) === 0;
    return passes ? end : { passes: false, reject: null, ending: { kind: 'not-known', what: `the firewall rules of ${machine.id}` } };
  }

  #confirm(machine: Machine, subject: Subject): void {
    const session = subject.tracking?.session;
    if (!session || session.confirmed || subject.tracking!.state === 'related') return;
    session.confirmed = true;
    this.#sessions.of(machine.id).push(session);
  }

  #leg(machine: Machine, flight: Flight, device: string | null): Leg {
    const header = headerOf(flight);
    const leg: Leg = { stop: machine.id, lane: laneOf(flight), form: flight.form, in: device, out: null, before: header, after: header, events: [] };
    if (this.#explain) this.#legs.push(leg);
    return leg;
  }

  #note(leg: Leg, event: LegEvent): void {
    if (this.#explain) leg.events.push(event);
  }
}

/** Only a line with a public address of its own, or a plain router's outside, leads straight to the internet. */
const facesInternet = (machine: Machine, device: NetInterface): boolean => machine.presumed.kind === 'box' || device.addresses.some((a) => addressKind(a.address).reachable);

const FILTERING: ReadonlySet<string> = new Set(['input', 'forward', 'output']);

const laneOf = (flight: Flight): 'forward' | 'reply' => (flight.form === 'question' ? 'forward' : 'reply');

const hostBits = (a: { address: Address; prefixLength: number }): bigint => BigInt((a.address.family === 4 ? 32 : 128) - a.prefixLength);

const destinationOf = (flight: Flight): Address => (flight.form === 'error' ? flight.destination : flight.header.destination.address);

const formatAddressOf = (a: Address): string => formatEndpoint({ address: a, port: 0 }).replace(/:0$/, '').replace(/^\[|\]$/g, '');

/** Errors carry no ports; for the wires of the picture they show the addresses they travel between. */
function headerOf(flight: Flight): Header {
  if (flight.form !== 'error') return flight.header;
  return { transport: flight.quote.transport, source: { address: flight.source, port: 0 }, destination: { address: flight.destination, port: 0 } };
}

function born(subject: Subject, state: 'related' | 'established'): Subject['tracking'] {
  const session: Session | null = subject.tracking?.session ?? null;
  if (!session) return null;
  return { state, direction: subject.tracking!.direction === 'original' ? 'reply' : 'original', session };
}

const TCP_FLAGS = { question: 0x02, answer: 0x12, reset: 0x14 } as const;
const ICMP_TYPE = { 4: 3, 6: 1 } as const;
const ICMP_CODE: Readonly<Record<ErrorKind, readonly [number, number]>> = {
  'net-unreachable': [0, 0], 'host-unreachable': [1, 3], 'protocol-unreachable': [2, 4], 'port-unreachable': [3, 4], 'admin-prohibited': [13, 1], 'time-exceeded': [0, 0],
};

/** Written out field by field: this runs for every packet at every machine, and spreading an object costs a third of a trace. */
function subjectOf(flight: Flight, device: string | null): Subject {
  if (flight.form === 'error') {
    const { family } = flight.source;
    const type = flight.kind === 'time-exceeded' ? (family === 4 ? 11 : 3) : ICMP_TYPE[family];
    return {
      family, protocol: family === 4 ? PROTOCOL.icmp : PROTOCOL.icmpv6, source: flight.source, destination: flight.destination, sport: null, dport: null, icmp: { type, code: ICMP_CODE[flight.kind][family === 4 ? 0 : 1] }, tcpFlags: null,
      in: device, out: null, nextHop: null, mark: 0, tracking: null, untracked: false,
    };
  }
  const { source, destination, transport } = flight.header;
  const tcp = transport === 'tcp';
  return {
    family: source.address.family, protocol: tcp ? PROTOCOL.tcp : PROTOCOL.udp, source: source.address, destination: destination.address, sport: source.port, dport: destination.port, icmp: null, tcpFlags: tcp ? TCP_FLAGS[flight.form] : null,
    in: device, out: null, nextHop: null, mark: 0, tracking: null, untracked: false,
  };
}

/** The flight as the hooks left it. The quote of an error is translated with it (nf_nat_icmp_reply_translation). */
function flightOf(flight: Flight, subject: Subject): Flight {
  if (flight.form !== 'error') {
    const source: Endpoint = { address: subject.source, port: subject.sport! };
    const destination: Endpoint = { address: subject.destination, port: subject.dport! };
    return { form: flight.form, header: { transport: flight.header.transport, source, destination } };
  }
  const session = subject.tracking?.session;
  let { quote } = flight;
  if (session && subject.tracking!.state === 'related') {
    if (subject.tracking!.direction === 'reply') {
      quote = { ...quote, source: session.sourceTranslated ? session.original.source : quote.source, destination: session.destinationTranslated ? session.original.destination : quote.destination };
    }
  }
  return { ...flight, source: subject.source, destination: subject.destination, quote };
}
