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
