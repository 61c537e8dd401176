import { relayOf } from './pastRelay.ts';
import { saidOr, type Fact } from '../../facts/index.ts';
import { parseDialled } from '../../intake/index.ts';
import { type CaseFacts, factsOf, labelledAddress } from '../../ledger/index.ts';
import {
  type Address,
  formatAddress,
  parseAddress,
  addressKind,
  isReachable,
  parseTarget,
  prefixOf,
  sameAddress,
} from '../../net/index.ts';
import { aimOf } from '../bench/packet.ts';
import { addressesByRoutes, forwardRows } from '../../model/index.ts';
import type { Machine } from '../../site/index.ts';

/** Stands in for an outside address that nothing tells (RFC 5737). */
export const STAND_IN = '203.0.113.250';

export const AT = { line: 1 };

export const labelled = (what: 'wan-address' | 'seen-address', address: Address): Fact => ({
  kind: 'labelled',
  what,
  label: 'assumed',
  value: formatAddress(address),
  at: AT,
});

export const saysNone = (facts: CaseFacts, stop: string): boolean =>
  factsOf(facts, 'labelled').some((l) => l.stop === stop && l.fact.what === 'no-public-address');

/** The name as it would be answered; nothing where it was looked up. */
export function lookedUp(facts: CaseFacts, outside: Address): Fact[] {
  const host = parseDialled(facts.document.client?.dials ?? '')?.host;
  if (host === undefined || aimOf(facts).trouble !== 'not-looked-up') return [];
  const type = outside.family === 4 ? 'A' : 'AAAA';
  return [{ kind: 'name', at: AT, name: host, type, status: 'NOERROR', answers: [formatAddress(outside)] }];
}

/** Where the client's packets went: as they were dialled, as a try saw it, as the pages say. */
export function outsideAddress(facts: CaseFacts): Address | null {
  const dialled = parseAddress(parseDialled(facts.document.client?.dials ?? '')?.host ?? '');
  const tried = (facts.document.observations ?? [])
    .filter((o) => o.vantage === 'client' || o.vantage === 'client-by-name' || o.vantage === 'outside')
    .map((o) => parseTarget(o.to)?.address ?? null);
  const outer = facts.document.path.find((s) => s.role === 'gateway')?.id ?? null;
  const said =
    labelledAddress(facts, outer, 'wan-address')?.address ??
    labelledAddress(facts, null, 'seen-address')?.address;
  const relay = parseAddress(relayOf(facts)?.address ?? '');
  return (
    [dialled, relay, ...tried, aimOf(facts).address, mappedOutside(facts), said ?? null].find(
      (a) => a !== null && isReachable(a),
    ) ?? parseAddress(STAND_IN)
  );
}

/** The outside address that is mapped as a whole, where there is one alone; it may stand inside out. */
function mappedOutside(facts: CaseFacts): Address | null {
  const [only, ...more] = factsOf(facts, 'address-mapping');
  if (!only || more.length > 0) return null;
  const { outside, inside } = only.fact.value;
  const ends = [outside, inside].flatMap((end) => parseAddress(saidOr(end, '')) ?? []);
  return ends.find(isReachable) ?? null;
}

/** Stands in for a network inside that nothing tells (RFC 1918). */
export const INSIDE: Address = { family: 4, bits: 0x0afafa01n };

/** What routes and rules tell of where the server is. */
export interface Hints {
  /** The address that its own routes send from. */
  readonly sent: Address | null;
  /** Where a packet filter's forwards lead. */
  readonly aimed: Address | null;
}

/** The server's address as a try from near it saw it, else where the forward leads; null: nothing tells. */
export function serverAddress(facts: CaseFacts, { sent, aimed }: Hints): Address | null {
  const tried = (facts.document.observations ?? [])
    .filter((o) => o.vantage === 'lan' || o.vantage === 'host')
    .map((o) => parseTarget(o.to)?.address ?? null)
    .filter((a): a is Address => a !== null && addressKind(a).kind !== 'loopback');
  const gateways = facts.document.path.filter((s) => s.role === 'gateway');
  const rows = gateways.flatMap((g) => forwardRows(facts, g.id)).filter((r) => r.insideAddress);
  // The service's own row, else any: a table may be of one machine alone.
  const ports = (facts.document.service?.endpoints ?? []).map((e) => e.port);
  const own = rows.filter((r) => ports.some((port) => r.outside.first <= port && port <= r.outside.last));
  const row = own[own.length - 1] ?? rows[rows.length - 1];
  const edge = facts.document.path.find((s) => s.role === 'edge')?.id;
  const said = edge === undefined ? null : labelledAddress(facts, edge, 'own-address')?.address;
  return tried[0] ?? sent ?? said ?? row?.insideAddress ?? aimed;
}

/**
 * The address that a machine sends from, as its routes show it: the one that is meant, else on the interface
 * of its way out, else on the first.
 */
