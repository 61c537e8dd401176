import { expect } from 'chai';
import { nftHost, nftOutcome, outcome, run } from '../../testing/index.ts';
import type { Site } from '../../site/index.ts';

describe('statements of nft', () => {
  for (const [statement, expected, packet = 'tcp'] of [
    ['accept', 'answered at host'],
    ['drop', 'lost at host'],
    ['return', 'answered at host'],
    ['continue', 'answered at host'],
    ['reject', 'refused at host'],
    ['reject with tcp reset', 'refused at host'],
    ['reject with tcp reset', 'answered at host', 'udp'],
    ['reject with icmp admin-prohibited', 'refused at host'],
    ['reject with icmp admin-prohibited', 'answered at host', 'tcp6'],
    ['reject with icmpv6 no-route', 'refused at host', 'tcp6'],
    ['reject with icmpv6 no-route', 'answered at host'],
    ['reject with icmpx port-unreachable', 'refused at host', 'udp'],
    ['notrack', 'answered at host'],
    ['queue to 1', 'unknown'],
    ['ct helper set "ftp"', 'answered at host'],
    ['ip daddr set 192.0.2.1', 'unknown'],
    ['tcp dport set 81', 'unknown'],
    ['ct zone set 1', 'unknown'],
    ['tcp option maxseg size set 1400', 'answered at host'],
    ['tcp flags syn tcp option maxseg size set rt mtu', 'answered at host'],
    ['ct timeout set "slow"', 'answered at host'],
    ['meta priority set 1:1', 'answered at host'],
    ['jump nowhere', 'unknown'],
    ['tcp dport vmap { 22 : accept, 80 : drop }', 'lost at host'],
    ['tcp dport vmap { 22 : drop, 443 : drop }', 'answered at host'],
    ['tcp dport vmap { 80 : accept, * : drop }', 'answered at host'],
    ['tcp dport vmap { 81 : accept, * : drop }', 'lost at host'],
    ['iifname . tcp dport vmap { "eth0" . 80 : drop }', 'lost at host'],
    ['ip saddr vmap { 198.51.100.0/25 : drop }', 'lost at host'],
    ['tcp dport vmap { 80 : jump nowhere }', 'unknown'],
  ] as const)
    it(`${statement}${packet === 'tcp' ? '' : ` (${packet})`}: ${expected}`, () =>
      expect(nftOutcome(nftHost(statement), packet)).to.equal(expected));

  const EXTRA = (rules: string): { before: string } => ({
    before: `\tchain extra {\n\t\t${rules}\n\t}\n`,
  });

  it('a jump comes back, a goto does not, and a return ends the chain alone', () => {
    expect(nftOutcome(nftHost('jump extra\n\t\tdrop', EXTRA('tcp dport 22 accept')))).to.equal(
      'lost at host',
    );
    expect(nftOutcome(nftHost('goto extra\n\t\tdrop', EXTRA('tcp dport 22 accept')))).to.equal(
      'answered at host',
    );
    expect(nftOutcome(nftHost('jump extra', EXTRA('tcp dport 80 drop')))).to.equal('lost at host');
    expect(nftOutcome(nftHost('jump extra', EXTRA('return\n\t\tdrop')))).to.equal('answered at host');
    expect(nftOutcome(nftHost('tcp dport vmap { 80 : jump extra }', EXTRA('drop')))).to.equal('lost at host');
    expect(nftOutcome(nftHost('tcp dport vmap { 80 : goto extra }\n\t\tdrop', EXTRA('return')))).to.equal(
      'answered at host',
    );
  });

  it('the policy is for what no rule decides', () => {
    expect(nftOutcome(nftHost('tcp dport 22 accept', { policy: 'drop' }))).to.equal('lost at host');
    expect(nftOutcome(nftHost('tcp dport 80 accept', { policy: 'drop' }))).to.equal('answered at host');
    expect(nftOutcome(nftHost('return', { policy: 'drop' }))).to.equal('lost at host');
  });

  it('jumps that go round in a circle decide nothing', () => {
    const before = '\tchain one {\n\t\tjump two\n\t}\n\tchain two {\n\t\tjump one\n\t}\n';
    expect(nftOutcome(nftHost('jump one', { before }))).to.equal('unknown');
  });

  it('marks: set, and, or, xor, and from the session', () => {
    const hit = (set: string, wanted: string): string =>
      nftOutcome(nftHost(`${set}\n\t\tmeta mark ${wanted} drop`)).split(' ')[0] ?? '';
    expect(hit('meta mark set 0x5', '0x5')).to.equal('lost');
    expect(hit('meta mark set 0x5', '0x4')).to.equal('answered');
    expect(hit('meta mark set 0xff\n\t\tmeta mark set meta mark & 0x0f', '0xf')).to.equal('lost');
    expect(hit('meta mark set 0xf0\n\t\tmeta mark set meta mark | 0x0f', '0xff')).to.equal('lost');
    expect(hit('meta mark set 0xff\n\t\tmeta mark set meta mark ^ 0x0f', '0xf0')).to.equal('lost');
    expect(hit('meta mark set 0xff\n\t\tmeta mark set meta mark & 0xf0 | 0x01', '0xf1')).to.equal('lost');
    expect(hit('ct mark set 0x7\n\t\tmeta mark set ct mark', '0x7')).to.equal('lost');
    expect(
      hit(
        'meta mark set 0x3\n\t\tct mark set meta mark\n\t\tmeta mark set 0\n\t\tmeta mark set ct mark',
        '0x3',
      ),
    ).to.equal('lost');
  });

  it('an untracked packet has no session', () => {
    const raw =
      'table inet raw {\n' +
      '\tchain pre {\n' +
      '\t\ttype filter hook prerouting priority raw; policy accept;\n' +
      '\t\tnotrack\n' +
      '\t}\n' +
      '}\n';
    expect(nftOutcome(nftHost('ct state untracked drop', { tables: raw }))).to.equal('lost at host');
    expect(nftOutcome(nftHost('ct state new drop', { tables: raw }))).to.equal('answered at host');
  });

  it('a table of one family leaves the other alone', () => {
    expect(nftOutcome(nftHost('drop', { family: 'ip' }), 'tcp6')).to.equal('answered at host');
    expect(nftOutcome(nftHost('drop', { family: 'ip' }))).to.equal('lost at host');
    expect(nftOutcome(nftHost('drop', { family: 'ip6' }), 'tcp6')).to.equal('lost at host');
    expect(nftOutcome(nftHost('drop', { family: 'ip6' }))).to.equal('answered at host');
  });

  it('answers leave through output and postrouting', () => {
    expect(nftOutcome(nftHost('ct state established drop', { hook: 'output' }))).to.equal(
      'lost at host (reply)',
    );
    expect(nftOutcome(nftHost('oifname "eth0" ct direction reply drop', { hook: 'postrouting' }))).to.equal(
      'lost at host (reply)',
    );
    expect(nftOutcome(nftHost('ct state new drop', { hook: 'output' }))).to.equal('answered at host');
  });
});

