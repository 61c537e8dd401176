import { expect } from 'chai';
import { readText } from '../recognise.ts';

/** Each try in short: `protocol from → to, count, fate`. */
function tries(text: string): { format: string | null; tries: string[]; problems: string[] } {
  const reading = readText(text);
  return {
    format: reading?.format ?? null,
    tries: (reading?.facts ?? []).flatMap((f) => {
      if (f.kind !== 'try') return [];
      const { protocol, from, to, count, fate, isOutward } = f.value;
      return [`${protocol} ${from} → ${to}, ${count}, ${fate ?? '?'}${isOutward ? ', out' : ''}`];
    }),
    problems: (reading?.problems ?? []).map(
      (p) => `${p.line}: ${Object.values(typeof p.why === 'string' ? [p.why] : p.why).join(' ')}`,
    ),
  };
}

/** As tcpdump 4.99 prints /var/log/pflog with `-n -e -ttt` and `-tttt`. */
const BSD = [
  '2026-11-24 17:02:08.101 rule 4/0(match): block in on em0: 198.51.100.97.40001 > ' +
    '192.168.50.20.6697: Flags [S], seq 1, win 64240, length 0',
  '2026-11-24 17:02:11.202 rule 4/0(match): block in on em0: 198.51.100.97.40002 > ' +
    '192.168.50.20.6697: Flags [S], seq 1, win 64240, length 0',
  '2026-11-24 17:02:12.303 rule 7/0(match): pass in on em0: 198.51.100.23.51000 > 192.168.50.20.8211: ' +
    'UDP, length 20',
  '2026-11-24 17:02:13.404 rule 7/0(match): pass out on em0: 2001:db8::20.6697 > ' +
    '2001:db8::17.40001: Flags [S.], seq 1, ack 2, length 0',
  '2026-11-24 17:02:14.505 rule 4/0(match): block in on em0: 198.51.100.23 > 192.168.50.20: ' +
    'ICMP echo request, id 1, seq 1, length 64',
].join('\n');

describe('the log of a BSD packet filter', () => {
  it('says who came, where to, and what was done', () => {
    const found = tries(`${BSD}\n`);
    expect(found).to.deep.equal({
      format: 'bsd-log',
      tries: [
        'tcp 198.51.100.97 → 192.168.50.20:6697, 2, kept-out',
        'udp 198.51.100.23:51000 → 192.168.50.20:8211, 1, let-in',
        'tcp [2001:db8::20]:6697 → [2001:db8::17]:40001, 1, let-in, out',
        'icmp 198.51.100.23 → 192.168.50.20, 1, kept-out',
      ],
      problems: [],
    });
  });

  it('a line that breaks off is named', () =>
    expect(tries(`${BSD}\n17:02:15.1 rule 4/0(match): block in on em0: 198.51.100\n`).problems).to.deep.equal(
      ['6: no-bsd-log-line'],
    ));
});

describe('a log of a host firewall', () => {
  const line = (to: string, ports: string, path: string): string =>
    `2026-11-24 17:02:08 DROP TCP 198.51.100.97 ${to} ${ports} 52 S 1 0 64240 - - - ${path}`;

  it('keeps tries at two addresses apart, and what the machine itself sent', () => {
    const text = [
      line('192.168.50.20', '40001 6697', 'RECEIVE'),
      line('192.168.50.255', '40001 6697', 'RECEIVE'),
      line('192.168.50.20', '40002 6697', 'RECEIVE'),
      line('203.0.113.9', '50001 443', 'SEND'),
    ].join('\n');
    expect(tries(`${text}\n`)).to.deep.equal({
      format: 'w3c-log',
      tries: [
        'tcp 198.51.100.97 → 192.168.50.20:6697, 2, kept-out',
        'tcp 198.51.100.97:40001 → 192.168.50.255:6697, 1, kept-out',
        'tcp 198.51.100.97:50001 → 203.0.113.9:443, 1, kept-out, out',
      ],
      problems: [],
    });
  });
});

describe('flow logs of rented machines', () => {
  const EXPECTED = [
    'tcp 198.51.100.97:40001 → 10.20.0.4:6697, 3, kept-out',
    'udp 198.51.100.23:51000 → 10.20.0.4:8211, 1, let-in',
  ];
  const table: readonly (readonly [string, string])[] = [
    [
      'CSV, in any order of columns',
      'start,action,dst_port,src_port,protocol,src_addr,dst_addr,packets\n' +
        '1795539728,REJECT,6697,40001,6,198.51.100.97,10.20.0.4,3\n' +
        '1795539730,ACCEPT,8211,51000,17,198.51.100.23,10.20.0.4,1\n',
    ],
    [
      'blanks between',
      'srcaddr dstaddr srcport dstport protocol packets start action\n' +
        '198.51.100.97 10.20.0.4 40001 6697 6 3 1795539728 REJECT\n' +
        '198.51.100.23 10.20.0.4 51000 8211 17 1 1795539730 ACCEPT\n',
    ],
    [
      'a JSON object a line, parts one level down',
      '{"time":"2026-11-24T17:02:08Z","connection":{"src_ip":"198.51.100.97","src_port":40001,' +
        '"dest_ip":"10.20.0.4","dest_port":6697,"protocol":6},"disposition":"DENIED","packets":3}\n' +
        '{"time":"2026-11-24T17:02:10Z","connection":{"src_ip":"198.51.100.23","src_port":51000,' +
        '"dest_ip":"10.20.0.4","dest_port":8211,"protocol":17},"disposition":"ALLOWED","packets":1}\n',
    ],
  ];
  for (const [title, text] of table)
    it(title, () => expect(tries(text)).to.deep.equal({ format: 'flow-log', tries: EXPECTED, problems: [] }));

  const HEAD = 'start,srcaddr,dstaddr,srcport,dstport,protocol,action\n';
  const row = (rest: string): string => `1795539728,${rest}\n`;
  const GOOD = row('198.51.100.97,10.20.0.4,40001,6697,6,REJECT');
  const bad: readonly (readonly [string, string, string])[] = [
    ['a row that is cut', row('198.51.100.97,10.20.0.4,40001'), 'no-flow-row'],
    ['a name for an address', row('office,10.20.0.4,40001,6697,6,REJECT'), 'log-address'],
    ['a port too large', row('198.51.100.97,10.20.0.4,40001,66970,6,REJECT'), 'log-port'],
    ['a word that says nothing', row('198.51.100.97,10.20.0.4,1,2,6,LOGGED'), 'no-action LOGGED'],
  ];
  for (const [title, line, why] of bad)
    it(`names what it cannot read: ${title}`, () =>
      expect(tries(HEAD + GOOD + line).problems).to.deep.equal([`3: ${why}`]));

  it('rows that say that nothing was recorded are no packets', () =>
    expect(tries(`${HEAD}${GOOD}${row('-,-,-,-,-,-')}`))
      .to.include.keys('tries')
      .and.to.deep.include({ problems: [] }));

  it('a table without a column for what was done, and a table of rules, are none', () => {
    for (const other of [
      'start,srcaddr,dstaddr,srcport,dstport,protocol\n1,198.51.100.97,10.20.0.4,1,2,6\n',
      'Source,Destination,Src port,Dst port,Protocol,Action\n198.51.100.97,10.20.0.4,any,6697,tcp,drop\n',
    ])
      expect(tries(other).format, other).to.not.equal('flow-log');
  });
});
