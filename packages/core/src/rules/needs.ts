import type { Address, Endpoint, Family, Transport } from '../net/index.ts';

/**
 * Why it is not known whether a condition of a rule holds, or what its action does. The sentences are in
 * `words/`.
 */
export type Doubt =
  /** A part of a rule that this program does not model, as the rule writes it. */
  | {
      readonly doubt: 'not-modelled';
      readonly part: 'match' | 'target' | 'statement';
      readonly text: string;
    }
  | {
      readonly doubt: 'chain-not-modelled';
      readonly chain: string;
      readonly family: string;
      readonly table: string;
      readonly hook: string;
    }
  /** What time or earlier packets decide. */
  | { readonly doubt: 'earlier-packets'; readonly what: string }
  | { readonly doubt: 'limit-per-sender' }
  /** True only after a while: the carrier's shield. */
  | { readonly doubt: 'shield-later' }
  /** The carrier calls the address shared, and the gateway holds one of its own. */
  | { readonly doubt: 'address-shared' }
  | { readonly doubt: 'client-approved' }
  | {
      readonly doubt: 'carrier-notice';
      readonly about: 'shared-address' | 'blocked-ports' | 'shield';
      readonly text: string;
    }
  /** Something at the carrier's stop that no reader understands. */
  | { readonly doubt: 'unread-notice'; readonly file: string }
  /** The device was changed after what is known of it was taken. */
  | { readonly doubt: 'changed-since'; readonly title: string }
  | { readonly doubt: 'group-members'; readonly group: string }
  | { readonly doubt: 'table-cut-off'; readonly table: string }
  | { readonly doubt: 'nat-not-listed' }
  /** A word of a record whose meaning is not known here: what it narrows, or what it leads to, is open. */
  | { readonly doubt: 'word'; readonly field: FieldName; readonly text: string }
  /** Fields that a record does not show. */
  | { readonly doubt: 'not-shown'; readonly fields: readonly FieldName[] }
  /** A row that holds for one program, service or kind of interface. */
  | { readonly doubt: 'narrowed'; readonly text: string }
  | { readonly doubt: 'both-directions' }
  | { readonly doubt: 'range-lengths' }
  | { readonly doubt: 'ports-of-which-protocol' }
  | { readonly doubt: 'which-list' }
  | { readonly doubt: 'further-list' }
  | { readonly doubt: 'rows-not-listed' }
  /** Rows of the group policy count instead of the machine's own. */
  | { readonly doubt: 'policy-rows' }
  | { readonly doubt: 'rows-perhaps-not-whole' }
  | { readonly doubt: 'forwards-perhaps-not-whole' }
  | { readonly doubt: 'portal-not-known' }
  | { readonly doubt: 'exposed-host' }
  /** It stands in one of several tables, and which of them is the newest is not known. */
  | { readonly doubt: 'which-table' }
  | { readonly doubt: 'host-firewall-on' }
  /** What a front end does with what no row names: its listing does not say. */
  | { readonly doubt: 'front-end-default' }
  | { readonly doubt: 'lets-nothing-in' }
  | { readonly doubt: 'filter-of-forwarded' }
  | { readonly doubt: 'translations-listed' }
  | { readonly doubt: 'application-firewall' }
  /** Of two rows that claim one port: the earlier one, by its name and where it leads. */
  | { readonly doubt: 'later-row-claims'; readonly row: string; readonly to: string | null }
  | {
      readonly doubt: 'mapping-there';
      readonly protocol: string;
      readonly port: number;
      readonly until: string;
    }
  | { readonly doubt: 'filter-beside-forwards'; readonly rows: number }
  | { readonly doubt: 'active-profile' }
  | { readonly doubt: 'stealth' }
  | { readonly doubt: 'port-of-program'; readonly program: string }
  | { readonly doubt: 'hairpin' }
  | { readonly doubt: 'answering-line' }
  | { readonly doubt: 'address-of-other-line'; readonly line: string }
  | { readonly doubt: 'relay-hides-client' }
  | { readonly doubt: 'lease-holds'; readonly port: number; readonly until: string }
  | { readonly doubt: 'firewall-answers' }
  | { readonly doubt: 'filter-sees'; readonly what: 'address' | 'zone' }
  /** A row of which something is open. */
  | {
      readonly doubt: 'row';
      readonly number: number;
      readonly name: string | null;
      readonly of: Doubt;
    }
  /** Words of a person or of the evidence itself, such as a doubt that the case states. */
  | { readonly doubt: 'said'; readonly text: string };

