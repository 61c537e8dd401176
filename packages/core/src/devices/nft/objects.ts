import type { Span } from '../../place/index.ts';

/** JSON as libnftables-json(5) describes it; the text reader builds the same shapes. */
export type Json = null | boolean | number | string | readonly Json[] | { readonly [key: string]: Json };
export type JsonObject = { readonly [key: string]: Json };

export type NftFamily = 'ip' | 'ip6' | 'inet' | 'arp' | 'bridge' | 'netdev';

/** How much met a rule by the time of the listing. */
export interface Counted {
  readonly packets: number;
  readonly bytes: number;
}

/** One object of a rule set listing, with its place in the text. */
export type NftObject = { readonly at: Span } & (
  | { readonly is: 'table'; readonly family: NftFamily; readonly name: string; readonly dormant: boolean }
  | {
      readonly is: 'chain';
      readonly family: NftFamily;
      readonly table: string;
      readonly name: string;
      /** null: a chain that is only jumped to */
      readonly base: {
        readonly type: string;
        readonly hook: string;
        readonly priority: number;
        readonly policy: 'accept' | 'drop';
        readonly device: string | null;
      } | null;
    }
  | {
      readonly is: 'rule';
      readonly family: NftFamily;
      readonly table: string;
      readonly chain: string;
      readonly steps: readonly Json[];
      readonly text: string;
      readonly handle?: number;
      readonly counted?: Counted;
    }
  | {
      readonly is: 'set' | 'map';
      readonly family: NftFamily;
      readonly table: string;
      readonly name: string;
      readonly elements: readonly Json[];
      readonly flags: readonly string[];
    }
  /** Anything else (flow tables, counters, quotas, helpers …): known by name only. */
  | {
      readonly is: 'other';
      readonly what: string;
      readonly family: NftFamily;
      readonly table: string;
      readonly name: string;
    }
);

export const isObject = (value: unknown): value is JsonObject =>
  typeof value === 'object' && value !== null && !Array.isArray(value);
