import { expect } from 'chai';
import type { FrontEndRow } from '../../devices/index.ts';
import { readText } from '../recognise.ts';

const listing = (lines: readonly string[], target = 'default'): string =>
  [
    'public (active)',
    `  target: ${target}`,
    '  icmp-block-inversion: no',
    '  interfaces: lan0',
    '  sources: ',
    ...lines,
    '',
  ].join('\n');
const zone = (text: string) => {
  const [fact] = (readText(text)?.facts ?? []).filter((f) => f.kind === 'front-end');
  if (fact?.kind !== 'front-end') throw new Error('no zones');
  const [first] = fact.value.zones;
  if (!first) throw new Error('no zone in use');
  return first;
};
const said = (r: FrontEndRow): string =>
  [
    r.action,
    r.protocol,
    r.ports ?? '-',
    r.from === null ? '' : `from ${r.from}`,
    r.to === null ? '' : `to ${r.to}`,
    r.family === null ? '' : `IPv${r.family}`,
    r.senderPorts === null ? '' : `sent by ${r.senderPorts}`,
    r.open === null ? '' : 'open',
  ]
    .filter((w) => w !== '')
    .join(' ');
const rows = (...lines: readonly string[]): string[] => zone(listing(lines)).rows.map(said);
const rich = (rule: string): string[] => rows('  rich rules: ', `	${rule}`);

describe('zones of firewalld, as firewall-cmd lists them', () => {
  const table: readonly (readonly [string, string, readonly string[]])[] = [
    ['ports and ranges', '  ports: 8211/tcp 8214-8216/udp', ['allow tcp 8211', 'allow udp 8214-8216']],
    ['a protocol that has no ports of its own', '  ports: 8211/sctp', ['allow any 8211 open']],
    [
      'services have the ports that firewalld gives them',
      '  services: ssh dns',
      ['allow tcp 22', 'allow tcp 53', 'allow udp 53'],
    ],
    ['a service that somebody defined', '  services: moorhen', ['allow any - open']],
    ['ports of the sender', '  source-ports: 68/udp', ['allow udp - sent by 68']],
    ['whole protocols', '  protocols: udp igmp', ['allow udp -']],
  ];
  for (const [title, line, expected] of table) it(title, () => expect(rows(line)).to.deep.equal(expected));

  const rules: readonly (readonly [string, string])[] = [
    [
      'rule family="ipv4" source address="198.51.100.0/24" port port="8211" protocol="tcp" accept',
      'allow tcp 8211 from 198.51.100.0/24 IPv4',
    ],
    [
      'rule family="ipv6" destination address="2001:db8:50::20" port port="8214" protocol="udp" accept',
      'allow udp 8214 to 2001:db8:50::20 IPv6',
    ],
    ['rule service name="ssh" drop', 'deny tcp 22'],
    [
      'rule family="ipv4" source address="198.51.100.97" reject type="icmp-port-unreachable"',
      'reject any - from 198.51.100.97 IPv4',
    ],
    [
      'rule family="ipv4" source address="198.51.100.23" log prefix="moor" level="info" accept',
      'allow any - from 198.51.100.23 IPv4',
    ],
    // Whatever is not worked out leaves open whether the rule holds.
    ['rule family="ipv4" source NOT address="198.51.100.23" drop', 'deny any - IPv4 open'],
    ['rule priority="-10" service name="ssh" accept', 'allow tcp 22 open'],
    ['rule service name="dns" accept', 'allow any - open'],
    ['rule family="ipv4" source ipset="friends" accept', 'allow any - IPv4 open'],
    ['rule port port="8211" protocol="tcp" accept limit value="2/m"', 'allow tcp 8211 open'],
    ['rule family="ipv4" masquerade', 'allow any - IPv4 open'],
  ];
  for (const [rule, expected] of rules) it(rule, () => expect(rich(rule)).to.deep.equal([expected]));

  it('rich rules that refuse stand before those that allow, both before ports (richlanguage(5))', () =>
    expect(
      rows(
        '  ports: 8211/tcp',
        '  rich rules: ',
        '	rule family="ipv4" source address="198.51.100.0/24" accept',
        '	rule family="ipv4" source address="198.51.100.97" drop',
      ),
    ).to.deep.equal([
      'deny any - from 198.51.100.97 IPv4',
      'allow any - from 198.51.100.0/24 IPv4',
      'allow tcp 8211',
    ]));

  it('a port that is sent on is no row for the machine itself', () => {
    const own = zone(
      listing(['  forward-ports: ', '\tport=8211:proto=tcp:toport=9000:toaddr=192.168.50.21']),
    );
    expect(own.rows).to.deep.equal([]);
    expect(own.sentOn.map(said)).to.deep.equal(['allow tcp 8211']);
  });

  it('a setting that is not known, and a line that is none, are said with their lines', () => {
    const reading = readText(`stray words before\n${listing(['  wild-cards: yes', '  ports: 8211/tcp'])}`);
    expect(reading?.problems.map((p) => [p.line, p.why])).to.deep.equal([
      [1, 'no-zone-line'],
      [7, { is: 'zone-setting', key: 'wild-cards' }],
    ]);
  });
});
