import type { SourceRef } from '../place/index.ts';
import { prefix, parsePrefix, parseAddress, type Family, PROTOCOL_NUMBER } from '../net/index.ts';
import type { PolicyFact, RouteFact } from '../facts/index.ts';
import { ROUTE_TYPES, type PolicyRule, type Route } from '../site/index.ts';

const TYPES: ReadonlySet<string> = new Set(ROUTE_TYPES);

export function routeOf(fact: RouteFact, source: SourceRef): Route {
  const everything = prefix(fact.family === 4 ? '0.0.0.0/0' : '::/0');
  return {
    family: fact.family,
    table: fact.table,
    type: (TYPES.has(fact.type) ? fact.type : 'unicast') as Route['type'],
    destination: fact.to === 'default' ? everything : (parsePrefix(fact.to) ?? everything),
    hops: fact.hops.map((h) => ({ via: h.via ? parseAddress(h.via) : null, device: h.dev })),
    metric: fact.metric,
    preferred: fact.src ? parseAddress(fact.src) : null,
    dead: fact.dead ?? false,
    ...(fact.linkDown ? { linkDown: true } : {}),
    unmodelled: fact.unmodelled ?? (TYPES.has(fact.type) ? null : `the type ${fact.type}`),
    source,
  };
}

export function policyOf(
  facts: readonly { fact: PolicyFact; source: SourceRef }[],
  family: Family,
): PolicyRule[] {
  return facts
    .filter(({ fact }) => fact.family === null || fact.family === family)
    .map(({ fact, source }): PolicyRule => {
      let protocol;
      if (fact.protocol === undefined) protocol = null;
      else if (/^\d+$/.test(fact.protocol)) protocol = Number(fact.protocol);
      else protocol = PROTOCOL_NUMBER[fact.protocol] ?? null;
      return {
        family,
        priority: fact.priority,
        not: fact.not ?? false,
        from: fact.from ? parsePrefix(fact.from) : null,
        to: fact.to ? parsePrefix(fact.to) : null,
        in: fact.iif ?? null,
        out: fact.oif ?? null,
        mark: fact.fwmark ?? null,
        protocol,
        sport: fact.sport ?? null,
        dport: fact.dport ?? null,
        action: fact.action,
        table: fact.table ?? 'main',
        goto: fact.goto ?? null,
        suppressPrefixLength: fact.suppress ?? null,
        unmodelled: fact.unmodelled ?? null,
        source,
      };
    })
    .sort((a, b) => a.priority - b.priority);
}
