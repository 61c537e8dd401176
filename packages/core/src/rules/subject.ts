import type { Address, Family, Header } from '../net/index.ts';

/** What rules can see of a tracked connection. */
export interface SessionView {
  /** IANA protocol number of the connection's packets: 6 or 17. */
  readonly protocol: number;
  readonly family: Family;
  readonly mark: number;
  readonly destinationTranslated: boolean;
  readonly sourceTranslated: boolean;
  readonly sawReply: boolean;
  /** TCP: the handshake is complete. */
  readonly assured: boolean;
  /** Whether the translations of a side have been looked up, whatever they came to. */
  readonly destinationDone: boolean;
  readonly sourceDone: boolean;
  readonly confirmed: boolean;
}

/** One tracked connection on one machine (RFC 2663 §2.6 "session"). */
export interface Session extends SessionView {
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
  assured: boolean;
  /**
   * Set once the first packet has left the machine or was delivered; before that the session does not exist
   * for others.
   */
  confirmed: boolean;
}

export type Direction = 'original' | 'reply';

/** How a packet belongs to a session. */
export interface Tracked<S extends SessionView> {
  readonly state: 'new' | 'established' | 'related' | 'invalid' | 'untracked';
  readonly direction: Direction;
  readonly session: S | null;
}

export type Tracking = Tracked<Session>;

/**
 * What is the same for all packets of whatever moves, be it one packet or a set of packets: all that a rule
 * can look at but the four header fields.
 */
export interface View {
  readonly family: Family;
  /** IANA protocol number. */
  readonly protocol: number;
  readonly icmp: { readonly type: number; readonly code: number } | null;
  readonly tcpFlags: number | null;
  readonly in: string | null;
  readonly out: string | null;
  readonly mark: number;
  /** null before tracking has looked at it. */
  readonly tracking: Tracked<SessionView> | null;
  readonly untracked: boolean;
}

/** A packet as rules see it at one moment. Mutable: rules translate and mark it. */
export interface Subject extends View {
  source: Address;
  destination: Address;
  /** null for ICMP */
  sport: number | null;
  dport: number | null;
  in: string | null;
  out: string | null;
  /** Set once routed: the neighbour that takes the packet. */
  nextHop: Address | null;
  mark: number;
  tracking: Tracking | null;
  untracked: boolean;
}
