import { addressKind, ADDRESS_LENGTH, MAX_BITS, PROTOCOL, SIDE, sideLine, wholeBox, withSide, without, prefix, prefixContains, prefixInterval, sideOfAddresses, type Address, type Box, type Family, type Point, type Side } from '../net/index.ts';
import { hookPlan, inValues, isMissing, TRACKING_PRIORITY, TRANSLATION_PRIORITY, type Ask, type BaseChain, type Field, type Hook, type Subject, type ValueSet } from '../rules/index.ts';
import { arriving, beamOf, floodChain, headerValues, splitByHeader, type Beam, type FloodBench } from '../rules/flood/index.ts';
import type { Machine, NetInterface, Site, Socket } from '../site/index.ts';
import { addressType, firstAddress, masqueradeAddress, reversePath } from './hooks.ts';
import { onOneLink, resolve } from './links.ts';
import { checkSource } from './reversePath.ts';
import { lookUpRoute } from './routing.ts';

/** Packets that reach something that listens (or may listen: `socket` null where a machine's sockets are not known). */
export interface Delivery {
  readonly machine: Machine;
  readonly socket: Socket | null;
  readonly beam: Beam;
}

/** Machines that packets may pass before a flood gives up following them. */
const MOST_HOPS = 16;

/** A place where packets come in from outside. */
export interface Entry {
  readonly machine: Machine;
  readonly device: NetInterface;
  readonly destinations: Side;
}

/**
 * Every first packet that an outside sender can send, followed at once: which listeners they reach. Exact; what is not known is followed
 * both ways and marked `maybe`.
 */
export function floodSite(site: Site, family: Family, transport: 'tcp' | 'udp', entries: readonly Entry[] = outsideEntries(site, family)): Delivery[] {
  const flood = new Flood(site, family);
  for (const e of entries) {
    const box: Box = withSide(withSide(wholeBox(family), SIDE.source, outsideSources(site, family)), SIDE.destination, e.destinations);
    flood.arrive(e.machine, e.device, [beamOf(family, PROTOCOL[transport], box)], 0);
  }
  return flood.deliveries;
}

/** Addresses that an outside sender can have: all but loopback and what only exists on one link. */
function outsideSources(_site: Site, family: Family): Side {
  const never = family === 4 ? ['0.0.0.0/8', '127.0.0.0/8', '224.0.0.0/3'] : ['::/127', 'fe80::/10', 'ff00::/8'];
  const line = sideLine(family, SIDE.source);
  return never.reduce<Side>((left, p) => without(line, left, sideOfAddresses(family, [prefixInterval(prefix(p))])), wholeBox(family)[SIDE.source]);
}

/**
 * Where the outside begins: at whoever holds a public address, where the internet itself is a stop without evidence; else on the link
 * of the first client.
 */
export function outsideEntries(site: Site, family: Family): Entry[] {
  const point = (a: Address): Point => (family === 4 ? Number(a.bits) : a.bits);
  const single = (a: Address): Side => [{ first: point(a), last: point(a) }];
  if (site.internet !== null) {
    const fronted = site.fronts ?? [];
    const fronts = fronted.filter((f) => f.address.family === family).flatMap((f): Entry[] => {
      const machine = site.machines.find((m) => m.id === f.machine);
      const device = machine?.interfaces?.find((i) => i.name === f.interface);
      return machine && device ? [{ machine, device, destinations: single(f.address) }] : [];
    });
    const holders = site.machines.filter((m) => m.role !== 'client').flatMap((machine) => (machine.interfaces ?? []).flatMap((device) => device.addresses.filter((a) => a.address.family === family && addressKind(a.address).reachable && device.adminUp && device.carrier !== false && !fronted.some((f) => f.address.bits === a.address.bits)).map((a): Entry => ({ machine, device, destinations: single(a.address) }))));
    return [...fronts, ...holders];
  }
  const client = site.machines.find((m) => m.role === 'client');
  return (client?.interfaces ?? []).filter((i) => !i.loopback && i.adminUp).flatMap((own) => site.machines.filter((m) => m !== client && m.role !== 'client').flatMap((machine) => (machine.interfaces ?? []).filter((device) => device.adminUp && onOneLink(own, device)).map((device): Entry => ({ machine, device, destinations: wholeBox(family)[SIDE.destination] }))));
}

