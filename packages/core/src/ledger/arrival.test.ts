import { expect } from 'chai';
import { parseAddress } from '../net/index.ts';
import { caseFacts } from '../testing/index.ts';
import { arrivalOf } from './arrival.ts';

const PATH = [
  { id: 'client', role: 'client' },
  { id: 'gateway', role: 'gateway' },
  { id: 'host', role: 'host' },
];
const [CLIENT, SERVER] = ['198.51.100.23.40112', '192.168.50.20.8214'];
const EVERY = 'tcpdump -n -i any port 8214';

let clock = 0;
/** A line of a capture, a second after the one before. */
const line = (from: string, to: string, rest: string): string => {
  clock++;
  const two = (n: number): string => String(n).padStart(2, '0');
  return `12:${two(Math.floor(clock / 60))}:${two(clock % 60)}.000000 IP ${from} > ${to}: ${rest}\n`;
};
const syn = (): string => line(CLIENT!, SERVER!, 'Flags [S], seq 100, win 64240, length 0');
const synAck = (): string => line(SERVER!, CLIENT!, 'Flags [S.], seq 700, ack 101, win 65160, length 0');
const reset = (): string => line(SERVER!, CLIENT!, 'Flags [R.], seq 0, ack 101, win 0, length 0');
const data = (): string => line(CLIENT!, SERVER!, 'Flags [P.], seq 101:109, ack 701, win 502, length 8');
const datagram = (): string => line(CLIENT!, SERVER!, 'UDP, length 8');

interface Piece {
  readonly stop: string;
  readonly text: string;
  readonly command?: string;
  readonly asked?: string;
}

/** Where the client's packets came to, what became of them there, and how they died. */
function arrived(pieces: readonly Piece[], from = '198.51.100.23'): string {
  const files = Object.fromEntries(pieces.map((p, i) => [`${p.stop}/${i}`, p.text]));
  const evidence = pieces.map(({ stop, command, asked }, i) => ({
    stop,
    file: `evidence/${stop}/${i}.txt`,
    ...(command === undefined ? {} : { command }),
    ...(asked === undefined ? {} : { asked }),
  }));
  const sender = parseAddress(from);
  if (!sender) throw new Error('no sender');
  const found = arrivalOf(caseFacts(PATH, files, { evidence }), (_, port) => port === 8214, sender);
  return found ? `${found.record.stop} ${found.record.became}, ${found.died ?? 'nobody knows'}` : 'nowhere';
}
const atHost = (text: string, command = EVERY): string => arrived([{ stop: 'host', text, command }]);

describe('how far packets were seen to come', () => {
  const rows: readonly (readonly [string, string, string, string?])[] = [
    ['a question that is repeated, and no answer', syn() + syn(), 'host not-answered, not-answered'],
    ['one question may be answered later', syn(), 'host not-answered, nobody knows'],
    [
      'an answer may leave by an interface that was not listened to',
      syn() + syn(),
      'host not-answered, nobody knows',
      'tcpdump -n -i eno1 port 8214',
    ],
    [
      'a filter for one direction leaves answers out',
      syn() + syn(),
      'host not-answered, nobody knows',
      'tcpdump -n -i any dst port 8214',
    ],
    [
      'so does a filter for flags',
      syn() + syn(),
      'host not-answered, nobody knows',
      "tcpdump -n -i any 'tcp[13] & 2 != 0'",
    ],
    [
      'and whatever lines are passed on to',
      syn() + syn(),
      'host not-answered, nobody knows',
      'tcpdump -n -i any port 8214 | grep 40112',
    ],
    ['a refusal', syn() + reset(), 'host refused, refused'],
    [
      'an answer that is repeated',
      syn() + synAck() + synAck() + synAck() + synAck(),
      'host answer-lost, answer-lost',
    ],
    [
      'an answer that is repeated, where the sender’s packets are left out',
      syn() + synAck() + synAck() + synAck() + synAck(),
      'host answer-lost, nobody knows',
      'tcpdump -n -i any inbound',
    ],
    ['an answer that opens a connection', syn() + synAck() + data(), 'host answered, nobody knows'],
    ['silence of UDP may be its manner', datagram() + datagram(), 'host not-answered, nobody knows'],
  ];
  for (const [title, text, expected, command] of rows)
    it(title, () => expect(atHost(text, command)).to.equal(expected));

  it('the answer to what was asked for listens everywhere', () => {
    const text = syn() + syn();
    expect(arrived([{ stop: 'host', text, asked: 'host/capture' }])).to.equal(
      'host not-answered, not-answered',
    );
    expect(arrived([{ stop: 'host', text, asked: 'gateway/capture' }])).to.equal(
      'host not-answered, nobody knows',
    );
  });

  it('the farthest place counts, and nobody dies before the server', () => {
    expect(arrived([{ stop: 'gateway', text: syn() + syn(), command: EVERY }])).to.equal(
      'gateway not-answered, nobody knows',
    );
    expect(
      arrived([
        { stop: 'host', text: syn() + reset(), command: EVERY },
        { stop: 'gateway', text: syn() + synAck() + data(), command: EVERY },
      ]),
    ).to.equal('host refused, refused');
  });

  it('of one place the strongest word counts', () =>
    expect(
      arrived([
        { stop: 'host', text: syn() + syn(), command: EVERY },
        { stop: 'host', text: syn() + synAck() + data(), command: EVERY },
      ]),
    ).to.equal('host answered, nobody knows'));

  it('other senders and other ports are others', () => {
    const text = syn() + syn();
    expect(arrived([{ stop: 'host', text, command: EVERY }], '198.51.100.97')).to.equal('nowhere');
    expect(arrived([{ stop: 'host', text: text.replaceAll('8214', '22'), command: EVERY }])).to.equal(
      'nowhere',
    );
  });

  it('what a log kept out has not come', () => {
    const log =
      '#Fields: date time action protocol src-ip dst-ip src-port dst-port\n' +
      '2026-11-24 17:02:05 ACTION TCP 198.51.100.23 192.168.50.20 40001 8214\n';
    expect(arrived([{ stop: 'host', text: log.replace('ACTION', 'DROP') }])).to.equal('nowhere');
    expect(arrived([{ stop: 'host', text: log.replace('ACTION', 'ALLOW') }])).to.equal(
      'host let-in, nobody knows',
    );
  });
});
