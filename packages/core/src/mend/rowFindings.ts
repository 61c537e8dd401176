import type { Slip } from '../ledger/index.ts';
import type { ForwardRow, RelayLease } from '../devices/index.ts';
import type { Address, Prefix } from '../net/index.ts';
import type { Served, Target } from './served.ts';

/** What is wrong in a table of forwards or mappings. */
export type RowFinding =
  | { readonly found: 'row-off'; readonly row: ForwardRow; readonly served: Served }
  | { readonly found: 'row-staged'; readonly row: ForwardRow; readonly served: Served }
  | {
      readonly found: 'row-line';
      readonly row: ForwardRow;
      readonly served: Served;
      /** The outside address that the row is bound to, or its line; and the address that was dialled. */
      readonly now: Address | string;
      readonly dialled: Address;
    }
  | {
      readonly found: 'row-sources';
      readonly row: ForwardRow;
      readonly served: Served;
      readonly client: Address;
      /** null: anyone */
      readonly wanted: readonly Prefix[] | null;
    }
  | { readonly found: 'row-protocol'; readonly row: ForwardRow; readonly served: Served }
  | { readonly found: 'row-outside-port'; readonly row: ForwardRow; readonly served: Served }
  | {
      readonly found: 'row-range';
      readonly row: ForwardRow;
      readonly served: Served;
      /** The outside ports that the service needs of it. */
      readonly mended: { readonly first: number; readonly last: number };
    }
  | {
      readonly found: 'row-missing';
      readonly served: Served;
      /** null: not known */
      readonly to: Address | null;
      /** Whether another gateway stands in the way, which needs a forward too. */
      readonly isOneOfSeveral: boolean;
    }
  | {
      readonly found: 'row-target';
      readonly row: ForwardRow;
      /** The row's place in its table, from 1. */
      readonly number: number;
      readonly served: Served;
      readonly now: Address;
      /** Who holds that address now: a name or a MAC; null where no lease says. */
      readonly holder: string | null;
      readonly target: Target;
    }
  | {
      /** A relay leads a port through its tunnel to a customer, by a lease. */
      readonly found: 'lease';
      /** null: none is for the service. */
      readonly lease: RelayLease | null;
      readonly mended: RelayLease;
      readonly part: 'none' | 'ended' | 'port' | 'protocol' | 'target' | 'inside-port';
      readonly served: Served;
    }
  | {
      readonly found: 'mapping-exchanged';
      readonly name: string | null;
      readonly inside: Address;
      readonly dialled: Address;
      readonly served: Served;
    }
  | {
      readonly found: 'mapping-target';
      readonly name: string | null;
      readonly now: Address;
      readonly server: Address;
      readonly slip: Slip | null;
      readonly served: Served;
    };
