import { type Address, type Prefix } from '../../net/index.ts';
import { type Doubt } from '../../rules/index.ts';
import type { SourceRef } from '../../place/index.ts';

/** One row of a forward table, with the place where it was written. */
export interface ForwardRow {
  readonly name: string;
  readonly protocol: 'tcp' | 'udp' | 'both';
  /** Outside ports, both ends included. */
  readonly outside: { readonly first: number; readonly last: number };
  readonly insideAddress: Address;
  /** First inside port; the rest of the range follows one to one. */
  readonly insideFirst: number;
  readonly enabled: boolean;
  /** null: the table does not say; taken as applied. */
  readonly applied: boolean | null;
  /** null: anyone */
  readonly sources: readonly Prefix[] | null;
  /** The outside line that it is bound to; missing: all. */
  readonly line?: string;
  readonly doubt: Doubt | null;
  readonly source: SourceRef | null;
}

export const rowText = (row: ForwardRow): string => {
  const ports =
    row.outside.first === row.outside.last
      ? `${row.outside.first}`
      : `${row.outside.first}-${row.outside.last}`;
  return `${row.protocol === 'both' ? 'tcp+udp' : row.protocol} ${ports}`;
};
