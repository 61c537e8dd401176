/** What became of a question, as far as the packets of its conversation at one place tell. */
export type ConversationEnd =
  | 'answered'
  | 'refused'
  | 'not-answered'
  /** The answer leaves again and again, and nobody takes it: it is lost on its way back. */
  | 'answer-lost'
  /** The asker resets the answer, as one does that comes from an address which was not asked. */
  | 'answer-refused'
  /** Only the answer passes this place: the question went another way. */
  | 'only-answers';

/** The packets of a conversation in both directions: from the one who asks, and to it. */
export interface ConversationCounts {
  readonly there: { readonly packets: number; readonly syns: number; readonly resets: number };
  readonly back: {
    readonly packets: number;
    readonly synAcks: number;
    readonly resets: number;
    /** Seconds between its first and its last SYN-ACK; NaN: not known. */
    readonly synAckSpan: number;
  };
}

/** An ICMP error about one of its packets. */
export interface ConversationError {
  readonly about: 'question' | 'answer';
  readonly from: string;
  readonly type: number;
  readonly code: number;
  /** How often; missing: once. */
  readonly count?: number;
}

/** A SYN-ACK that nobody takes is sent again after one second and after three (RFC 6298 §2, §5.5). */
const UNHEARD = 2.5;

/** What became of it (RFC 9293 §3.5: handshake, and resets of what belongs to no connection). */
export function conversationEnd({ there, back }: ConversationCounts): ConversationEnd {
  if (back.packets === 0) return 'not-answered';
  if (back.resets > 0 && back.synAcks === 0 && back.resets === back.packets) return 'refused';
  if (there.packets === 0) return 'only-answers';
  // One answer alone may be the last packet before the capture was stopped, or the only one that a filter by
  // flags let in; several at once are one packet on several interfaces.
  if (back.synAcks < 2) return 'answered';
  if (there.resets > 1 && there.packets === there.syns + there.resets) return 'answer-refused';
  return back.synAckSpan >= UNHEARD && there.packets === there.syns ? 'answer-lost' : 'answered';
}

/**
 * Destination unreachable, or its time exceeded on the way (RFC 792, RFC 4443 §3.1 and §3.3). A packet that
 * is too big is sent again in pieces (RFC 1191 §4); redirects and source quench lose none (RFC 1122 §3.2.2).
 */
const isUndelivered = ({ from, type, code }: ConversationError): boolean =>
  from.includes(':') ? type === 1 || type === 3 : (type === 3 && code !== 4) || type === 11;

/**
 * The error by which the question was refused, or its answers were lost on the way. null: none, or packets
 * went on all the same. Who asks may have closed its own port by the time the answer comes: that loses
 * nothing.
 */
export function endingError<E extends ConversationError>(
  { there, back }: ConversationCounts,
  asker: string,
  errors: readonly E[],
): E | null {
  const undelivered = errors.filter(isUndelivered);
  if (back.packets === 0) return undelivered.find((e) => e.about === 'question') ?? null;
  const lost = undelivered.filter((e) => e.about === 'answer' && e.from !== asker);
  // Who took an answer over TCP goes on with what is no SYN; over UDP each answer has to be accounted for.
  const isTaken =
    there.syns > 0 ? there.packets > there.syns : lost.reduce((n, e) => n + (e.count ?? 1), 0) < back.packets;
  return isTaken ? null : (lost[0] ?? null);
}
