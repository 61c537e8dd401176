import type { Span } from '../place/index.ts';
import type { Family, PortSet, Transport } from '../net/index.ts';
import type { Said } from './field.ts';
import type { Plain } from './plain.ts';
import type { ToldFact } from './told.ts';
import type { Doubt } from '../rules/index.ts';
import type { NftObject, IptablesTable } from '../devices/index.ts';

export type { Span };

interface Placed {
  readonly at: Span;
}

export interface InterfaceFact extends Placed {
  readonly kind: 'interface';
  readonly name: string;
  readonly index?: number;
  readonly mtu?: number;
  readonly operstate?: string;
  readonly adminUp?: boolean;
  readonly carrier?: boolean;
  readonly mac?: string;
  readonly loopback?: boolean;
  readonly noNeighbours?: boolean;
}

export interface AddressFact extends Placed {
  readonly kind: 'address';
  readonly interface: string;
  readonly family: Family;
  readonly address: string;
  readonly prefix: number;
  readonly peer?: string;
  readonly scope?: string;
  readonly secondary?: boolean;
  /** Name of the alias that it stands under, such as `eth0:1`. */
  readonly label?: string;
  readonly unusable?: boolean;
}

export interface RouteFact extends Placed {
  readonly kind: 'route';
  readonly family: Family;
  readonly table: string;
  readonly type: string;
  /** `default` or a prefix */
  readonly to: string;
  readonly hops: readonly { readonly via: string | null; readonly dev: string | null }[];
  readonly metric: number;
  readonly src?: string;
  readonly dead?: boolean;
  /** Its interface has no link. */
  readonly linkDown?: boolean;
  readonly unmodelled?: string;
}

export interface PolicyFact extends Placed {
  readonly kind: 'policy';
  readonly family: Family | null;
  readonly priority: number;
  readonly not?: boolean;
  readonly from?: string;
  readonly to?: string;
  readonly iif?: string;
  readonly oif?: string;
  readonly fwmark?: { readonly value: number; readonly mask: number };
  readonly protocol?: string;
  readonly sport?: { readonly first: number; readonly last: number };
  readonly dport?: { readonly first: number; readonly last: number };
  readonly action: 'lookup' | 'blackhole' | 'unreachable' | 'prohibit' | 'goto' | 'nop';
  readonly table?: string;
  readonly goto?: number;
  readonly suppress?: number;
  readonly unmodelled?: string;
}

export interface NeighbourFact extends Placed {
  readonly kind: 'neighbour';
  readonly address: string;
  readonly dev: string | null;
  readonly mac: string | null;
  readonly states: readonly string[];
}

export interface SocketFact extends Placed {
  readonly kind: 'socket';
  readonly protocol: Transport;
  /** 4, 6, or 0 for both */
  readonly family: Family | 0;
  /** `*` for any address of both families */
  readonly address: string;
  readonly port: number;
  readonly device?: string;
  /** `::` in a listing that does not tell whether IPv4 is taken too. */
  readonly bothFamilies?: 'not-said';
  readonly state: string;
  readonly peer?: string;
  readonly peerPort?: number;
  readonly processes: readonly { readonly name: string; readonly pid?: number; readonly fd?: number }[];
}

export interface SettingFact extends Placed {
  readonly kind: 'setting';
  readonly key: string;
  readonly value: string;
}

export interface LeaseFact extends Placed {
  readonly kind: 'lease';
  readonly address: string;
  readonly mac: string | null;
  readonly name: string | null;
  /** Seconds since 1970; null: never ends; 0: not said */
  readonly expires: number | null;
}

