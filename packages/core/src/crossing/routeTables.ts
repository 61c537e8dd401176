import { ADDRESS_LENGTH, type Family, prefixOf } from '../net/index.ts';
import { routeTo, type Machine, type PolicyRule, type Route } from '../site/index.ts';

export const rule = (family: Family, priority: number, table: string): PolicyRule => ({
  family,
  priority,
  table,
  not: false,
  from: null,
  to: null,
  in: null,
  out: null,
  mark: null,
  protocol: null,
  sport: null,
  dport: null,
  action: 'lookup',
  goto: null,
  suppressPrefixLength: null,
  unmodelled: null,
  source: null,
});

/** The rules that every Linux machine starts with (ip-rule(8)); IPv6 has no `default` table. */
export const DEFAULT_RULES: Readonly<Record<Family, readonly PolicyRule[]>> = {
  4: [rule(4, 0, 'local'), rule(4, 32766, 'main'), rule(4, 32767, 'default')],
  6: [rule(6, 0, 'local'), rule(6, 32766, 'main')],
};

export const tableCache = new WeakMap<Machine, Partial<Record<Family, Map<string, Route[]>>>>();

/**
 * Routes by table, longest prefix first, lower metric first; the local table completed from the addresses.
 */
export function routeTables(machine: Machine, family: Family): Map<string, Route[]> {
  let cached = tableCache.get(machine);
  if (!cached) tableCache.set(machine, (cached = {}));
  const before = cached[family];
  if (before) return before;
  const tables = new Map<string, Route[]>();
  const add = (route: Route): void =>
    void (tables.get(route.table)?.push(route) ?? tables.set(route.table, [route]));
  for (const route of machine.routes[family] ?? connected(machine, family)) if (!route.dead) add(route);
  for (const route of localRoutes(machine, family)) add(route);
  for (const list of tables.values())
    list.sort((a, b) => b.destination.length - a.destination.length || a.metric - b.metric);
  cached[family] = tables;
  return tables;
}

const LOCAL = { table: 'local', type: 'local' } as const;

/**
 * Every address of a machine is local to it, also on an interface that is down (IPv4; IPv6 loses it with the
 * link).
 */

export function localRoutes(machine: Machine, family: Family): Route[] {
  const out: Route[] = [];
  for (const i of machine.interfaces ?? []) {
    for (const a of i.addresses) {
      if (a.address.family !== family || a.unusable || (family === 6 && !i.adminUp)) continue;
      const hop = { via: null, device: i.name };
      out.push(routeTo(prefixOf(a.address, ADDRESS_LENGTH[family]), hop, { ...LOCAL, source: a.source }));
      if (i.loopback && family === 4) out.push(routeTo(prefixOf(a.address, a.prefixLength), hop, LOCAL));
    }
  }
  return out;
}

/** Without a listing at least the on-link prefixes follow from the addresses. */

export function connected(machine: Machine, family: Family): Route[] {
  return (machine.interfaces ?? [])
    .filter((i) => i.adminUp && !i.loopback)
    .flatMap((i) =>
      i.addresses
        .filter((a) => a.address.family === family && !a.unusable)
        .map((a) => routeTo(prefixOf(a.peer ?? a.address, a.prefixLength), { via: null, device: i.name })),
    );
}
