import { expect } from 'chai';
import fc from 'fast-check';
import { dropLogs } from '../../testing/index.ts';
import { logLayout, LogReader, type LogLayout, type LogSummary } from './reader.ts';
import { EVERYTHING, NOTHING_WANTED, type Wanted } from './sink.ts';

const { packet, byHand, clock, w3c, netfilter, FIELDS } = dropLogs;
type Packet = dropLogs.Packet;
const NOW = Date.UTC(2026, 10, 27);
const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);

function read(
  text: string,
  layout: LogLayout,
  wanted: Wanted = NOTHING_WANTED,
  cuts: readonly number[] = [],
) {
  const reader = new LogReader(layout, { now: NOW, wanted });
  const all = bytes(text);
  const places = [0, ...cuts.map((c) => c % (all.length + 1)).sort((a, b) => a - b), all.length];
  for (let i = 1; i < places.length; i++) reader.push(all.slice(places[i - 1], places[i]));
  reader.end();
  return reader.summary();
}

/** `source protocol port action: count`, in order. */
const counted = ({ groups }: LogSummary): string[] =>
  groups.map((g) => `${g.source} ${g.protocol} ${g.port} ${g.action}: ${g.count}`).sort();

describe('drop logs, read as streams', () => {
  it('count every packet of a W3C log, whatever the order of its fields and the chunks', () =>
    fc.assert(
      fc.property(
        fc.array(packet, { maxLength: 60 }),
        fc.shuffledSubarray(FIELDS, { minLength: FIELDS.length }),
        fc.boolean(),
        fc.constantFrom('\n', '\r\n'),
        fc.array(fc.nat(), { maxLength: 12 }),
        (packets, shuffled, isUsual, end, cuts) => {
          const text = w3c(packets, isUsual ? FIELDS : shuffled, end);
          const summary = read(text, 'w3c', NOTHING_WANTED, cuts);
          expect(counted(summary)).to.deep.equal(byHand(packets));
          expect(summary.unreadCount).to.equal(0);
        },
      ),
      { numRuns: 150 },
    ));

  it('count every packet of a system log, however it is cut into chunks', () =>
    fc.assert(
      fc.property(
        fc.array(packet, { maxLength: 40 }),
        fc.array(fc.nat(), { maxLength: 12 }),
        (packets, cuts) => {
          const summary = read(netfilter(packets), 'netfilter', NOTHING_WANTED, cuts);
          expect(counted(summary)).to.deep.equal(byHand(packets));
          expect(summary.lines).to.equal(packets.length);
        },
      ),
      { numRuns: 150 },
    ));

  it('put each packet into the bin of its moment, also when the clock goes back', () =>
    fc.assert(
      fc.property(fc.array(packet, { minLength: 1, maxLength: 60 }), (packets) => {
        const { timeline } = read(w3c(packets, FIELDS, '\n'), 'w3c');
        const total = timeline?.counts.flat().reduce((a, b) => a + b, 0);
        expect(total).to.equal(packets.length);
        const first = Math.min(...packets.map((p) => p.second)) + Date.UTC(2026, 10, 24) / 1000;
        expect(timeline && timeline.from <= first && first < timeline.from + timeline.width).to.equal(true);
      }),
    ));

  it('keep what is wanted line by line: by port, by sender, by an IPv6 sender', () => {
    const packets: Packet[] = ['198.51.100.23', '203.0.113.255', '2001:db8::17'].flatMap((source, i) =>
      [22, 8211].map((port) => ({ source, port, protocol: 'TCP', action: 'DROP', second: i })),
    );
    const lines = (wanted: Partial<Wanted>): number[] =>
      read(w3c(packets, FIELDS, '\r\n'), 'w3c', { ...NOTHING_WANTED, ...wanted }).entries.map((e) => e.line);
    expect(lines({})).to.deep.equal([]);
    expect(lines({ ports: [8211] })).to.deep.equal([5, 7, 9]);
    expect(lines({ sources: [Number(BigInt.asIntN(32, 0xc6336417n))] })).to.deep.equal([4, 5]);
    expect(lines({ others: ['2001:db8::17'] })).to.deep.equal([8, 9]);
    const [entry] = read(netfilter(packets), 'netfilter', { ...NOTHING_WANTED, ports: [8211] }).entries;
    expect(entry).to.deep.equal({
      line: 2,
      seconds: Date.UTC(2026, 10, 24) / 1000,
      action: 'DROP',
      protocol: 'tcp',
      source: '198.51.100.23',
      sourcePort: 40001,
      destination: '203.0.113.50',
      port: 8211,
      text: netfilter(packets).split('\n')[1]?.trimEnd(),
    });
  });

  const LINE = 'IN=eth0 OUT= MAC= SRC=198.51.100.23 DST=203.0.113.50 LEN=60 PROTO=TCP SPT=40112 DPT=8299 SYN';
  const heads: readonly (readonly [string, string, string, string | null])[] = [
    ['the system log', 'Nov 24 02:51:25 plover kernel: QUAY-DENY: ', 'QUAY-DENY:', '2026-11-24T02:51:25'],
    ['a day of one digit', 'Nov  4 02:51:25 plover kernel: QUAY-DENY: ', 'QUAY-DENY:', '2026-11-04T02:51:25'],
    ['of the year before', 'Dec 24 02:51:25 plover kernel: QUAY-DENY: ', 'QUAY-DENY:', '2025-12-24T02:51:25'],
    [
      'with seconds since the start',
      'Nov 24 02:51:25 plover kernel: [ 3493.701066] [UFW BLOCK] ',
      '[UFW BLOCK]',
      '2026-11-24T02:51:25',
    ],
    [
      'ISO times',
      '2026-11-24T02:51:25.213571+00:00 plover kernel: QUAY DENY: ',
      'QUAY DENY:',
      '2026-11-24T02:51:25',
    ],
    ['the kernel’s buffer with times', '[Tue Nov 24 02:51:24 2026] DENY ', 'DENY', '2026-11-24T02:51:24'],
    ['the kernel’s buffer', '[ 3493.701066] DENY ', 'DENY', null],
    ['no words', '[ 3493.701066] ', '', null],
  ];
  for (const [title, head, action, moment] of heads)
    it(`reads the head of a line: ${title}`, () => {
      const { groups } = read(`${head}${LINE} \n`, 'netfilter');
      expect(groups.map((g) => g.action)).to.deep.equal([action]);
      const at = groups[0]?.first ?? NaN;
      expect(Number.isNaN(at) ? null : new Date(at * 1000).toISOString().slice(0, 19)).to.equal(moment);
    });

  const told = fc.record({
    second: fc.constantFrom(0, 1, 9, 10, 61, 36_000),
    isIso: fc.boolean(),
    says: fc.constantFrom(LINE, 'sshd[12]: session opened', 'IN=eth0 OUT= DST=203.0.113.50 PROTO=TCP'),
  });

  it('each packet has the moment of its own line, whatever the lines before it say', () =>
    fc.assert(
      fc.property(fc.array(told, { maxLength: 30 }), (lines) => {
        const text = lines.map(({ second, isIso, says }) =>
          isIso
            ? `2026-11-24T${clock(second)}.213571+00:00 plover kernel: DENY ${says} \n`
            : `Nov 24 ${clock(second)} plover kernel: DENY ${says} \n`,
        );
        const { entries } = read(text.join(''), 'netfilter', EVERYTHING);
        const moments = lines
          .filter((l) => l.says === LINE)
          .map((l) => Date.UTC(2026, 10, 24) / 1000 + l.second);
        expect(entries.map((e) => e.seconds)).to.deep.equal(moments);
      }),
    ));

  it('two days that differ in one digit are two days', () => {
    const at = (day: string): string => `Nov ${day} 02:51:25 plover kernel: DENY ${LINE} \n`;
    const { groups } = read(at('14') + at('24'), 'netfilter');
    expect((groups[0]?.last ?? 0) - (groups[0]?.first ?? 0)).to.equal(10 * 86_400);
  });

  it('fields are named anew in the middle of a log', () => {
    const text =
      '#Fields: date time action protocol src-ip dst-ip src-port dst-port\n' +
      '2026-11-24 00:00:00 DROP TCP 198.51.100.23 192.168.50.20 1 2\n' +
      '#Fields: date time action protocol dst-ip src-ip dst-port src-port\n' +
      '2026-11-24 00:00:00 DROP TCP 192.168.50.20 198.51.100.23 2 1\n';
    expect(counted(read(text, 'w3c'))).to.deep.equal(['198.51.100.23 tcp 2 DROP: 2']);
  });

  const bad: readonly (readonly [string, LogLayout, string, string])[] = [
    ['a line that breaks off', 'w3c', '2026-11-24 00:00:00 DROP TCP 198.51.100.23 192.168.50.20\n', 'cut'],
    ['no address', 'w3c', '2026-11-24 00:00:00 DROP TCP host 192.168.50.20 1 2\n', 'no-address'],
    ['an octet too large', 'w3c', '2026-11-24 00:00:00 DROP TCP 198.51.100.256 1.2.3.4 1 2\n', 'no-address'],
    ['no port', 'w3c', '2026-11-24 00:00:00 DROP TCP 198.51.100.23 192.168.50.20 1 x2\n', 'no-port'],
    ['a port too large', 'w3c', '2026-11-24 00:00:00 DROP TCP 1.2.3.4 192.168.50.20 1 65536\n', 'no-port'],
    [
      'a system line without its sender',
      'netfilter',
      'IN=eth0 OUT= DST=203.0.113.50 PROTO=TCP\n',
      'no-address',
    ],
    ['a system line that breaks off', 'netfilter', 'IN=eth0 OUT= SRC=1.2.3.4 DST=203.0.113.50\n', 'cut'],
    ['one whose beginning is missing', 'netfilter', 'H=0 SRC=1.2.3.4 DST=203.0.113.50 PROTO=TCP\n', 'cut'],
  ];
  for (const [title, layout, line, why] of bad)
    it(`names what it cannot read: ${title}`, () => {
      const good = layout === 'w3c' ? '2026-11-24 00:00:00 DROP TCP 9.9.9.9 8.8.8.8 1 2\n' : `DENY ${LINE}\n`;
      const summary = read(good + line + good, layout);
      expect(summary.packets).to.equal(2);
      expect(summary.unread.map((u) => [u.line, u.why])).to.deep.equal([[2, why]]);
    });

  it('passes over lines of the system log that are about something else', () => {
    const summary = read(
      `Nov 24 02:51:25 plover sshd[12]: session opened\nNov 24 02:51:25 plover kernel: D ${LINE}\n`,
      'netfilter',
    );
    expect([summary.lines, summary.packets, summary.unreadCount]).to.deep.equal([2, 1, 0]);
  });

  it('tells layouts by their lines, with and without a head', () => {
    expect(logLayout(w3c([], FIELDS, '\r\n'))).to.equal('w3c');
    expect(
      logLayout('2026-11-24 00:00:00 DROP TCP 1.2.3.4 5.6.7.8 1 2 40 S 1 0 64240 - - - RECEIVE\n'),
    ).to.equal('w3c');
    expect(logLayout(`Nov 24 02:51:25 plover kernel: D ${LINE}\n`)).to.equal('netfilter');
    for (const other of ['', 'hello\n', '#Fields: cs-uri\n', 'date time action\n'])
      expect(logLayout(other), other).to.equal(null);
  });

  it('a million senders do not make the memory grow without end', function () {
    this.timeout(20_000);
    const reader = new LogReader('w3c', { now: NOW });
    for (let i = 0; i < 1200; i++) {
      let text = '';
      for (let k = 0; k < 1000; k++)
        text +=
          `2026-11-24 00:00:00 DROP TCP 10.${i & 255}.${k >> 8}.${k & 255} 192.168.50.20 1 ` +
          `${1 + (i >> 8)}\n`;
      reader.push(bytes(text));
    }
    const { groups, beyond, packets } = reader.summary();
    expect(packets).to.equal(1_200_000);
    expect(groups.length + beyond).to.equal(1_200_000);
    expect(groups).to.have.length(1_000_000);
  });
});
