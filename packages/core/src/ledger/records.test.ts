import { expect } from 'chai';
import { formatAddress, parseAddress } from '../net/index.ts';
import { caseFacts } from '../testing/index.ts';
import { keptOut, recordsOf } from './records.ts';

const PATH = [
  { id: 'client', role: 'client' },
  { id: 'gateway', role: 'gateway' },
  { id: 'host', role: 'host' },
];
const HEAD = '#Fields: date time action protocol src-ip dst-ip src-port dst-port\n';
const line = (clock: string, action: string, from: string, port = 8214): string =>
  `2026-11-24 ${clock} ${action} TCP ${from} 192.168.50.20 40001 ${port}\n`;
const log = (...lines: readonly string[]): string => HEAD + lines.join('');
const CLIENT = '198.51.100.23';

const isServed = (transport: string, port: number): boolean => transport === 'tcp' && port === 8214;
const records = (files: Record<string, string>): string[] =>
  recordsOf(caseFacts(PATH, files), isServed).map(
    (r) => `${r.stop} ${r.by} ${formatAddress(r.from)} ${r.became} ${r.count} ${r.last ?? '-'}`,
  );
const refused = (files: Record<string, string>, from: string | null = CLIENT): string | null =>
  keptOut(caseFacts(PATH, files), isServed, from === null ? null : parseAddress(from))?.became ?? null;

describe('what records say of a service', () => {
  it('pieces of one log are counted together, and the newest moment stands', () => {
    expect(
      records({
        'host/one': log(line('17:02:05', 'DROP', CLIENT), line('17:02:06', 'DROP', CLIENT)),
        'host/two': log(line('17:02:09', 'DROP', CLIENT), line('17:02:09', 'DROP', CLIENT, 22)),
      }),
    ).to.deep.equal([`host log ${CLIENT} kept-out 3 2026-11-24 17:02:09`]);
  });

  it('other senders, other fates and other places are counted apart', () => {
    expect(
      records({
        'host/one': log(line('17:02:05', 'DROP', CLIENT), line('17:02:07', 'ALLOW', CLIENT)),
        'gateway/one': log(line('17:02:05', 'DROP', CLIENT), line('17:02:05', 'DROP', '198.51.100.97')),
      }).sort(),
    ).to.deep.equal([
      `gateway log ${CLIENT} kept-out 1 2026-11-24 17:02:05`,
      'gateway log 198.51.100.97 kept-out 1 2026-11-24 17:02:05',
      `host log ${CLIENT} kept-out 1 2026-11-24 17:02:05`,
      `host log ${CLIENT} let-in 1 2026-11-24 17:02:07`,
    ]);
  });

  const told: readonly (readonly [string, readonly string[], string | null, string | null])[] = [
    ['the client was kept out', [line('17:02:05', 'DROP', CLIENT)], CLIENT, 'kept-out'],
    [
      'and let in afterwards',
      [line('17:02:05', 'DROP', CLIENT), line('17:02:09', 'ALLOW', CLIENT)],
      CLIENT,
      null,
    ],
    [
      'let in before it was kept out',
      [line('17:02:01', 'ALLOW', CLIENT), line('17:02:05', 'DROP', CLIENT)],
      CLIENT,
      'kept-out',
    ],
    [
      'that somebody else was let in says nothing of the client',
      [line('17:02:05', 'DROP', CLIENT), line('17:02:09', 'ALLOW', '198.51.100.97')],
      CLIENT,
      'kept-out',
    ],
    ['somebody else alone was kept out', [line('17:02:05', 'DROP', '198.51.100.97')], CLIENT, null],
    ['of an unknown client: the only sender', [line('17:02:05', 'DROP', '198.51.100.97')], null, 'kept-out'],
    [
      'of an unknown client: one of two senders',
      [line('17:02:05', 'DROP', '198.51.100.97'), line('17:02:05', 'DROP', CLIENT)],
      null,
      null,
    ],
    ['another port', [line('17:02:05', 'DROP', CLIENT, 22)], CLIENT, null],
  ];
  for (const [title, lines, from, expected] of told)
    it(title, () => expect(refused({ 'host/log': log(...lines) }, from)).to.equal(expected));

  it('a machine that is no stop of the case says nothing', () => {
    expect(refused({ 'other/log': log(line('17:02:05', 'DROP', CLIENT)) })).to.equal(null);
  });
});
