import { expect } from 'chai';
import { outcome, run, caseSite, serverEvidence } from '../testing/index.ts';
import { readText } from './recognise.ts';

/** A broken rule set: the problem that is told, and what the outcome for TCP 80 is then. */
const BROKEN: readonly (readonly [string, string, string, number, string])[] = [
  [
    'an nft listing cut off inside a rule',
    'table inet f {\n chain i {\n  type filter hook input priority 0; policy drop;\n' +
      '  tcp dport 443 accept\n  tcp dp',
    'table-not-closed',
    2,
    'unknown',
  ],
  [
    'an nft listing cut off between chains',
    'table inet f {\n chain i {\n  type filter hook input priority 0; policy accept;\n }\n',
    'table-not-closed',
    1,
    'unknown',
  ],
  [
    'two nft listings in one text',
    'table inet f {\n' +
      ' chain i {\n' +
      '  type filter hook input priority 0; policy accept;\n' +
      ' }\n' +
      '}\n' +
      'table inet f {\n' +
      ' chain i {\n' +
      '  type filter hook input priority 0; policy drop;\n' +
      ' }\n' +
      '}\n',
    'table-twice',
    6,
    'unknown',
  ],
  [
    'jumps that go round',
    'table inet f {\n' +
      ' chain a {\n' +
      '  jump b\n' +
      ' }\n' +
      ' chain b {\n' +
      '  jump a\n' +
      ' }\n' +
      ' chain i {\n' +
      '  type filter hook input priority 0; policy accept;\n' +
      '  jump a\n' +
      ' }\n' +
      '}\n',
    '',
    0,
    'unknown',
  ],
  [
    'a jump to a chain that is not there',
    '*filter\n:INPUT DROP [0:0]\n-A INPUT -j NOWHERE\nCOMMIT\n',
    '',
    0,
    'unknown',
  ],
  [
    'an iptables listing cut off inside a rule',
    '*filter\n:INPUT DROP [0:0]\n-A INPUT -p tcp --dport 443 -j ACC',
    'table-before-commit',
    2,
    'unknown',
  ],
  [
    'both families mixed in one table',
    '*filter\n:INPUT DROP [0:0]\n-A INPUT -s 192.0.2.0/24 -j ACCEPT\n' +
      '-A INPUT -s 2001:db8::/32 -j DROP\nCOMMIT\n',
    'families-mixed',
    3,
    'unknown',
  ],
  [
    'a table twice',
    '*filter\n:INPUT ACCEPT [0:0]\nCOMMIT\n*filter\n:INPUT DROP [0:0]\nCOMMIT\n',
    'table-twice',
    4,
    'unknown',
  ],
  [
    'JSON that ends in the middle',
    '{"nftables": [{"metainfo": {"version": "1.0.6"}}, {"table": {"family": "inet", "ta',
    'json-cut',
    1,
    'unknown',
  ],
  [
    'a chain asked for by itself',
    'table inet f {\n chain from_wan {\n  tcp dport 80 drop\n }\n}\n',
    'nft-part',
    1,
    'unknown',
  ],
];

describe('iptables -L shows one table only', () => {
  const FILTER =
    'Chain INPUT (policy ACCEPT 0 packets, 0 bytes)\n' +
    ' pkts bytes target     prot opt in     out     source               destination         \n' +
    '    0     0 DROP       6    --  *      *       0.0.0.0/0            0.0.0.0/0            tcp ' +
    'dpt:443\n' +
    '\n' +
    'Chain FORWARD (policy ACCEPT 0 packets, 0 bytes)\n' +
    ' pkts bytes target     prot opt in     out     source               destination         \n' +
    '\n' +
    'Chain OUTPUT (policy ACCEPT 0 packets, 0 bytes)\n' +
    ' pkts bytes target     prot opt in     out     source               destination         \n';
  const NAT =
    'Chain PREROUTING (policy ACCEPT 0 packets, 0 bytes)\n' +
    ' pkts bytes target     prot opt in     out     source               destination         \n' +
    '\n' +
    'Chain POSTROUTING (policy ACCEPT 0 packets, 0 bytes)\n' +
    ' pkts bytes target     prot opt in     out     source               destination         \n';
  const of = (files: Record<string, string>, port: number): string =>
    outcome(
      run(
        caseSite(
          [
            { id: 'client', role: 'client' },
            { id: 'carrier', role: 'carrier' },
            { id: 'host', role: 'host' },
          ],
          {
            ...serverEvidence('203.0.113.140/28', '203.0.113.129', ['tcp 0.0.0.0:80', 'tcp 0.0.0.0:443'], ''),
            ...files,
          },
        ),
        '198.51.100.23',
        `203.0.113.140:${port}/tcp`,
      ),
    );

  it('without the nat table nothing is sure', () => expect(of({ 'host/f': FILTER }, 80)).to.equal('unknown'));
  it('with both tables it is', () => {
    expect(of({ 'host/f': FILTER, 'host/n': NAT }, 80)).to.equal('answered at host');
    expect(of({ 'host/f': FILTER, 'host/n': NAT }, 443)).to.equal('lost at host');
  });
  it('without -v the interfaces are not shown: a rule may or may not be meant', () => {
    const plain = FILTER.replaceAll(
      ' pkts bytes target     prot opt in     out     source',
      'target     prot opt source',
    ).replace('    0     0 DROP       6    --  *      *       0.0.0.0/0', 'DROP       6    --  0.0.0.0/0');
    expect(of({ 'host/f': plain, 'host/n': NAT }, 443)).to.equal('unknown');
    expect(of({ 'host/f': plain, 'host/n': NAT }, 80)).to.equal('answered at host');
  });
});

describe('broken rule sets: the problem with its line, and never a verdict', () => {
  for (const [title, text, why, line, expected] of BROKEN) {
    it(title, () => {
      const problems = readText(text)?.problems ?? [];
      if (line > 0)
        expect(
          problems.filter((p) => (typeof p.why === 'string' ? p.why : p.why.is) === why).map((p) => p.line),
        ).to.include(line);
      const site = caseSite(
        [
          { id: 'client', role: 'client' },
          { id: 'carrier', role: 'carrier' },
          { id: 'host', role: 'host' },
        ],
        serverEvidence('203.0.113.140/28', '203.0.113.129', ['tcp 0.0.0.0:80'], text),
      );
      expect(outcome(run(site, '198.51.100.23', '203.0.113.140:80/tcp'))).to.equal(expected);
    });
  }

  it('a rule that is whole and ends the packet still decides, whatever is missing behind it', () => {
    const text = '*filter\n:INPUT ACCEPT [0:0]\n-A INPUT -p tcp -m tcp --dport 80 -j DROP\n-A INPUT -p tc';
    const site = caseSite(
      [
        { id: 'client', role: 'client' },
        { id: 'carrier', role: 'carrier' },
        { id: 'host', role: 'host' },
      ],
      serverEvidence('203.0.113.140/28', '203.0.113.129', ['tcp 0.0.0.0:80'], text),
    );
    expect(outcome(run(site, '198.51.100.23', '203.0.113.140:80/tcp'))).to.equal('lost at host');
  });
});
