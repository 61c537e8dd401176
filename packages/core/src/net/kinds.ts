import type { Address } from './address.ts';
import type { KindRow } from './kindRow.ts';
import { KIND_TABLE } from './kindTable.ts';
import { prefix, prefixContains } from './prefix.ts';

const PARSED = KIND_TABLE.map((row) => ({ row, block: prefix(row.block) })).sort(
  (a, b) => b.block.length - a.block.length,
);

const PUBLIC: Readonly<Record<4 | 6, KindRow>> = {
  4: { block: '0.0.0.0/0', kind: 'public', name: 'Global unicast', rfc: 'RFC 791', reachable: true },
  6: { block: '2000::/3', kind: 'public', name: 'Global unicast', rfc: 'RFC 4291 §2.5.4', reachable: true },
};

/** The most specific registry row that holds the address; the family's public row where none does. */
export function addressKind(a: Address): KindRow {
  return PARSED.find(({ block }) => prefixContains(block, a))?.row ?? PUBLIC[a.family];
}

/** Whether the address can be a sender or a destination across the internet. */
export function isReachable(a: Address): boolean {
  return addressKind(a).reachable;
}
