import type { Family, PortSet } from '../net/index.ts';
import type { Said } from './field.ts';
import type { Plain } from './plain.ts';

/** A row of a host firewall. */
export interface HostRowRecord {
  readonly name: string | null;
  readonly enabled: Said<boolean>;
  readonly direction: Said<'in' | 'out'>;
  readonly action: Said<'allow' | 'block' | 'allow-if-authenticated'>;
  /** Empty: every profile. */
  readonly profiles: Said<readonly string[]>;
  /** null: any program */
  readonly program: Said<string | null>;
  /** `tcp`, `udp`, `any`, or another protocol in small letters. */
  readonly protocol: Said<string>;
  /** Ports and ranges; null: any. */
  readonly localPorts: Said<string | null>;
  readonly remotePorts: Said<string | null>;
  /** Empty: any. */
  readonly localAddresses: Said<readonly string[]>;
  readonly remoteAddresses: Said<readonly string[]>;
  /** Whatever else the row asks for, as kinds of interface, services and security; null: nothing. */
  readonly further: Said<null>;
}

/** What a profile of a host firewall does with a packet that no row names. */

export interface HostProfileRecord {
  readonly name: string;
  /** null: the word is not understood */
  readonly on: boolean | null;
  readonly in: 'allow' | 'block';
  readonly out: 'allow' | 'block';
  /** Whatever rows say, nothing comes in; `perhaps`: its word is not understood. */
  readonly blocksAll?: boolean | 'perhaps';
  /** Rows made on the machine itself are not used: those of the group policy are. */
  readonly ignoresRows?: boolean;
}

/** A row of a perimeter that lists what is let in. */

export interface AllowRowRecord {
  readonly name: string | null;
  readonly protocol: Said<'tcp' | 'udp' | 'any'>;
  /** null: any */
  readonly ports: Said<string | null>;
  /** Prefixes, `any`; empty where its sources are open. */
  readonly sources: Said<readonly string[]>;
  /** What else it says that may narrow it. */
  readonly further: Said<null>;
}

/** A row of a subnet's stateless list: each direction by itself, and the first row that fits decides. */

export interface SubnetRowRecord {
  readonly direction: 'in' | 'out';
  readonly action: 'allow' | 'deny';
  readonly protocol: Said<'tcp' | 'udp' | 'any'>;
  /** null: any */
  readonly ports: string | null;
  /** The other end; null: any. */
  readonly peers: Said<readonly string[] | null>;
}

/**
 * A mapping that a program asked a gateway for, as far as a listing shows it (RFC 6886, RFC 6887, UPnP
 * IGD:2).
 */

export interface MappingRecord {
  readonly protocol?: string;
  readonly externalPort?: number;
  readonly internalAddress?: string;
  readonly internalPort?: number;
  readonly description?: string;
  /** The one sender that may use it; missing or empty: any (WANIPConnection:2 §2.3.25). */
  readonly remoteHost?: string;
  /** Seconds left when it was listed; 0: it does not end (UPnP IGD:2 §2.5.16). */
  readonly lease?: number;
  /** Seconds since 1970; 0: it does not end. */
  readonly ends?: number;
  readonly granted?: boolean;
  readonly enabled?: boolean;
  readonly error?: number;
}

/** One direction of a tracked connection. */

export interface SessionTuple {
  readonly protocol: string;
  readonly source: string;
  readonly destination: string;
  readonly sourcePort?: number;
  readonly destinationPort?: number;
  readonly packets?: number;
  readonly bytes?: number;
}

/** A tracked connection (RFC 2663 §2.3). */

export interface SessionRecord {
  readonly original: SessionTuple;
  readonly reply: SessionTuple;
  readonly state?: string;
  readonly unreplied: boolean;
  readonly assured: boolean;
  readonly destinationTranslated: boolean;
  readonly sourceTranslated: boolean;
}

/** A packet that a log names; endpoints as `host:port`, `[host]:port` or a bare host. */

export interface TryRecord {
  readonly protocol: string;
  readonly from: string;
  readonly to: string;
  readonly count?: number;
  readonly prefix?: string;
  readonly in?: string;
  readonly out?: string;
  readonly translatedTo?: string;
  /** What was done with it, as its word or the words of the rule say it. */
  readonly fate?: 'kept-out' | 'let-in';
  /** The word for what was done. */
  readonly action?: string;
  /** When the first and the last of them came, as the log writes it. */
  readonly first?: string;
  readonly last?: string;
  /** Whether the machine that keeps the log sent it; else it came to it. */
  readonly isOutward?: boolean;
}

/** Packets of one connection in a capture. */

export interface ConversationRecord {
  readonly forwardTuple: {
    readonly protocol: string;
    readonly source: string;
    readonly sourcePort?: number;
    readonly destination: string;
    readonly destinationPort?: number;
  };
  readonly packetsForward: number;
  readonly packetsBack: number;
  /** Counts, frames and times as captures give them. */
  readonly [more: string]: Plain;
}

export interface OutsideTestRecord {
  readonly protocol: 'tcp' | 'udp' | null;
  readonly port: number;
  readonly state: 'open' | 'closed' | 'filtered';
  readonly address: string | null;
}

/** A carrier's notice: what it says is shared, blocked or kept elsewhere. */

export interface NoticeRecord {
  readonly about: 'shared-address' | 'blocked-ports' | 'shield' | 'portal';
  /** null: both, or not said */
  readonly protocol: 'tcp' | 'udp' | null;
  /** Of blocked ports. */
  readonly ports: PortSet | null;
}

/** Where a program sends its clients for the next connection (RFC 959, RFC 2428, RFC 2326). */

export interface AnnouncedRecord {
  /** null: the address that the client dialled. */
  readonly address: string | null;
  readonly port: number | null;
  /** The setting that says so; null: the program said it to a client. */
  readonly key: string | null;
}

/** A line that sets on what a web server listens. */

export interface ListenRecord {
  readonly port: number;
  readonly family?: Family;
  readonly address?: string;
  readonly protocol?: string;
  readonly tls?: boolean;
}
