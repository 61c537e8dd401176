import { known, open as unknown, saidOr, type SubnetRowRecord } from '../../facts/index.ts';
import type { Span } from '../../place/index.ts';
import { ANYONE, draft, gather, rowOf } from './allowRow.ts';

export interface SubnetRowAt {
  readonly row: SubnetRowRecord;
  readonly at: Span;
}

/** A list that sees each packet by itself: answers need rows of their own. */
export const isStateless = (value: Record<string, unknown>): boolean =>
  value['stateful'] === false || value['stateless'] === true;

export function subnetRows(value: Record<string, unknown>, at: Span): SubnetRowAt[] {
  const listOf = (pattern: RegExp): readonly unknown[] =>
    Object.entries(value).flatMap(([key, v]) =>
      pattern.test(key) && Array.isArray(v) ? (v as unknown[]) : [],
    );
  return [
    ...inOrder(listOf(/^in$|ingress|inbound/i)).map((v) => ({ row: subnetRow(v, 'in'), at })),
    ...inOrder(listOf(/^out$|egress|outbound/i)).map((v) => ({ row: subnetRow(v, 'out'), at })),
  ];
}

function subnetRow(value: unknown, direction: 'in' | 'out'): SubnetRowRecord {
  const d = draft();
  const own = typeof value === 'object' && value !== null ? (value as Record<string, unknown>) : {};
  // Of what goes out the other end is where it goes to.
  const renamed = Object.entries(own).map(([k, v]) => [/^dest/i.test(k) ? 'source' : k, v] as const);
  gather(d, Object.fromEntries(renamed), '');
  const row = rowOf({ ...d, outward: false, inward: true });
  const isKnown = row !== null && row !== 'passed';
  const peers = isKnown ? saidOr(row.sources, null) : null;
  const isOpen = !isKnown || 'open' in row.further || 'open' in row.ports || peers === null;
  const word = { doubt: 'word', field: 'option', text: JSON.stringify(value).slice(0, 120) } as const;
  return {
    direction,
    action: d.refuses ? 'deny' : 'allow',
    protocol: isKnown ? row.protocol : unknown(word),
    ports: isKnown ? saidOr(row.ports, null) : null,
    peers: isOpen ? unknown(word) : known(peers.some((p) => ANYONE.test(p)) ? null : peers),
  };
}

/** Rows are asked by their numbers, where they have any, whatever their places in the export. */
function inOrder(list: readonly unknown[]): readonly unknown[] {
  const numbers = list.map(numberOf);
  if (numbers.some((n) => n === null)) return list;
  return list
    .map((v, i) => [v, numbers[i] ?? 0] as const)
    .sort((a, b) => a[1] - b[1])
    .map(([v]) => v);
}

function numberOf(value: unknown): number | null {
  const entries = typeof value === 'object' && value !== null ? Object.entries(value) : [];
  const found = entries.find(([key, v]) => /number|priority|order/i.test(key) && typeof v === 'number');
  return typeof found?.[1] === 'number' ? found[1] : null;
}
