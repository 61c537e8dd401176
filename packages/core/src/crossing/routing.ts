import { prefixContains, sameAddress, type Address } from '../net/index.ts';
import type { Ask, Need } from '../rules/index.ts';
import type { Machine, NextHop, PolicyRule, Route } from '../site/index.ts';
import { DEFAULT_RULES, routeTables } from './routeTables.ts';

/** What a route is looked up for. `in` is `lo` for packets that the machine makes itself. */
export interface RouteQuery {
  readonly destination: Address;
  readonly source: Address | null;
  readonly in: string;
  /** Only routes out of this interface count. */
  readonly out?: string | null;
  readonly mark: number;
  readonly protocol?: number;
  readonly sport?: number | null;
  readonly dport?: number | null;
}

export type RouteAnswer =
  | { readonly is: 'local'; readonly device: string | null }
  | { readonly is: 'unicast'; readonly route: Route; readonly hop: NextHop }
  | { readonly is: 'broadcast' | 'multicast' | 'anycast'; readonly route: Route }
  | { readonly is: 'blackhole' | 'unreachable' | 'prohibit'; readonly by: Route | PolicyRule }
  | { readonly is: 'none' }
  | { readonly is: 'unknown'; readonly yields: 'addresses' | 'routes'; readonly need: Need };

/**
 * Walks the policy rules by priority and takes the first table that has an answer (RFC 1812 §5.2.4.3 for the
 * choice inside a table).
 */
export function lookUpRoute(machine: Machine, query: RouteQuery, ask: Ask): RouteAnswer {
  const family = query.destination.family;
  const { interfaces } = machine;
  if (!interfaces)
    return { is: 'unknown', yields: 'addresses', need: { need: 'addresses', stop: machine.id } };
  const tables = routeTables(machine, family);
  const policy = machine.policy[family];
  const isOwn = (machine.interfaces ?? []).some((i) =>
    i.addresses.some((a) => sameAddress(a.address, query.destination)),
  );
  // Its own addresses come first by any list of rules (table `local`, priority 0).
  if (policy === 'open' && !isOwn)
    return { is: 'unknown', yields: 'routes', need: { need: 'routes', stop: machine.id, family } };
  const rules = policy === 'open' || policy === null ? DEFAULT_RULES[family] : policy;
  for (let i = 0; i < rules.length; i++) {
    const r = rules[i]!;
    if (!ruleApplies(r, query, machine, ask)) continue;
    if (r.action === 'nop') continue;
    if (r.action === 'goto') {
      const target = rules.findIndex((other) => other.priority >= (r.goto ?? Infinity));
      if (target <= i) continue;
      i = target - 1;
      continue;
    }
    if (r.action !== 'lookup') return { is: r.action, by: r };
    const route = best(tables.get(r.table) ?? [], query, machine, ask);
    if (!route || route.type === 'throw') continue;
    if (r.suppressPrefixLength !== null && route.destination.length <= r.suppressPrefixLength) continue;
    return answer(route, query, machine, ask);
  }
  if (machine.routes[family] === null)
    return { is: 'unknown', yields: 'routes', need: { need: 'routes', stop: machine.id, family } };
  return { is: 'none' };
}

function ruleApplies(r: PolicyRule, q: RouteQuery, machine: Machine, ask: Ask): boolean {
  if (r.unmodelled) {
    return (
      ask(
        {
          key: `${machine.id}/rule/${r.priority}/${r.family}`,
          need: { need: 'routing-rule', stop: machine.id, priority: r.priority, text: r.unmodelled },
          settle: null,
        },
        2,
      ) === 0
    );
  }
  const inRange = (range: { first: number; last: number } | null, port: number | null | undefined): boolean =>
    range === null || (port !== null && port !== undefined && port >= range.first && port <= range.last);
  const applies =
    (r.from === null || (q.source === null ? r.from.length === 0 : prefixContains(r.from, q.source))) &&
    (r.to === null || prefixContains(r.to, q.destination)) &&
    (r.in === null || r.in === q.in) &&
    (r.out === null || r.out === q.out) &&
    (r.mark === null || (q.mark & r.mark.mask) >>> 0 === r.mark.value) &&
    (r.protocol === null || r.protocol === q.protocol) &&
    inRange(r.sport, q.sport) &&
    inRange(r.dport, q.dport);
  return applies !== r.not;
}

function best(routes: readonly Route[], q: RouteQuery, machine: Machine, ask: Ask): Route | null {
  for (const route of routes) {
    if (!prefixContains(route.destination, q.destination)) continue;
    if (q.out && route.type === 'unicast' && !route.hops.some((hop) => hop.device === q.out)) continue;
    if (
      route.unmodelled &&
      ask(
        {
          key:
            `${machine.id}/route/${route.source?.line ?? 0}/` +
            `${route.destination.bits}/${route.destination.length}`,
          need: { need: 'route-words', stop: machine.id, text: route.unmodelled },
          settle: null,
        },
        2,
      ) === 1
    )
      continue;
    return route;
  }
  return null;
}

function answer(route: Route, q: RouteQuery, machine: Machine, ask: Ask): RouteAnswer {
  switch (route.type) {
    case 'local':
      return { is: 'local', device: route.hops[0]?.device ?? null };
    case 'blackhole':
    case 'unreachable':
    case 'prohibit':
      return { is: route.type, by: route };
    case 'broadcast':
    case 'multicast':
    case 'anycast':
      return { is: route.type, route };
    case 'throw':
    case 'nat':
      return { is: 'none' };
    case 'unicast': {
      const hops = q.out ? route.hops.filter((hop) => hop.device === q.out) : route.hops;
      const taken =
        hops.length > 1
          ? ask(
              {
                key: `${machine.id}/hop/${q.destination.bits}/${q.source?.bits ?? ''}`,
                need: { need: 'spread', stop: machine.id, ways: hops.length },
                settle: { stop: machine.id, yields: 'sessions' },
              },
              hops.length,
            )
          : 0;
      return { is: 'unicast', route, hop: hops[taken] ?? { via: null, device: null } };
    }
  }
}

const own = new WeakMap<Machine, ReadonlySet<bigint>>();

/** Whether the machine holds the address. */
export function isLocalAddress(machine: Machine, a: Address): boolean {
  let addresses = own.get(machine);
  if (!addresses) {
    const usable = (machine.interfaces ?? []).flatMap((i) => i.addresses.filter((x) => !x.unusable));
    own.set(machine, (addresses = new Set(usable.map((x) => keyOf(x.address)))));
  }
  return addresses.has(keyOf(a));
}

/** IPv6 addresses keep their bits; IPv4 ones go below zero, where no IPv6 address is. */
const keyOf = ({ family, bits }: Address): bigint => (family === 4 ? -bits - 1n : bits);