/** The parts of a row, as far as something can be open about them. */
export type FieldName =
  | 'action'
  | 'protocol'
  | 'ports'
  | 'addresses'
  | 'interface'
  | 'profile'
  | 'program'
  | 'security'
  | 'flags'
  | 'state'
  | 'source'
  | 'option';

/**
 * What would have to be known to say what becomes of a packet. The sentences are in `words/`, at three
 * lengths.
 */
export type Need =
  | {
      readonly need: 'condition';
      readonly stop: string;
      readonly doubt: Doubt;
      /** The rule as its listing prints it; null for one that was made from rows or settings. */
      readonly rule: string | null;
    }
  | { readonly need: 'over-time'; readonly doubt: Doubt }
  | { readonly need: 'circle'; readonly stop: string; readonly chain: string }
  | { readonly need: 'dice' }
  | { readonly need: 'choice-of-range' }
  | { readonly need: 'target'; readonly stop: string; readonly rule: string }
  | { readonly need: 'time-to-live' }
  | {
      readonly need: 'routing-rule';
      readonly stop: string;
      readonly priority: number;
      readonly text: string;
    }
  | { readonly need: 'route-words'; readonly stop: string; readonly text: string }
  | { readonly need: 'spread'; readonly stop: string; readonly ways: number }
  | { readonly need: 'addresses'; readonly stop: string }
  | { readonly need: 'routes'; readonly stop: string; readonly family: Family }
  | { readonly need: 'rules'; readonly stop: string; readonly family: Family }
  | { readonly need: 'interface'; readonly stop: string; readonly interface: string }
  | { readonly need: 'interface-of-route'; readonly stop: string; readonly destination: Address }
  | { readonly need: 'kind-of-packet'; readonly stop: string; readonly kind: string }
  | {
      readonly need: 'holder';
      readonly stop: string;
      /** null: somewhere on its network */
      readonly interface: string | null;
      readonly address: Address;
      readonly mac: string | null;
    }
  | { readonly need: 'sender'; readonly endpoint: Endpoint }
  | { readonly need: 'default-gateway'; readonly stop: string }
  | { readonly need: 'to-itself'; readonly stop: string }
  | {
      readonly need: 'listeners';
      readonly stop: string;
      readonly transport: Transport;
      readonly port: number;
    }
  | {
      readonly need: 'own-listener';
      readonly stop: string;
      readonly transport: Transport;
      readonly endpoint: Endpoint;
    }
  | {
      readonly need: 'dual-stack';
      readonly stop: string;
      readonly transport: Transport;
      readonly port: number;
      readonly program: string | null;
    }
  | { readonly need: 'reverse-path'; readonly stop: string; readonly interface: string }
  | { readonly need: 'forwarding'; readonly stop: string; readonly setting: string }
  | { readonly need: 'public-address-turned'; readonly stop: string }
  | { readonly need: 'public-address-of-private'; readonly stop: string }
  | { readonly need: 'outside-address'; readonly stop: string }
  /** Whether a mapping of a router claims an address of its outside network. */
  | { readonly need: 'claimed-address'; readonly stop: string; readonly address: Address }
  /** A try came out otherwise than what is known lets it. */
  | {
      readonly need: 'try-differs';
      readonly tried: 'answered' | 'refused' | 'lost';
      readonly worked: 'answered' | 'refused' | 'lost';
    }
  | { readonly need: 'sender-port' }
  | { readonly need: 'router-before'; readonly stop: string; readonly address: Address };

/** The stop that a need is about; null where it is about none. */
export const stopOf = (need: Need): string | null => ('stop' in need ? need.stop : null);
