import { of } from './listedFacts.ts';
import type { AddressFact, InterfaceFact } from '../facts/index.ts';
import type { AgedReading } from '../ledger/index.ts';
import { parseAddress, prefixOf } from '../net/index.ts';
import type { SourceRef } from '../place/index.ts';
import { routeTo, type InterfaceAddress, type NetInterface, type Route } from '../site/index.ts';

export function interfaceAddress(fact: AddressFact, source: SourceRef): InterfaceAddress[] {
  const address = parseAddress(fact.address);
  if (!address) return [];
  let scope: 'global' | 'link' | 'host' | 'site' | 'other';
  if (fact.scope === 'global' || fact.scope === 'link' || fact.scope === 'host' || fact.scope === 'site')
    scope = fact.scope;
  else if (fact.scope === undefined) scope = 'global';
  else scope = 'other';
  return [
    {
      address,
      prefixLength: fact.prefix,
      peer: fact.peer ? parseAddress(fact.peer) : null,
      secondary: fact.secondary ?? false,
      unusable: fact.unusable ?? false,
      scope,
      source,
    },
  ];
}

export function interfacesOf(readings: readonly AgedReading[]): NetInterface[] {
  const heads = new Map<string, { fact: InterfaceFact; source: SourceRef }>();
  for (const head of of(readings, 'interface')) {
    const before = heads.get(head.fact.name);
    heads.set(
      head.fact.name,
      before ? { fact: { ...before.fact, ...head.fact }, source: head.source } : head,
    );
  }
  const addresses = new Map<string, Map<string, { fact: AddressFact; source: SourceRef }>>();
  for (const a of of(readings, 'address')) {
    const list =
      addresses.get(a.fact.interface) ?? new Map<string, { fact: AddressFact; source: SourceRef }>();
    list.set(a.fact.address, a);
    addresses.set(a.fact.interface, list);
  }
  const names = new Set([...heads.keys(), ...addresses.keys()]);
  return [...names].map((name): NetInterface => {
    const head = heads.get(name);
    const own = [...(addresses.get(name)?.values() ?? [])];
    const loopback = head?.fact.loopback ?? name === 'lo';
    return {
      name,
      index: head?.fact.index ?? null,
      adminUp: head?.fact.adminUp ?? true,
      carrier: loopback ? true : (head?.fact.carrier ?? null),
      mac: head?.fact.mac ?? null,
      loopback,
      noNeighbours: head?.fact.noNeighbours ?? false,
      addresses: own.flatMap(({ fact, source }) => interfaceAddress(fact, source)),
      source: head?.source ?? own[0]?.source ?? null,
    };
  });
}

/**
 * The kernel routes what lies on an interface's own network by that interface (Linux fib_add_ifaddr). A
 * listing without such a route breaks off, or somebody took the route away: what goes there is open.
 */
export function withConnected(
  routes: Route[] | null,
  interfaces: readonly NetInterface[] | null,
): Route[] | null {
  if (!routes || !interfaces) return routes;
  const missing = interfaces
    .filter((i) => i.adminUp && !i.loopback && i.carrier !== false)
    .flatMap((i) =>
      i.addresses
        .filter((a) => a.address.family === 4 && a.peer === null && a.prefixLength > 0 && a.prefixLength < 32)
        .map((a) => ({ device: i.name, to: prefixOf(a.address, a.prefixLength), source: a.source })),
    )
    .filter(
      ({ to }) => !routes.some((r) => r.destination.length === to.length && r.destination.bits === to.bits),
    );
  return [
    ...routes,
    ...missing.map(({ device, to, source }) =>
      routeTo(
        to,
        { via: null, device },
        { unmodelled: `the network of ${device}, which is not among the routes`, source },
      ),
    ),
  ];
}