/** One row of a plain forward table, as its device shows it; what it does not show is open. */
export interface ForwardFact extends Placed {
  readonly kind: 'forward';
  readonly name?: string;
  /** `other`: neither TCP nor UDP. */
  readonly protocol: Said<'tcp' | 'udp' | 'both' | 'other'>;
  /** Outside ports. */
  readonly outside: Said<PortSet>;
  /** Where they are open: the ports that the row may be about; null: any. */
  readonly outsideWithin: PortSet | null;
  /** The inside address. */
  readonly target: Said<string>;
  /** Name or link address of the machine, where the row has one. */
  readonly device: string | null;
  /** Inside ports, one to one with the outside ones. */
  readonly inside: Said<PortSet | 'same'>;
  readonly enabled: Said<boolean>;
  /** null: the table does not say */
  readonly applied: boolean | null;
  /** What it waits for until it is in force. */
  readonly waitsFor?: 'restart';
  /** Senders that may use it, as written; null: anyone */
  readonly sources: Said<readonly string[] | null>;
  /** The outside address that it is bound to; null: any */
  readonly outsideAddress: Said<string | null>;
  /** What else may limit it: its line, its hours, words that are not understood. */
  readonly narrowed: readonly Doubt[];
  /** Packets that the row has counted, where the page shows that. */
  readonly counted?: number;
}

/** A value with its label, as on a status page or in one typed line. */
export interface LabelledFact extends Placed {
  readonly kind: 'labelled';
  readonly what: LabelKind;
  readonly label: string;
  readonly value: string;
  readonly prefix?: number;
}

export type LabelKind =
  | 'wan-address'
  | 'lan-address'
  | 'server-address'
  | 'client-address'
  | 'seen-address'
  | 'default-gateway'
  | 'dns-server'
  | 'connection-kind'
  | 'uptime'
  /** An address that the device had before, or that a line has which is not in use. */
  | 'previous-address'
  /** Its address on a second inside network. */
  | 'guest-address'
  /** The machine that takes everything that no forward takes. */
  | 'exposed-host'
  /** A port on which the device answers itself, or `on` where only that is said. */
  | 'own-port'
  /** `on` or `off`: whether inside machines may dial the outside address (hairpinning, RFC 4787 §6). */
  | 'hairpin'
  /** `none`: a machine that no public address leads to. */
  | 'no-public-address'
  /** `up` or `down`: the outside line. */
  | 'line-state'
  /** A machine's own address, beside its mask and its default gateway. */
  | 'own-address'
  | 'other';

export interface NameFact extends Placed {
  readonly kind: 'name';
  readonly name: string;
  readonly type: string;
  readonly status: 'NOERROR' | 'NXDOMAIN' | 'SERVFAIL' | 'REFUSED' | 'OTHER';
  readonly answers: readonly string[];
  /** What the name is an alias of, at the end of the chain. */
  readonly cname?: string;
  /** SRV answers (RFC 2782). */
  readonly services?: readonly {
    readonly priority: number;
    readonly weight: number;
    readonly port: number;
    readonly target: string;
  }[];
  readonly ttl?: number;
  readonly server?: string;
}

export interface NftFact extends Placed {
  readonly kind: 'nft';
  readonly objects: readonly NftObject[];
}

export interface IptablesFact extends Placed {
  readonly kind: 'iptables';
  readonly family: Family;
  readonly tables: readonly IptablesTable[];
  /** A listing of one table: what the others hold is not in it. */
  readonly oneTable?: boolean;
  /** The listing says that nft keeps rules in these tables which it cannot show. */
  readonly isBesideNft?: boolean;
}

/** Something that a text says and that nothing consumes but the list of what was read. */
export interface NotedFact extends Placed {
  readonly kind: 'noted';
  /** What it belongs to: `lines`, `packets`, `published` … */
  readonly topic: string;
  /** True where a text says it once, false where it is one of a list. */
  readonly once: boolean;
  readonly value: Plain;
  /** For people. */
  readonly text: string;
}

export type Fact =
  | InterfaceFact
  | AddressFact
  | RouteFact
  | PolicyFact
  | NeighbourFact
  | SocketFact
  | SettingFact
  | LeaseFact
  | ForwardFact
  | LabelledFact
  | NameFact
  | NftFact
  | IptablesFact
  | ToldFact
  | NotedFact;

export type FactKind = Fact['kind'];
