import type { AddressSet, Address, Family, IntervalSet, Prefix } from '../net/index.ts';
import type { SourceRef } from '../place/index.ts';
import type { Doubt } from './needs.ts';

/**
 * The five places where the kernel's packet filter looks at a packet; other devices are compiled onto the
 * same five.
 */
export type Hook = 'prerouting' | 'input' | 'forward' | 'output' | 'postrouting';

/**
 * What a rule can look at. `and` masks another field before the comparison. A field that a packet does not
 * have (a TCP port of an ICMP packet) makes the rule miss, as in the kernel.
 */
export type Field =
  | { readonly of: 'source' | 'destination'; readonly family: Family | null }
  | { readonly of: 'sport' | 'dport'; readonly protocol: number | null }
  /**
   * `family` set: the protocol of that family's header (`ip protocol`), which packets of the other do not
   * have.
   */
  | { readonly of: 'protocol'; readonly family?: Family }
  | { readonly of: 'family' | 'in' | 'out' | 'mark' | 'packet-type' | 'tcp-flags' | 'random' }
  /** IPv4 time to live or IPv6 hop limit as it comes in. */
  | { readonly of: 'hops-left'; readonly family: Family }
  | { readonly of: 'icmp-type' | 'icmp-code'; readonly protocol: number }
  | { readonly of: 'ct-state' | 'ct-status' | 'ct-direction' | 'ct-mark' | 'ct-protocol' | 'ct-family' }
  | {
      readonly of: 'ct-source' | 'ct-destination';
      readonly direction: 'original' | 'reply';
      readonly family: Family | null;
    }
  | { readonly of: 'ct-sport' | 'ct-dport'; readonly direction: 'original' | 'reply' }
  /** Type of the route to an address (`local`, `unicast`, …), optionally only for one interface. */
  | {
      readonly of: 'address-type';
      readonly side: 'source' | 'destination';
      readonly only: 'in' | 'out' | null;
    }
  /** Whether the reverse path leads out of the incoming interface; value 1 or 0. */
  | { readonly of: 'reverse-path'; readonly mark: boolean; readonly interface: boolean }
  | { readonly of: 'and'; readonly field: Field; readonly mask: number };

/** The values that a field is compared with. */
export type ValueSet =
  | { readonly type: 'numbers'; readonly set: IntervalSet<number> }
  /** Any of these bits is set. */
  | { readonly type: 'bits'; readonly mask: number }
  | { readonly type: 'addresses'; readonly set: AddressSet }
  /** Interface names; a trailing `*` stands for any rest. */
  | { readonly type: 'names'; readonly names: readonly string[] };

/** Ways to say no (RFC 792, RFC 4443, RFC 9293), in the family of the packet. */
export type RejectKind =
  /** A reset for TCP, “port unreachable” for what is not (pf.conf(5), `return`). */
  | 'by-transport'
  | 'tcp-reset'
  | 'port-unreachable'
  | 'host-unreachable'
  | 'net-unreachable'
  | 'admin-prohibited'
  | 'protocol-unreachable';

export type Verdict =
  | { readonly verdict: 'accept' | 'drop' | 'return' | 'continue' }
  | { readonly verdict: 'reject'; readonly kind: RejectKind }
  | { readonly verdict: 'jump' | 'goto'; readonly chain: Chain };

/** One row of a lookup from field values to something. */
export interface MapRow<T> {
  readonly key: readonly ValueSet[];
  readonly value: T;
}

export interface Lookup<T> {
  readonly fields: readonly Field[];
  readonly rows: readonly MapRow<T>[];
}

/** Where a translation sends to; null parts stay as they are. */
export interface TranslationTarget {
  readonly addresses: { readonly first: Address; readonly last: Address } | null;
  /**
   * `base` set: the port is moved by its distance from `base`; otherwise kept when inside, else the first one
   * is taken.
   */
  readonly ports: { readonly first: number; readonly last: number; readonly base: number | null } | null;
  /** One-to-one: the host part is kept, the prefix replaced. */
  readonly prefix?: Prefix | null;
}

/** The packet's own mark, or the one that its session remembers. */
export type MarkName = 'mark' | 'ct-mark';

