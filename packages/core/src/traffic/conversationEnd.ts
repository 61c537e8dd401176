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
  readonly back: { readonly packets: number; readonly synAcks: number; readonly resets: number };
}

/** What became of it (RFC 9293 §3.5: handshake, and resets of what belongs to no connection). */
export function conversationEnd({ there, back }: ConversationCounts): ConversationEnd {
  if (back.packets === 0) return 'not-answered';
  if (back.resets > 0 && back.synAcks === 0 && back.resets === back.packets) return 'refused';
  if (there.packets === 0) return 'only-answers';
  if (back.synAcks > 0 && there.resets > 0 && there.packets === there.syns + there.resets)
    return 'answer-refused';
  // One answer alone may be the last packet before the capture was stopped.
  return back.synAcks > 1 && there.packets === there.syns ? 'answer-lost' : 'answered';
}
