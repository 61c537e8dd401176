import { expect } from 'chai';
import { conversationEnd, endingError, type ConversationCounts, type ConversationError } from './index.ts';

const NOTHING = { packets: 0, syns: 0, synAcks: 0, resets: 0, synAckSpan: NaN };
const counts = (
  there: Partial<ConversationCounts['there']>,
  back: Partial<ConversationCounts['back']> = {},
): ConversationCounts => ({ there: { ...NOTHING, ...there }, back: { ...NOTHING, ...back } });

const ASKER = '198.51.100.23';
const error = (
  about: ConversationError['about'],
  type: number,
  code: number,
  more: Partial<ConversationError> = {},
): ConversationError => ({ about, from: '192.168.50.1', type, code, ...more });
/** `question` or `answer`: what the errors ended; `goes on`: nothing. */
const ended = (of: ConversationCounts, ...errors: readonly ConversationError[]): string =>
  endingError(of, ASKER, errors)?.about ?? 'goes on';

const ASKED = counts({ packets: 3, syns: 3 });
const LOST = counts({ packets: 3, syns: 3 }, { packets: 3, synAcks: 3, synAckSpan: 3 });
const TAKEN = counts({ packets: 9, syns: 1 }, { packets: 8, synAcks: 1 });
const DATAGRAMS = counts({ packets: 2 }, { packets: 2 });

describe('ICMP errors that end a conversation (RFC 792, RFC 4443)', () => {
  const table: readonly (readonly [string, string, ConversationCounts, ...ConversationError[]])[] = [
    ['the question cannot be delivered', 'question', ASKED, error('question', 3, 1)],
    ['a filter says no to it', 'question', ASKED, error('question', 3, 13)],
    ['the same over IPv6', 'question', ASKED, error('question', 1, 4, { from: '2001:db8::1' })],
    ['it goes round until its time is over', 'question', ASKED, error('question', 11, 0)],
    ['a packet is too big, and is sent again in pieces', 'goes on', TAKEN, error('answer', 3, 4)],
    ['too big, over IPv6', 'goes on', ASKED, error('question', 2, 0, { from: '2001:db8::1' })],
    ['another way is pointed out', 'goes on', ASKED, error('question', 5, 1)],
    ['it was answered later on', 'goes on', TAKEN, error('question', 3, 3)],
    ['no answer can be delivered', 'answer', LOST, error('answer', 3, 1)],
    ['one answer could not, and the client goes on', 'goes on', TAKEN, error('answer', 3, 1)],
    ['each answer of UDP was lost', 'answer', DATAGRAMS, error('answer', 3, 1, { count: 2 })],
    ['one of two was', 'goes on', DATAGRAMS, error('answer', 3, 1)],
    [
      'the client has closed its port by then',
      'goes on',
      DATAGRAMS,
      error('answer', 3, 3, { from: ASKER, count: 2 }),
    ],
  ];
  for (const [title, expected, of, ...errors] of table)
    it(`${title}: ${expected}`, () => expect(ended(of, ...errors)).to.equal(expected));

  it('without any, the packets tell', () => {
    expect([ASKED, TAKEN].map((c) => endingError(c, ASKER, []))).to.deep.equal([null, null]);
    expect([ASKED, TAKEN, LOST].map(conversationEnd)).to.deep.equal([
      'not-answered',
      'answered',
      'answer-lost',
    ]);
  });
});
