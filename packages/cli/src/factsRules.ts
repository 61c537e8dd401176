import type { Of } from './factsDocument.ts';

export function nftChains(fact: Of<'nft'>): unknown[] {
  return fact.objects.flatMap((o) =>
    o.is === 'chain'
      ? [
          {
            family: o.family,
            table: o.table,
            name: o.name,
            ...(o.base
              ? { type: o.base.type, hook: o.base.hook, priority: o.base.priority, policy: o.base.policy }
              : {}),
            rules: fact.objects.filter(
              (r) => r.is === 'rule' && r.family === o.family && r.table === o.table && r.chain === o.name,
            ).length,
            line: o.at.line,
          },
        ]
      : [],
  );
}

/** Table, then chain: `{ "filter": { "INPUT": { "policy": "DROP", "rules": 7 } } }`. */
export function iptablesChains(
  facts: readonly Of<'iptables'>[],
): Record<string, Record<string, { policy: string | null; rules: number }>> {
  const out: Record<string, Record<string, { policy: string | null; rules: number }>> = {};
  for (const t of facts.flatMap((f) => f.tables))
    out[t.name] = Object.fromEntries(
      t.chains.map((c) => [
        c.name,
        { policy: c.policy, rules: t.rules.filter((r) => r.chain === c.name).length },
      ]),
    );
  return out;
}

/**
 * Counters in the order of the rules: `{ "filter": { "INPUT": { "policy": "DROP", "policyPackets": 3,
 * "rules": [[packets, bytes], …] } } }`.
 */
export function iptablesCounters(facts: readonly Of<'iptables'>[]): Record<string, unknown> | null {
  const tables = facts.flatMap((f) => f.tables);
  if (!tables.some((t) => t.rules.some((r) => r.counted))) return null;
  return Object.fromEntries(
    tables.map((t) => [
      t.name,
      Object.fromEntries(
        t.chains.map((c) => [
          c.name,
          {
            policy: c.policy,
            policyPackets: c.policy === null ? null : (c.counted?.[0] ?? null),
            rules: t.rules.filter((r) => r.chain === c.name).map((r) => r.counted ?? null),
          },
        ]),
      ),
    ]),
  );
}

export function objectCounts(fact: Of<'nft'>): Record<string, number> {
  const counts: Record<string, number> = {};
  for (const o of fact.objects) counts[o.is] = (counts[o.is] ?? 0) + 1;
  return counts;
}
