import { expect } from 'chai';
import fc from 'fast-check';
import { readText } from './recognise.ts';
import { thinned } from './thinned.ts';

const lines = (count: number, of: (i: number) => string): string[] =>
  Array.from({ length: count }, (_, i) => of(i));

const ROW = (i: number): string => `row ${i}\tTCP\t${1 + i}\t192.168.50.20\t${1 + i}`;
const HEADING = 'Name\tProtocol\tOutside port\tInside address\tInside port';

describe('a long text as far as its format is looked for', () => {
  it('is itself where it is short, or where its lines are of many shapes', () => {
    const short = lines(400, ROW).join('\n');
    expect(thinned(short)).to.equal(short);
    const many = lines(2000, (i) => '.:/=,;'.repeat(40).slice(0, i % 97) + `word${':'.repeat(i % 89)}`).join(
      '\n',
    );
    expect(thinned(many)).to.equal(many);
  });

  it('holds its lines in their order, each shape at least once, and ends as the text does', () =>
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom('#', '*', '', 'a=b', '  x', 'a: b'), { maxLength: 40 }),
        (others) => {
          const rows = lines(1000, ROW);
          others.forEach((other, i) => rows.splice((i * 37) % rows.length, 0, `${other}${i}`));
          const seen = thinned(`${rows.join('\n')}\n`);
          expect(seen.endsWith('\n')).to.equal(true);
          const kept = seen.split('\n').slice(0, -1);
          expect(kept.length).to.be.lessThan(400);
          let at = -1;
          for (const line of kept) expect((at = rows.indexOf(line, at + 1)), line).to.be.at.least(0);
          for (const [i, other] of others.entries()) expect(kept).to.include(`${other}${i}`);
        },
      ),
      { numRuns: 50 },
    ));

  const listings: readonly (readonly [string, string, (count: number) => readonly string[]])[] = [
    ['a table of forwards', 'forward-table', (n) => [HEADING, ...lines(n, ROW)]],
    [
      'sockets',
      'ss',
      (n) => [
        'Netid State Recv-Q Send-Q Local Address:Port Peer Address:PortProcess',
        ...lines(n, (i) => `tcp LISTEN 0 128 0.0.0.0:${1 + i} 0.0.0.0:* users:(("p${i}",pid=${i},fd=3))`),
      ],
    ],
    [
      'conversations',
      'conntrack',
      (n) =>
        lines(
          n,
          (i) =>
            `tcp 6 431999 ESTABLISHED src=198.51.100.23 dst=203.0.113.50 sport=${4000 + i} dport=8214 ` +
            `src=192.168.50.20 dst=198.51.100.23 sport=8214 dport=${4000 + i} [ASSURED] mark=0 use=1`,
        ),
    ],
    [
      'a rule set',
      'nft',
      (n) => [
        'table inet guard {',
        '\tchain input {',
        '\t\ttype filter hook input priority filter; policy drop;',
        ...lines(n, (i) => `\t\ttcp dport ${1 + i} accept`),
        '\t}',
        '}',
      ],
    ],
    ['routes', 'ip-route', (n) => lines(n, (i) => `10.${i >> 8}.${i & 255}.0/24 via 192.168.50.1 dev eno1`)],
  ];
  for (const [title, format, listing] of listings)
    it(`is of the same format, however long, and all of it is read: ${title}`, () => {
      const [short, long] = [40, 1200].map((n) => readText(`${listing(n).join('\n')}\n`));
      expect(short?.format).to.equal(format);
      expect(long?.format).to.equal(format);
      expect(long?.problems).to.deep.equal([]);
      if (format !== 'nft')
        expect(long?.facts.filter((f) => f.kind === short?.facts[0]?.kind)).to.have.length(1200);
    });

  it('what stands behind a thousand rows is read as well', () => {
    const text = [HEADING, ...lines(1000, ROW), 'Changes are not saved yet.', ''].join('\n');
    const states = new Set(readText(text)?.facts.map((f) => (f.kind === 'forward' ? f.narrowed.length : -1)));
    expect([...states]).to.deep.equal([1]);
  });
});
