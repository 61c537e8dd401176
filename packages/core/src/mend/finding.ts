import type { Slip } from '../ledger/index.ts';
import type { ForwardRow, Written, RuleWish, Commands, HostRowChange } from '../devices/index.ts';
import type { Address, Endpoint, Transport, Prefix } from '../net/index.ts';
import type { Socket } from '../site/index.ts';
import type { Rule, Chain } from '../rules/index.ts';

/** The service whose packet ended, as it was dialled. */
export interface Served {
  readonly transport: Transport;
  readonly port: number;
}

/** Where a forward should lead: the next gateway inwards, or the server. */

export interface Target {
  readonly stop: string;
  readonly isGateway: boolean;
  readonly address: Address;
}

/** What was found wrong, with the values that mend it. The sentences are in `words/`. */

export type Finding =
  | {
      readonly found: 'no-link';
      readonly interface: string;
      /** Whether somebody has switched it off; else nothing is connected. */
      readonly isOff: boolean;
    }
  | { readonly found: 'row-off'; readonly row: ForwardRow; readonly served: Served }
  | { readonly found: 'row-staged'; readonly row: ForwardRow; readonly served: Served }
  | {
      readonly found: 'row-line';
      readonly row: ForwardRow;
      readonly served: Served;
      /** The outside address that the row is bound to, and the one that was dialled. */
      readonly now: Address;
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
      readonly found: 'translation-target';
      readonly rule: Rule;
      readonly served: Served;
      readonly now: Address;
      readonly holder: string | null;
      readonly target: Target;
      readonly written: Written | null;
    }
  | {
      readonly found: 'translation-missing';
      readonly wish: RuleWish;
      /** null: no chain translates destinations yet */
      readonly chain: Chain | null;
      readonly to: Address;
      readonly written: Written | null;
    }
  | {
      readonly found: 'translation-near';
      /** What of the rule does not agree with the packet. */
      readonly part: 'protocol' | 'port' | 'source' | 'address' | 'line';
      readonly rule: Rule;
      readonly chain: Chain;
      readonly served: Served;
      readonly now: string;
      readonly mended: string;
      readonly written: Written | null;
    }
  | {
      readonly found: 'inside-port';
      readonly served: Served;
      /** The port of the server that the forward leads to, and the one on which the program listens. */
      readonly now: number;
      readonly mended: number;
      /** The rule that translates; null: it is a row of a table. */
      readonly rule: Rule | null;
      /** null: it is a row of a table. */
      readonly written: Written | null;
    }
  | {
      readonly found: 'shadowed';
      readonly served: Served;
      /** The row or rule that takes the packet, by its name, and the one below it that would be right. */
      readonly by: string;
      readonly right: string;
      readonly now: Address;
      readonly mended: Address;
      /** null: they are rows of a table. */
      readonly written: Commands | null;
    }
  | {
      readonly found: 'wrong-side';
      readonly chain: Chain;
      readonly rule: Rule;
      readonly served: Served;
      /** The address that the rule names, as it was dialled, and the one that the packet has there. */
      readonly now: Address;
      readonly mended: Address;
      readonly written: Written | null;
    }
  | {
      readonly found: 'sources-too-narrow';
      readonly chain: Chain;
      readonly rule: Rule;
      readonly served: Served;
      readonly allowed: readonly Prefix[];
      readonly client: Address;
      /** The sources as mended; null: anyone. */
      readonly sources: readonly Prefix[] | null;
      /** Those of them that were not allowed before. */
      readonly added: readonly Prefix[];
      /** How the allowed address is a slip of the pen for the client's; null: it is none, and is kept. */
      readonly slip: Slip | null;
      readonly written: Written | null;
    }
  | {
      readonly found: 'not-allowed';
      readonly chain: Chain;
      /** The rule that ends it; null: the chain's end does. */
      readonly rule: Rule | null;
      readonly wish: RuleWish;
      readonly written: Written | null;
    }
  | {
      /** A row that blocks, of a firewall where such rows win over those that allow. */
      readonly found: 'row-blocks';
      readonly rule: Rule;
      readonly served: Served;
      readonly written: Commands | null;
    }
  | {
      /** One value of a row that was made for the service. */
      readonly found: 'row-value';
      readonly name: string | null;
      readonly change: HostRowChange;
      readonly served: Served;
      readonly written: Commands | null;
    }
  | {
      readonly found: 'hairpin';
      readonly served: Served;
      /** The outside address that an inside client dialled, and where it is forwarded to. */
      readonly dialled: Address;
      readonly to: Endpoint;
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
    }
  | {
      readonly found: 'zone-rule';
      readonly what: 'destination' | 'zone';
      readonly rule: { readonly name: string | null; readonly number: number };
      readonly now: string;
      readonly mended: string;
      /** Whether it names the address or zone of the other side of the translation. */
      readonly isOtherSide: boolean;
      readonly mapping: { readonly name: string | null; readonly to: Address } | undefined;
      readonly slip: Slip | null;
      readonly served: Served;
    }
  | {
      readonly found: 'zone-rule-missing';
      readonly served: Served;
      /** Zones; null: not known */
      readonly from: string | null;
      readonly to: string | null;
      /** As the rules see it. */
      readonly destination: Endpoint;
      /** null: anyone */
      readonly peers: readonly Prefix[] | null;
    }
  | {
      readonly found: 'untranslated';
      /** The name of the rule that lets it pass; null: none does. */
      readonly rule: string | null;
      readonly outside: Address;
      readonly to: Address | null;
      readonly served: Served;
    }
  | {
      readonly found: 'listener';
      readonly how: 'loopback' | 'address' | 'family' | 'protocol' | 'none';
      readonly endpoint: Endpoint;
      readonly transport: Transport;
      /** The socket that comes nearest; null where nothing does. */
      readonly near: Socket | null;
      readonly service: string | null;
    }
  | {
      readonly found: 'setting';
      readonly key: string;
      readonly now: string;
      readonly mended: string;
      /** Set where the reverse-path check drops; null: forwarding is off. */
      readonly dropped: { readonly address: Address; readonly interface: string } | null;
    }
  | {
      readonly found: 'announces';
      /** Where the program sends its clients after its first answer; the port where somebody saw it. */
      readonly now: Address;
      readonly port: number | null;
      /** What the client dialled. */
      readonly mended: Address;
      /** The setting that says so; null: not known */
      readonly key: string | null;
      readonly dataPorts: { readonly first: number; readonly last: number } | null;
    }
  | { readonly found: 'no-default-gateway'; readonly via: Address; readonly device: string }
  | {
      readonly found: 'record';
      readonly name: string;
      readonly type: string;
      readonly now: Address;
      readonly mended: Address;
    }
  | { readonly found: 'dialled'; readonly now: Address; readonly mended: Address }
  | {
      readonly found: 'shared-address';
      readonly gateway: string;
      readonly wan: Address | null;
      readonly shared: Address;
      /** Whether the internet showed the shared address, or only the client dials it. */
      readonly isSeen: boolean;
    };
