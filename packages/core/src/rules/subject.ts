import type { Address, Family, Header } from '../net/index.ts';

/** One tracked connection on one machine (RFC 2663 §2.6 "session"). */
export interface Session {
  /** The first packet as it came in. */
  readonly original: Header;
  /** The header that the answer is expected to carry. Translations change it. */
  reply: Header;
  mark: number;
  destinationTranslated: boolean;
  sourceTranslated: boolean;
  destinationDone: boolean;
  sourceDone: boolean;
  sawReply: boolean;
  /** Set once the first packet has left the machine or was delivered; before that the session does not exist for others. */
  confirmed: boolean;
}

export type Direction = 'original' | 'reply';

/** How the packet belongs to a session; null before tracking has looked at it. */
export interface Tracking {
  readonly state: 'new' | 'established' | 'related' | 'invalid' | 'untracked';
  readonly direction: Direction;
  readonly session: Session | null;
}

/** A packet as rules see it at one moment. Mutable: rules translate and mark it. */
export interface Subject {
  readonly family: Family;
  /** IANA protocol number. */
  readonly protocol: number;
  source: Address;
  destination: Address;
  /** null for ICMP */
  sport: number | null;
  dport: number | null;
  readonly icmp: { readonly type: number; readonly code: number } | null;
  readonly tcpFlags: number | null;
  in: string | null;
  out: string | null;
  /** Set once routed: the neighbour that takes the packet. */
  nextHop: Address | null;
  mark: number;
  tracking: Tracking | null;
  untracked: boolean;
}