export type Step =
  | {
      readonly do: 'match';
      readonly fields: readonly Field[];
      readonly rows: readonly (readonly ValueSet[])[];
      readonly negate: boolean;
    }
  | { readonly do: 'verdict'; readonly verdict: Verdict }
  | { readonly do: 'verdict-map'; readonly lookup: Lookup<Verdict> }
  | {
      readonly do: 'translate';
      readonly side: 'source' | 'destination';
      readonly family: Family | null;
      readonly target: TranslationTarget;
    }
  | {
      readonly do: 'translate-map';
      readonly side: 'source' | 'destination';
      readonly family: Family | null;
      readonly lookup: Lookup<TranslationTarget>;
    }
  | { readonly do: 'masquerade' | 'redirect'; readonly ports: TranslationTarget['ports'] }
  /** `on = (from & keep) ^ flip`; `keep` 0 sets a constant. */
  | {
      readonly do: 'set-mark';
      readonly on: MarkName;
      readonly from: MarkName;
      readonly keep: number;
      readonly flip: number;
    }
  | { readonly do: 'notrack' }
  /** Counter, log, comment and the like: no effect on the packet. */
  | { readonly do: 'note'; readonly what: string }
  /** A condition that time or earlier packets decide (limit, recent, connection counts): true or false. */
  | { readonly do: 'chance'; readonly doubt: Doubt }
  /** A condition that is false at first and true after a while. */
  | { readonly do: 'over-time'; readonly doubt: Doubt }
  /** A condition that this program does not model: true or false. */
  | { readonly do: 'unmodelled-match'; readonly doubt: Doubt }
  /** A statement that this program does not model: it may let through, end the packet, or do nothing. */
  | { readonly do: 'unmodelled-action'; readonly doubt: Doubt };

/** Where a chain comes from: commands are written in that program's own syntax. */
export type Origin =
  | { readonly program: 'nft'; readonly family: string; readonly table: string; readonly chain: string }
  | {
      readonly program: 'iptables';
      readonly command: 'iptables' | 'ip6tables';
      readonly table: string;
      readonly chain: string;
    }
  /** Rows of the program that people set the packet filter of a Linux machine with. */
  | { readonly program: 'ufw' }
  | { readonly program: 'firewalld'; readonly zone: string | null }
  /** Rows of the host firewall of Windows, on one profile. */
  | { readonly program: 'profiles'; readonly profile: string }
  /** Rows of the firewall for programs of macOS. */
  | { readonly program: 'applications' }
  /** Rules of the BSD packet filter, which are kept in its file. */
  | { readonly program: 'bsd' }
  /** Made from the rows and settings of a device, which takes no rules. */
  | {
      readonly program: 'device';
      /** What its last rule does is what such devices usually do; its page does not say it. */
      readonly end?: 'presumed';
    };

/** Where a row stands in the settings of a device that somebody filled in. */
export interface RowPlace {
  /** The list in words of docs/formats/settings.md: `rows`, `lines`, `lists/0`, `subnetList/in`. */
  readonly list: string;
  /** From 0. */
  readonly at: number;
}

export interface Rule {
  /** Stable within the program: `table/chain/number`. */
  readonly id: string;
  /** The rule as its device writes it. */
  readonly text: string;
  readonly source: SourceRef | null;
  readonly steps: readonly Step[];
  /**
   * By which a listing of the packet filter calls it: its number in the chain, from 1, and its handle (nft
   * -a).
   */
  readonly number?: number;
  readonly handle?: number;
  /** The row that it was made of, where it stands in a device's own kind of words. */
  readonly row?: RowPlace;
}

export interface Chain {
  readonly id: string;
  readonly name: string;
  readonly origin: Origin;
  readonly rules: Rule[];
  readonly source: SourceRef | null;
}

export interface BaseChain {
  readonly hook: Hook;
  /**
   * Lower runs first; `nat` chains run at the kernel's fixed places whatever their number (see `order.ts`).
   */
  readonly priority: number;
  readonly type: 'filter' | 'nat' | 'route';
  readonly policy: 'accept' | 'drop';
  /** The families whose packets visit the chain. */
  readonly families: readonly Family[];
  readonly chain: Chain;
}

/** Everything that a device does with packets, compiled from its own kind of settings. */
export interface Program {
  readonly baseChains: readonly BaseChain[];
  readonly chains: readonly Chain[];
}

export const EMPTY_PROGRAM: Program = { baseChains: [], chains: [] };

/** Stands for rules that nobody looks at: the client’s own machine lets its call out and the answer in. */
export const PRESUMED_OPEN: Program = { baseChains: [], chains: [] };

/** `ct state` bits as nft prints them. */
export const CT_STATE = { invalid: 1, established: 2, related: 4, new: 8, untracked: 64 } as const;
/** `ct status` bits as nft prints them. */
export const CT_STATUS = {
  expected: 1,
  'seen-reply': 2,
  assured: 4,
  confirmed: 8,
  snat: 16,
  dnat: 32,
  dying: 512,
} as const;
/** `meta pkttype` values (linux/if_packet.h). */
export const PACKET_TYPE = { host: 0, unicast: 0, broadcast: 1, multicast: 2, other: 3 } as const;
/** Route types (linux/rtnetlink.h) as compared by `fib … type` and `addrtype`. */
export const ROUTE_TYPE = {
  unspec: 0,
  unicast: 1,
  local: 2,
  broadcast: 3,
  anycast: 4,
  multicast: 5,
  blackhole: 6,
  unreachable: 7,
  prohibit: 8,
} as const;
/** TCP flags (RFC 9293 §3.1). */
export const TCP_FLAG = { fin: 1, syn: 2, rst: 4, psh: 8, ack: 16, urg: 32, ecn: 64, cwr: 128 } as const;
