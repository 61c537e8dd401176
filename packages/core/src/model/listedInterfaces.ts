import { of } from './listedFacts.ts';
import type { AddressFact, InterfaceFact } from '../facts/index.ts';
import type { AgedReading } from '../ledger/index.ts';
import {
  addressKind,
  parseAddress,
  prefixContains,
  prefixOf,
  sameAddress,
  type Address,
} from '../net/index.ts';
import type { SourceRef } from '../place/index.ts';
import {
  routeTo,
  type InterfaceAddress,
  type Machine,
  type NetInterface,
  type Route,
} from '../site/index.ts';

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

/** Names that lines between two ends have, where no listing of the interfaces says it. */
const TUNNEL = /^(?:tun|wg|ppp|utun|ipsec|vti|gre|sit)/;

/**
 * A machine's interfaces as its routes show them, where no listing of its addresses is there: what is
 * routed to itself (the kernel's local table holds each own address), else the address that it sends from on
 * each network. Null: they show none.
 */
export function addressesByRoutes({ routes: listed }: Pick<Machine, 'routes'>): NetInterface[] | null {
  const routes = [...(listed[4] ?? []), ...(listed[6] ?? [])];
  const local = routes.filter((r) => r.type === 'local' && isOne(r));
  const own = [
    ...local.map((r) => ({ route: r, address: { family: r.family, bits: r.destination.bits } })),
    ...routes.flatMap((r) => {
      const address = r.type === 'unicast' && local.length === 0 ? sentFrom(r) : null;
      return address ? [{ route: r, address }] : [];
    }),
  ];
  const isDown = (name: string): boolean =>
    routes.some((r) => r.linkDown === true && r.hops.some((h) => h.device === name));
  const devices = new Set(routes.flatMap((r) => r.hops.flatMap((h) => h.device ?? [])));
  if (!own.some(({ address }) => addressKind(address).kind !== 'loopback')) return null;
  return [...devices].map((name): NetInterface => {
    const on = own.filter(({ route }) => route.hops.some((h) => h.device === name));
    const distinct = on.filter((o, i) => on.findIndex((x) => sameAddress(x.address, o.address)) === i);
    const isLoopback =
      name === 'lo' || distinct.some(({ address }) => addressKind(address).kind === 'loopback');
    return {
      name,
      index: null,
      adminUp: true,
      carrier: isLoopback || (isDown(name) ? false : null),
      mac: null,
      loopback: isLoopback,
      noNeighbours: TUNNEL.test(name),
      addresses: distinct.map(({ route, address }) => ({
        address,
        prefixLength: lengthOf(routes, name, address),
        peer: null,
        secondary: false,
        unusable: false,
        scope: addressKind(address).kind === 'link-local' ? 'link' : 'global',
        source: route.source,
      })),
      source: on[0]?.route.source ?? null,
    };
  });
}

/** The kernel's local tables of both families, in which each of its addresses stands. */
export const showsAll = ({ routes }: Pick<Machine, 'routes'>): boolean =>
  ([4, 6] as const).every((family) => routes[family]?.some((r) => r.type === 'local' && isOne(r)));

const isOne = ({ family, destination }: Route): boolean => destination.length === (family === 4 ? 32 : 128);

/** Some systems name a route's interface by its address. */
const sentFrom = ({ preferred, hops }: Route): Address | null =>
  preferred ?? parseAddress(hops[0]?.device ?? '');

/** The length of the network that an address is on, as the route to that network has it. */
function lengthOf(routes: readonly Route[], device: string, address: Address): number {
  const near = routes.filter(
    (r) =>
      r.type === 'unicast' &&
      r.destination.length > 0 &&
      r.hops.some((h) => h.device === device && h.via === null) &&
      prefixContains(r.destination, address),
  );
  return Math.max(...near.map((r) => r.destination.length), 0) || (address.family === 4 ? 32 : 128);
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