class Flood {
  readonly deliveries: Delivery[] = [];
  readonly #site: Site;
  readonly #family: Family;
  readonly #known: Side;

  constructor(site: Site, family: Family) {
    this.#site = site;
    this.#family = family;
    this.#known = site.machines.flatMap((m) => (m.interfaces ?? []).flatMap((i) => i.addresses.filter((a) => a.address.family === family).map((a) => ({ first: this.#point(a.address.bits), last: this.#point(a.address.bits) }))));
  }

  arrive(machine: Machine, device: NetInterface, beams: readonly Beam[], hops: number): void {
    if (hops > MOST_HOPS || machine.presumed.kind === 'bare') return;
    const incoming = beams.map((b) => arriving(b, device.name));
    const routed = this.#hook('prerouting', machine, incoming);
    for (const beam of routed) {
      if (beam.family === 4 && this.#loopback(beam)) continue;
      for (const piece of this.#sourceChecked(machine, device, beam)) this.#route(machine, piece, hops);
    }
  }

  /** Policy rules may look at the source: packets that they tell apart are routed apart. */
  #route(machine: Machine, beam: Beam, hops: number): void {
    const from = (machine.policy[this.#family] ?? []).flatMap((p) => (p.from && p.from.length > 0 ? [p.from] : []));
    const ports = (machine.policy[this.#family] ?? []).some((p) => p.sport !== null || p.dport !== null || p.unmodelled !== null);
    const open = ports ? { ...beam, maybe: true } : beam;
    if (from.length === 0) return this.#routeAlike(machine, open, hops);
    for (const piece of this.#partition(machine, open, 'source', (a) => from.map((p) => (prefixContains(p, a) ? '1' : '0')).join(''), (v) => v)) this.#routeAlike(machine, piece.beam, hops);
  }

  #routeAlike(machine: Machine, beam: Beam, hops: number): void {
    const onward = new Map<string, { machine: Machine; device: NetInterface; beams: Beam[] }>();
    const local: Beam[] = [];
    const leaving: { beam: Beam; to: { machine: Machine; interface: NetInterface } }[] = [];
    for (const { value, beam: b } of this.#partition(machine, beam, 'destination', (a, subject) => this.#next(machine, a, subject), (n) => n.key)) {
      const open = { ...b, maybe: b.maybe || value.maybe };
      if (value.is === 'local') local.push(open);
      else if (value.is === 'out') leaving.push({ beam: { ...open, out: value.out }, to: value.to });
    }
    this.#deliver(machine, this.#hook('input', machine, local));
    const forwarding = this.#forwards(machine);
    if (forwarding === 'no') return;
    for (const { beam: b, to } of leaving) {
      const passed = this.#hook('postrouting', machine, this.#hook('forward', machine, [{ ...b, maybe: b.maybe || forwarding === 'unknown' }]));
      const key = `${to.machine.id}/${to.interface.name}`;
      const group = onward.get(key) ?? { machine: to.machine, device: to.interface, beams: [] };
      for (const p of passed) group.beams.push(p);
      onward.set(key, group);
    }
    for (const { machine: m, device, beams } of onward.values()) if (beams.length > 0) this.arrive(m, device, beams, hops + 1);
  }

  #forwards(machine: Machine): 'yes' | 'no' | 'unknown' {
    const setting = machine.settings.get(this.#family === 4 ? 'net.ipv4.ip_forward' : 'net.ipv6.conf.all.forwarding');
    if (setting) return setting.value === '0' ? 'no' : 'yes';
    return machine.presumed.forwarding === null ? 'unknown' : machine.presumed.forwarding ? 'yes' : 'no';
  }

  /** Where a packet to one address goes: to the machine itself, to a known next machine, or out of what is known. */
  #next(machine: Machine, destination: Address, subject: Subject) {
    let asked = false;
    const ask: Ask = () => ((asked = true), 0);
    const found = lookUpRoute(machine, { destination, source: subject.source, in: subject.in ?? 'lo', mark: subject.mark, protocol: subject.protocol, sport: subject.sport, dport: subject.dport }, ask);
    if (found.is === 'local') return { is: 'local' as const, maybe: asked, key: `local${asked}` };
    if (found.is !== 'unicast') return { is: 'gone' as const, maybe: asked, key: 'gone' };
    const device = machine.interfaces?.find((i) => i.name === found.hop.device);
    const hop = found.hop.via ?? destination;
    const receiver = device ? resolve(this.#site, machine, device, hop) : null;
    if (!device || receiver?.who !== 'machine' || (device.carrier === false && !device.noNeighbours)) return { is: 'gone' as const, maybe: asked, key: 'gone' };
    return { is: 'out' as const, maybe: asked, out: device.name, to: receiver, key: `${device.name}/${receiver.machine.id}/${receiver.interface.name}/${asked}` };
  }

  #loopback(b: Beam): boolean {
    const d = b.now.destination;
    return 'value' in d && Number(d.value) >>> 24 === 127;
  }

  #sourceChecked(machine: Machine, device: NetInterface, beam: Beam): Beam[] {
    const pieces = this.#partition(machine, beam, 'source', (_, subject) => {
      let asked = false;
      const passes = checkSource(machine, subject, device.name, () => ((asked = true), 0)).passes;
      return passes ? (asked ? 'maybe' : 'yes') : asked ? 'maybe' : 'no';
    }, (v) => v);
    return pieces.filter((p) => p.value !== 'no').map((p) => ({ ...p.beam, maybe: p.beam.maybe || p.value === 'maybe' }));
  }

  #deliver(machine: Machine, beams: readonly Beam[]): void {
    for (const beam of beams) {
      if (!machine.sockets) {
        this.deliveries.push({ machine, socket: null, beam: { ...beam, maybe: true } });
        continue;
      }
      let rest: Beam[] = [beam];
      for (const socket of machine.sockets) {
        if (PROTOCOL[socket.transport] !== beam.protocol || !socket.families.includes(beam.family) || (socket.device !== null && socket.device !== beam.in)) continue;
        const left: Beam[] = [];
        for (const b of rest) {
          const byPort = splitByHeader(b, b.now.dport, [{ first: socket.port, last: socket.port }]);
          if (byPort.miss) left.push(byPort.miss);
          if (!byPort.hit) continue;
          const at = socket.address ? this.#point(socket.address.bits) : null;
          const byAddress = at === null ? { hit: byPort.hit, miss: null } : splitByHeader(byPort.hit, byPort.hit.now.destination, [{ first: at, last: at }]);
          if (byAddress.miss) left.push(byAddress.miss);
          if (byAddress.hit) this.deliveries.push({ machine, socket, beam: byAddress.hit });
        }
        rest = left;
      }
      // A server of which only some sockets were listed may listen on the others too.
      if (machine.presumed.kind === 'linux') this.deliveries.push(...rest.filter((b) => !machine.presumed.socketsComplete[b.protocol === PROTOCOL.udp ? 'udp' : 'tcp']).map((b) => ({ machine, socket: null, beam: { ...b, maybe: true } })));
    }
  }

