import { isObject, type Json } from '@bright-ferry/core/devices';
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

/** Named sets and maps with their elements, as the listing has them. */
export const nftSets = (fact: Of<'nft'>): unknown[] =>
  fact.objects.flatMap((o) =>
    o.is === 'set' || o.is === 'map'
      ? [
          {
            is: o.is,
            family: o.family,
            table: o.table,
            name: o.name,
            elements: o.elements.map(elementText),
            line: o.at.line,
          },
        ]
      : [],
  );

/** An element as the text form prints it, where it is an address, a network, a range or a number. */
function elementText(element: Json): Json {
  if (!isObject(element)) return element;
  const { prefix, range, elem } = element;
  if (isObject(prefix)) return `${String(prefix['addr'])}/${String(prefix['len'])}`;
  if (Array.isArray(range)) return range.map(String).join('-');
  return isObject(elem) && elem['val'] !== undefined ? elementText(elem['val']) : element;
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