export function sentFrom(machine: Machine, meant: Address | null): Address | null {
  const own = (addressesByRoutes(machine) ?? []).flatMap((i) =>
    i.loopback
      ? []
      : i.addresses.flatMap(({ address }) => (address.family === 4 ? [{ address, dev: i.name }] : [])),
  );
  const outward = machine.routes[4]?.find((r) => r.destination.length === 0)?.hops[0]?.device;
  return (
    (
      own.find((o) => meant !== null && sameAddress(o.address, meant)) ??
      own.find((o) => o.dev === outward) ??
      own[0]
    )?.address ?? null
  );
}

/** A router's own address inside, as its page or its listing shows it. */
export function insideOf(facts: CaseFacts, gateway: string): Address | null {
  const own = factsOf(facts, 'address').flatMap((a) =>
    a.stop === gateway && a.fact.family === 4 ? [parseAddress(a.fact.address)] : [],
  );
  const isInside = (a: Address | null): boolean => a !== null && addressKind(a).kind === 'private';
  return labelledAddress(facts, gateway, 'lan-address')?.address ?? own.find(isInside) ?? null;
}

/** Stands in for a server's address that nothing tells: one of the network inside, where that is known. */
export function standIn(facts: CaseFacts): Address | null {
  const { path } = facts.document;
  const inner = path.filter((s) => s.role === 'gateway').pop()?.id;
  const lan = inner === undefined ? null : insideOf(facts, inner);
  return lan?.family === 4 ? { family: 4, bits: (lan.bits & ~0xffn) | 250n } : null;
}

/** A way out by the router of its network. */
export function routesOf(facts: CaseFacts, host: string, server: Address | null): Fact[] {
  const own = factsOf(facts, 'address').find(
    (a) => a.stop === host && a.fact.family === 4 && a.fact.scope !== 'host',
  );
  const dev = own?.fact.interface ?? 'net';
  const gateway = facts.document.path.filter((s) => s.role === 'gateway').pop()?.id ?? null;
  const lan = gateway === null ? null : labelledAddress(facts, gateway, 'lan-address')?.address;
  const address = own ? parseAddress(own.fact.address) : server;
  if (!address || address.family !== 4) return [];
  const via = lan ?? { family: 4 as const, bits: (address.bits & ~0xffn) | 1n };
  const net = formatAddress({ family: 4, bits: address.bits & ~0xffn });
  const common = { kind: 'route', at: AT, family: 4, table: 'main', type: 'unicast', metric: 0 } as const;
  return [
    { ...common, to: 'default', hops: [{ via: formatAddress(via), dev }] },
    { ...common, to: `${net}/24`, hops: [{ via: null, dev }] },
  ];
}

/** A router's way out by the line that has an outside address, else by its first; its own networks follow. */
export function wayOutward(facts: CaseFacts, router: string): Fact[] {
  const held = factsOf(facts, 'address').flatMap(({ stop, fact }) => {
    const address =
      stop === router && fact.family === 4 && fact.scope !== 'host' ? parseAddress(fact.address) : null;
    return address ? [{ address, dev: fact.interface, prefix: fact.prefix }] : [];
  });
  const line = held.find((h) => isReachable(h.address)) ?? held[0];
  if (!line) return [];
  const network = prefixOf(line.address, line.prefix).bits;
  // On a line between two ends alone the other end is the way out.
  const via =
    line.prefix > 30
      ? null
      : { family: 4 as const, bits: network + (network + 1n === line.address.bits ? 2n : 1n) };
  const common = { kind: 'route', at: AT, family: 4, table: 'main', type: 'unicast', metric: 0 } as const;
  return [
    { ...common, to: 'default', hops: [{ via: via && formatAddress(via), dev: line.dev }] },
    ...held.map(({ address, dev, prefix }): Fact => {
      const to = formatAddress(prefixOf(address, prefix));
      return { ...common, to: `${to}/${prefix}`, hops: [{ via: null, dev }] };
    }),
  ];
}

/** The program that a row of a host firewall lets in on a port, else the service's own name. */
function programOn(facts: CaseFacts, protocol: 'tcp' | 'udp', port: number): string {
  const row = factsOf(facts, 'host-row').find(({ fact: { value } }) => {
    const [ports, own] = [saidOr(value.localPorts, null), saidOr(value.protocol, 'any')];
    return ports?.split(',').includes(String(port)) && (own === protocol || own === 'any');
  });
  return (row && saidOr(row.fact.value.program, null)) ?? facts.document.service?.name ?? 'the program';
}

export function socketsOf(facts: CaseFacts, transports: readonly ('tcp' | 'udp')[]): Fact[] {
  return (
    (facts.document.service?.endpoints ?? [])
      .filter((e) => transports.includes(e.protocol))
      // Of a range both ends are tried.
      .flatMap((e) => [...new Set([e.port, e.portEnd ?? e.port])].map((port) => ({ ...e, port })))
      .map((e): Fact => ({
        kind: 'socket',
        at: AT,
        protocol: e.protocol,
        family: 0,
        address: '*',
        port: e.port,
        state: e.protocol === 'tcp' ? 'LISTEN' : 'UNCONN',
        processes: [{ name: programOn(facts, e.protocol, e.port) }],
      }))
  );
}
