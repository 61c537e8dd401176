import { type Address, type Prefix } from '../../net/index.ts';
import { type Doubt } from '../../rules/index.ts';
import type { SourceRef } from '../../place/index.ts';

/** One row of a forward table, with the place where it was written. */
export interface ForwardRow {
  readonly name: string;
  readonly protocol: 'tcp' | 'udp' | 'both';
  /** Outside ports, both ends included. */
  readonly outside: { readonly first: number; readonly last: number };
  /** null: not known; then `unsure` says why. */
  readonly insideAddress: Address | null;
  /** First inside port; the rest of the range follows one to one. */
  readonly insideFirst: number;
  readonly enabled: boolean;
  /** null: the table does not say; taken as applied. */
  readonly applied: boolean | null;
  /** What it waits for until it is in force; missing: that the table is applied. */
  readonly waitsFor?: 'restart';
  /** null: anyone */
  readonly sources: readonly Prefix[] | null;
  /** The outside line that it is bound to; missing: all. */
  readonly line?: string;
  /** The outside address that it is bound to; missing: any. */
  readonly outsideAddress?: Address;
  /** What may limit it: whether it takes a packet that fits is open. */
  readonly doubts: readonly Doubt[];
  /** Where it sends to is open, for this reason; missing: to the inside address and port. */
  readonly unsure?: Doubt;
  readonly source: SourceRef | null;
}

export const rowText = (row: ForwardRow): string => {
  const ports =
    row.outside.first === row.outside.last
      ? `${row.outside.first}`
      : `${row.outside.first}-${row.outside.last}`;
  return `${row.protocol === 'both' ? 'tcp+udp' : row.protocol} ${ports}`;
};