  // ---- hooks -----------------------------------------------------------------------------------------------------------

  /** All chains of a hook on all beams, with tracking and translation at the kernel's places (see `hooks.ts`). */
  #hook(hook: Hook, machine: Machine, beams: readonly Beam[]): Beam[] {
    if (beams.length === 0) return [];
    const program = machine.program[this.#family];
    const tracks = hook === 'prerouting';
    if (!program) {
      const seen = tracks ? beams.map((b): Beam => ({ ...b, tracked: 'new' })) : [...beams];
      return hook === 'input' || hook === 'forward' ? seen.map((b) => ({ ...b, maybe: true })) : seen;
    }
    const plan = hookPlan(program, hook, this.#family);
    const bench = this.#bench(machine);
    let current: Beam[] = [...beams];
    let tracked = !tracks;
    let translated = hook === 'forward';
    const catchUp = (priority: number): void => {
      if (!tracked && priority >= TRACKING_PRIORITY) {
        tracked = true;
        current = current.map((b) => (b.tracked === 'not-yet' ? { ...b, tracked: 'new' } : b));
      }
      if (!translated && hook !== 'forward' && priority >= TRANSLATION_PRIORITY[hook]) {
        translated = true;
        current = this.#translate(hook, plan.translations, current, bench);
      }
    };
    for (const base of plan.filters) {
      catchUp(base.priority);
      current = this.#base(base, current, bench);
    }
    catchUp(Infinity);
    return current;
  }

  #base(base: BaseChain, beams: readonly Beam[], bench: FloodBench): Beam[] {
    const end = floodChain(base.chain, beams, bench);
    return base.policy === 'accept' ? [...end.accepted, ...end.through] : end.accepted;
  }

