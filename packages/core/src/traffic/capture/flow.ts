import type { ConversationError } from '../conversationEnd.ts';

/** The packets of one flow in one direction. */
export interface Way {
  readonly packets: number;
  readonly bytes: number;
  readonly syns: number;
  readonly synAcks: number;
  readonly resets: number;
  /** Seconds between the first and the last SYN-ACK of the flow; NaN: there was none, or it has no time. */
  readonly synAckSpan: number;
}

/** One conversation of a capture: who began it, and what came in each direction. */
export interface CapturedFlow {
  readonly protocol: 'tcp' | 'udp';
  readonly source: string;
  readonly sourcePort: number;
  readonly destination: string;
  readonly destinationPort: number;
  readonly there: Way;
  readonly back: Way;
  /** The sequence number of its first SYN (RFC 9293 §3.4.1); null: none was captured whole. */
  readonly initialSequence: number | null;
  /**
   * What the first datagram of a UDP flow says, as a hash of 32 bits; null: TCP, or too little of it was
   * captured. A translation passes it as it is (RFC 3022 §4.1).
   */
  readonly firstPayload: number | null;
  /** Number of its first packet in the file, from 1. */
  readonly frame: number;
  /** Seconds since 1970; NaN where the file has no times. */
  readonly first: number;
  readonly last: number;
  /** The ICMP errors about it: who said what (type and code) of which packet, and how often. */
  readonly errors: readonly (ConversationError & { readonly count: number })[];
}

/** The five-tuple of a packet; addresses as numbers. */
export interface Ends {
  readonly protocol: number;
  /** Whether the addresses are numbers of the list of IPv6 addresses. */
  readonly isOther: boolean;
  readonly source: number;
  readonly sourcePort: number;
  readonly destination: number;
  readonly port: number;
}

export interface Captured {
  /** Of TCP; 0 for UDP. */
  readonly flags: number;
  /** Of TCP, 32 bits; 0 for UDP. */
  readonly sequence: number;
  readonly bytes: number;
  readonly seconds: number;
  readonly frame: number;
}

/** Who sent an ICMP error, and which. */
export interface Told {
  readonly from: string;
  readonly type: number;
  readonly code: number;
}