describe('translations of nft', () => {
  const nat = (rule: string, family = 'inet'): Site =>
    nftHost('', {
      tables:
        `table ${family} nat {\n` +
        '\tchain pre {\n' +
        '\t\ttype nat hook prerouting priority dstnat; policy accept;\n' +
        `\t\t${rule}\n` +
        '\t}\n' +
        '}\n',
    });
  const at = (site: Site, port: number, host = '198.51.100.9'): string =>
    outcome(run(site, '198.51.100.23:40000', `${host}:${port}/tcp`));

  for (const [rule, port, expected, family] of [
    ['tcp dport 8080 redirect to :80', 8080, 'answered at host'],
    ['tcp dport 8080 redirect', 8080, 'refused at host'],
    ['tcp dport 8080 dnat ip to 198.51.100.9:80', 8080, 'answered at host'],
    ['tcp dport 8080 dnat to 198.51.100.9:80', 8080, 'answered at host', 'ip'],
    ['tcp dport 8080 dnat to :80', 8080, 'answered at host', 'ip'],
    ['tcp dport 8080 dnat to 198.51.100.9', 8080, 'refused at host', 'ip'],
    ['dnat to tcp dport map { 8080 : 198.51.100.9 }', 80, 'answered at host', 'ip'],
    ['dnat ip to 198.51.100.9 : tcp dport map { 8080 : 80, 8081 : 81 }', 8080, 'answered at host'],
    ['dnat ip to 198.51.100.9 : tcp dport map { 8080 : 80, 8081 : 81 }', 8081, 'refused at host'],
    [
      'meta l4proto tcp dnat to 198.51.100.9:tcp dport map { 8080 : 80, 8081 : 81 }',
      8080,
      'answered at host',
      'ip',
    ],
    [
      'meta l4proto tcp dnat to 198.51.100.9:tcp dport map { 8080 : 80, 8081 : 81 }',
      8081,
      'refused at host',
      'ip',
    ],
    ['dnat ip to tcp dport map { 8080 : 198.51.100.9 . 80 }', 8080, 'answered at host'],
    ['ip daddr 198.51.100.9 tcp dport 70-79 dnat to :80', 75, 'answered at host', 'ip'],
    ['tcp dport 8080 dnat ip6 to [2001:db8::9]:80', 8080, 'refused at host'],
    ['dnat to @nowhere', 80, 'unknown', 'ip'],
  ] as const)
    it(`${rule}, dialled on ${port}: ${expected}`, () =>
      expect(at(nat(rule, family), port)).to.equal(expected));

  it('a translation ends the chain: what stands behind it is not reached', () => {
    expect(at(nat('tcp dport 8080 redirect to :80\n\t\ttcp dport 8080 redirect to :81'), 8080)).to.equal(
      'answered at host',
    );
    expect(at(nat('tcp dport 8080 accept\n\t\ttcp dport 8080 redirect to :80'), 8080)).to.equal(
      'refused at host',
    );
  });
});