  #translate(hook: Exclude<Hook, 'forward'>, chains: readonly BaseChain[], beams: readonly Beam[], bench: FloodBench): Beam[] {
    const flag = hook === 'prerouting' || hook === 'output' ? 'destinationDone' : 'sourceDone';
    const done: Beam[] = beams.filter((b) => b.tracked !== 'new' || b[flag]);
    let current = beams.filter((b) => b.tracked === 'new' && !b[flag]);
    for (const base of chains) {
      const after = this.#base(base, current, bench);
      for (const b of after) if (b[flag]) done.push(b);
      current = after.filter((b) => !b[flag]);
    }
    return [...done, ...current.map((b) => ({ ...b, [flag]: true }))];
  }

  #bench(machine: Machine): FloodBench {
    return {
      stop: machine.id,
      splitByRoute: (field, sets, beam) => this.#splitByRoute(machine, field, sets, beam),
      ownAddress: (kind, beam) => {
        const own = kind === 'redirect' ? firstAddress(machine, beam.in, beam) : masqueradeAddress(machine, { out: beam.out, family: beam.family, nextHop: null, destination: this.#address(headerValues(beam, beam.now.destination)[0]!.first) });
        return own?.bits ?? null;
      },
    };
  }

  #splitByRoute(machine: Machine, field: Field, sets: readonly ValueSet[], beam: Beam): { hit: Beam[]; miss: Beam[] } | null {
    const header = field.of === 'address-type' ? field.side : field.of === 'reverse-path' ? 'source' : null;
    if (header === null) return null;
    const pieces = this.#partition(machine, beam, header, (_, subject) => {
      let asked = false;
      const ask: Ask = () => ((asked = true), 0);
      const read = field.of === 'address-type' ? addressType(machine, subject, field.side, field.only, ask) : reversePath(machine, subject, (field as Extract<Field, { of: 'reverse-path' }>).mark, (field as Extract<Field, { of: 'reverse-path' }>).interface, ask);
      return asked || isMissing(read) ? 'unknown' : sets.some((s) => inValues(s, read)) ? 'hit' : 'miss';
    }, (v) => v);
    const open = pieces.filter((p) => p.value === 'unknown').map((p) => ({ ...p.beam, maybe: true }));
    return { hit: [...pieces.filter((p) => p.value === 'hit').map((p) => p.beam), ...open], miss: [...pieces.filter((p) => p.value === 'miss').map((p) => p.beam), ...open] };
  }

  // ---- pieces of the address line on which a machine treats all addresses alike -------------------------------------------

  /** Splits a beam by what `judge` says of one address of each piece; pieces with the same key stay together. */
  #partition<T>(machine: Machine, beam: Beam, name: 'source' | 'destination', judge: (address: Address, subject: Subject) => T, keyOf: (value: T) => string): { value: T; beam: Beam }[] {
    const mapped = beam.now[name];
    const groups = new Map<string, { value: T; side: { first: Point; last: Point }[] }>();
    for (const piece of this.#pieces(machine, headerValues(beam, mapped))) {
      const address = this.#address(piece.first);
      const value = judge(address, this.#sample(beam, name, address));
      const key = keyOf(value);
      const group = groups.get(key) ?? { value, side: [] };
      group.side.push(piece);
      groups.set(key, group);
    }
    if (groups.size === 1) return [{ value: [...groups.values()][0]!.value, beam }];
    const out: { value: T; beam: Beam }[] = [];
    let rest: Beam | null = beam;
    for (const { value, side } of groups.values()) {
      if (!rest) break;
      const split: { hit: Beam | null; miss: Beam | null } = splitByHeader(rest, mapped, side);
      if (split.hit) out.push({ value, beam: split.hit });
      rest = split.miss;
    }
    return out;
  }

  #pieces(machine: Machine, values: Side): { first: Point; last: Point }[] {
    const cuts = this.#cuts(machine);
    const out: { first: Point; last: Point }[] = [];
    for (const { first, last } of values) {
      let from: Point = first;
      for (let i = firstAbove(cuts, first); i < cuts.length && cuts[i]! <= last; i++) {
        out.push({ first: from, last: this.#before(cuts[i]!) });
        from = cuts[i]!;
      }
      out.push({ first: from, last });
    }
    return out;
  }

  readonly #cutCache = new Map<Machine, Point[]>();

  /** Points at which the treatment of an address may change: ends of routes and of policy prefixes, and every known address. */
  #cuts(machine: Machine): Point[] {
    const before = this.#cutCache.get(machine);
    if (before) return before;
    const family = this.#family;
    const prefixes = [...(machine.routes[family] ?? []).map((r) => r.destination), ...(machine.policy[family] ?? []).flatMap((p) => [p.from, p.to]), ...(machine.interfaces ?? []).flatMap((i) => i.addresses.map((a) => ({ ...a.address, length: a.prefixLength }))), ...(family === 4 ? ['127.0.0.0/8', '224.0.0.0/4', '255.255.255.255/32'] : ['fe80::/10', 'ff00::/8']).map(prefix)];
    const points = new Set<bigint>();
    for (const p of prefixes) {
      if (!p || p.family !== family) continue;
      const host = (1n << BigInt(ADDRESS_LENGTH[family] - p.length)) - 1n;
      const first = p.bits & ~host;
      points.add(first);
      if (first + host < MAX_BITS[family]) points.add(first + host + 1n);
    }
    for (const k of this.#known) {
      points.add(BigInt(k.first));
      if (BigInt(k.last) < MAX_BITS[family]) points.add(BigInt(k.last) + 1n);
    }
    const cuts = [...points].sort((a, b) => (a < b ? -1 : 1)).map((p) => this.#point(p));
    this.#cutCache.set(machine, cuts);
    return cuts;
  }

  #point(bits: bigint): Point {
    return this.#family === 4 ? Number(bits) : bits;
  }

  #before(p: Point): Point {
    return typeof p === 'bigint' ? p - 1n : p - 1;
  }

  #address(p: Point): Address {
    return { family: this.#family, bits: BigInt(p) };
  }

  /** One packet of a beam, for questions that only the piecewise header decides. */
  #sample(beam: Beam, name: 'source' | 'destination', address: Address): Subject {
    const first = (mapped: Beam['now']['source']): Point => headerValues(beam, mapped)[0]!.first;
    return {
      family: beam.family, protocol: beam.protocol, source: name === 'source' ? address : this.#address(first(beam.now.source)), destination: name === 'destination' ? address : this.#address(first(beam.now.destination)),
      sport: Number(first(beam.now.sport)), dport: Number(first(beam.now.dport)), icmp: null, tcpFlags: null, in: beam.in, out: beam.out, nextHop: null, mark: beam.mark, tracking: null, untracked: false,
    };
  }
}

function firstAbove(cuts: readonly Point[], at: Point): number {
  let low = 0;
  let high = cuts.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (cuts[middle]! <= at) low = middle + 1;
    else high = middle;
  }
  return low;
}
