import type { Slip } from '../ledger/index.ts';
import type { Written, RuleWish, Commands, HostRowChange } from '../devices/index.ts';
import type { Address, Endpoint, Prefix } from '../net/index.ts';
import type { Rule, Chain } from '../rules/index.ts';
import type { Served, Target } from './served.ts';

/** What is wrong in the rules of a packet filter, a firewall or a perimeter. */
export type RuleFinding =
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
      /** Connections open: only what follows their first packet is not allowed. */
      readonly further?: true;
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
      /** A firewall for programs blocks one; null: all that the system does not need itself. */
      readonly found: 'program-blocked';
      readonly app: string | null;
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
    };
