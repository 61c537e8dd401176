import { expect } from 'chai';
import { nftProgram, outcome, run, testMachine } from '../../testing/index.ts';
import type { Site } from '../../site/index.ts';

/** A host on one link with the client. `before` holds sets and chains, `tables` whole tables. */
function siteWith(
  rules: string,
  { hook = 'input', policy = 'accept', before = '', tables = '', family = 'inet' } = {},
): Site {
  const program = nftProgram(
    `${tables}table ${family} guard {\n` +
      `${before}\tchain base {\n` +
      `\t\ttype filter hook ${hook} priority filter; policy ${policy};\n` +
      `\t\t${rules}\n` +
      '\t}\n' +
      '}\n',
  );
  const machine = testMachine('host', {
    interfaces: {
      eth0: ['198.51.100.9/24', '2001:db8::9/64'],
      lo: ['127.0.0.1/8', '::1/128'],
    },
    sockets: ['tcp 0.0.0.0:80', 'udp 0.0.0.0:53', 'tcp [::]:80'],
  });
  return {
    machines: [
      testMachine('client', {
        role: 'client',
        interfaces: { eth0: ['198.51.100.23/24', '2001:db8::23/64'] },
      }),
      { ...machine, program: { 4: program, 6: program } },
    ],
    sharedAddresses: [],
    internet: null,
  };
}

const TO: Readonly<Record<string, readonly [string, string]>> = {
  tcp: ['198.51.100.23:40000', '198.51.100.9:80/tcp'],
  udp: ['198.51.100.23:40000', '198.51.100.9:53/udp'],
  tcp6: ['[2001:db8::23]:40000', '[2001:db8::9]:80/tcp'],
};

const word = (site: Site, packet = 'tcp'): string => {
  const [from, to] = TO[packet] ?? ['', ''];
  return outcome(run(site, from, to));
};

function meets(condition: string, packet: string, before = ''): string {
  const told = word(siteWith(`${condition} drop`, { before }), packet).split(' ')[0];
  if (told === 'lost') return 'hits';
  return told === 'answered' ? 'misses' : 'open';
}

type Row = readonly [condition: string, expected: 'hits' | 'misses' | 'open', packet?: string];

const ADDRESSES: readonly Row[] = [
  ['ip saddr 198.51.100.23', 'hits'],
  ['ip saddr 198.51.100.22', 'misses'],
  ['ip saddr != 198.51.100.23', 'misses'],
  ['ip saddr 198.51.100.0/24', 'hits'],
  ['ip saddr 198.51.100.20-198.51.100.23', 'hits'],
  ['ip saddr 198.51.100.24-198.51.100.30', 'misses'],
  ['ip saddr { 192.0.2.1, 198.51.100.23 }', 'hits'],
  ['ip saddr { 192.0.2.1, 192.0.2.8/29 }', 'misses'],
  ['ip saddr != { 192.0.2.1, 198.51.100.23 }', 'misses'],
  ['ip daddr 198.51.100.9', 'hits'],
  ['ip daddr 198.51.100.9', 'misses', 'tcp6'],
  ['ip6 saddr 2001:db8::/64', 'hits', 'tcp6'],
  ['ip6 saddr 2001:db8::/64', 'misses'],
  ['ip6 daddr { 2001:db8::9 }', 'hits', 'tcp6'],
  ['ip saddr > 198.51.100.22', 'hits'],
  ['ip saddr >= 198.51.100.24', 'misses'],
  ['ip saddr >= 198.51.100.23', 'hits'],
  ['ip saddr >= 0.0.0.0', 'hits'],
  ['ip saddr < 198.51.100.23', 'misses'],
  ['ip saddr < 198.51.100.24', 'hits'],
  ['ip saddr < 0.0.0.0', 'misses'],
  ['ip saddr <= 198.51.100.23', 'hits'],
  ['ip saddr <= 198.51.100.22', 'misses'],
  ['ip saddr > 255.255.255.255', 'misses'],
  ['ip6 saddr > 2001:db8::22', 'hits', 'tcp6'],
  ['ip6 saddr < 2001:db8::23', 'misses', 'tcp6'],
  ['ip6 saddr <= 2001:db8::23', 'hits', 'tcp6'],
  ['ip saddr & 255.255.255.0 == 198.51.100.0', 'open'],
];

const PORTS: readonly Row[] = [
  ['tcp dport 80', 'hits'],
  ['tcp dport http', 'hits'],
  ['tcp dport 81', 'misses'],
  ['tcp dport != 80', 'misses'],
  ['tcp dport 79-80', 'hits'],
  ['tcp dport 81-90', 'misses'],
  ['tcp dport { 22, 80-89 }', 'hits'],
  ['tcp dport != { 22, 443 }', 'hits'],
  ['tcp dport < 80', 'misses'],
  ['tcp dport <= 80', 'hits'],
  ['tcp dport > 79', 'hits'],
  ['tcp dport >= 81', 'misses'],
  ['tcp sport 40000', 'hits'],
  ['tcp sport 1-1023', 'misses'],
  ['udp dport 53', 'hits', 'udp'],
  ['udp dport 80', 'misses'],
  ['tcp dport 80', 'misses', 'udp'],
  ['th dport 80', 'hits'],
  ['th dport 53', 'hits', 'udp'],
  ['tcp sport . tcp dport { 40000 . 80 }', 'hits'],
  ['tcp sport . tcp dport { 40000 . 81 }', 'misses'],
  ['ip saddr . tcp dport { 198.51.100.23 . 80, 192.0.2.1 . 22 }', 'hits'],
  ['ip saddr . tcp dport { 198.51.100.23 . 22, 192.0.2.1 . 80 }', 'misses'],
  ['ip saddr . tcp dport != { 198.51.100.23 . 22 }', 'hits'],
  ['meta l4proto . th dport { tcp . 80, udp . 53 }', 'hits'],
];

const METAS: readonly Row[] = [
  ['iifname "eth0"', 'hits'],
  ['iifname "eth1"', 'misses'],
  ['iifname != "eth0"', 'misses'],
  ['iifname "eth*"', 'hits'],
  ['iifname { "lo", "eth0" }', 'hits'],
  ['iif "eth0"', 'hits'],
  ['meta l4proto tcp', 'hits'],
  ['meta l4proto { tcp, udp }', 'hits'],
  ['meta l4proto != tcp', 'misses'],
  ['meta l4proto icmp', 'misses'],
  ['ip protocol tcp', 'hits'],
  ['ip protocol tcp', 'misses', 'tcp6'],
  ['ip6 nexthdr tcp', 'hits', 'tcp6'],
  ['ip6 nexthdr udp', 'misses', 'tcp6'],
  ['meta nfproto ipv4', 'hits'],
  ['meta nfproto ipv6', 'misses'],
  ['meta nfproto ipv6', 'hits', 'tcp6'],
  ['meta mark 0x0', 'hits'],
  ['meta mark 0x1', 'misses'],
  ['meta mark & 0xff == 0x0', 'hits'],
  ['meta pkttype host', 'hits'],
  ['meta pkttype multicast', 'misses'],
  ['meta skuid 0', 'open'],
  ['meta cpu 1', 'open'],
  ['meta random & 1 == 0', 'open'],
  ['meta hour "08:00"-"18:00"', 'open'],
  ['meta length < 100', 'open'],
];

const SESSIONS: readonly Row[] = [
  ['ct state new', 'hits'],
  ['ct state established,related', 'misses'],
  ['ct state != established', 'hits'],
  ['ct state { new, untracked }', 'hits'],
  ['ct state invalid', 'misses'],
  ['ct state vmap { new : drop, established : accept }', 'hits'],
  ['ct status dnat', 'misses'],
  ['ct status != dnat', 'hits'],
  ['ct status snat,dnat', 'misses'],
  ['ct direction original', 'hits'],
  ['ct direction reply', 'misses'],
  ['ct mark 0x0', 'hits'],
  ['ct mark 0x5', 'misses'],
  ['ct original saddr 198.51.100.23', 'hits'],
  ['ct original ip saddr 198.51.100.23', 'hits'],
  ['ct original ip daddr 198.51.100.8', 'misses'],
  ['ct reply ip saddr 198.51.100.9', 'hits'],
  ['ct original proto-dst 80', 'hits'],
  ['ct original proto-dst 81', 'misses'],
  ['ct original proto-src 40000', 'hits'],
  ['ct protocol tcp', 'hits'],
  ['ct protocol udp', 'misses'],
  ['ct l3proto ipv4', 'hits'],
  ['ct bytes > 100', 'open'],
  ['ct count over 20', 'open'],
];

const HEADERS: readonly Row[] = [
  ['tcp flags syn', 'hits'],
  ['tcp flags & (fin|syn|rst|ack) == syn', 'hits'],
  ['tcp flags & (fin|syn|rst|ack) != syn', 'misses'],
  ['tcp flags & (syn|ack) == (syn|ack)', 'misses'],
  ['tcp flags & (fin | syn | rst | ack) == syn', 'hits'],
  ['tcp flags & (fin | syn) == (fin | syn)', 'misses'],
  ['tcp flags & (syn == syn', 'open'],
  ['tcp option maxseg size 1-500', 'open'],
  ['tcp option sack-permitted exists', 'open'],
  ['tcp flags ! syn', 'misses'],
  ['tcp flags ack', 'misses'],
  ['tcp flags syn / fin,syn,rst,ack', 'hits'],
  ['icmp type echo-request', 'misses'],
  ['icmpv6 type { nd-neighbor-solicit, nd-router-advert }', 'misses', 'tcp6'],
  ['ip ttl < 10', 'misses'],
  ['ip ttl > 9', 'hits'],
  ['ip ttl 64', 'open'],
  ['ip6 hoplimit 255', 'open', 'tcp6'],
  ['ip length 60', 'open'],
  ['ip dscp cs1', 'open'],
  ['fib daddr type local', 'hits'],
  ['fib daddr type != local', 'misses'],
  ['fib daddr type { local, broadcast }', 'hits'],
  ['fib saddr type local', 'misses'],
  ['fib saddr . iif oif exists', 'hits'],
  ['fib saddr . iif oif missing', 'misses'],
  ['fib daddr . iif type local', 'hits'],
];

const LIMITS: readonly Row[] = [
  ['limit rate 5/second', 'open'],
  ['limit rate over 5/second', 'open'],
  ['quota over 100 mbytes', 'open'],
  ['counter packets 3 bytes 180', 'hits'],
  ['counter', 'hits'],
  ['log prefix "tide: "', 'hits'],
  ['tcp dport 443 limit rate 5/second', 'misses'],
];

describe('conditions of nft, by whether they hit a new packet (nft(8))', () => {
  for (const [title, rows] of Object.entries({ ADDRESSES, PORTS, METAS, SESSIONS, HEADERS, LIMITS }))
    describe(title.toLowerCase(), () => {
      for (const [condition, expected, packet = 'tcp'] of rows)
        it(`${condition}${packet === 'tcp' ? '' : ` (${packet})`}: ${expected}`, () =>
          expect(meets(condition, packet)).to.equal(expected));
    });

  it('named sets, with intervals and time-outs; a set that the listing does not hold is open', () => {
    const set = (type: string, elements: string, flags = ''): string =>
      `\tset friends {\n\t\ttype ${type}\n${flags}\t\telements = { ${elements} }\n\t}\n`;
    const interval = '\t\tflags interval\n';
    expect(meets('ip saddr @friends', 'tcp', set('ipv4_addr', '198.51.100.23'))).to.equal('hits');
    expect(meets('ip saddr @friends', 'tcp', set('ipv4_addr', '198.51.100.22'))).to.equal('misses');
    expect(meets('ip saddr != @friends', 'tcp', set('ipv4_addr', '198.51.100.22'))).to.equal('hits');
    expect(meets('ip saddr @friends', 'tcp', set('ipv4_addr', '198.51.100.0/27', interval))).to.equal('hits');
    expect(meets('tcp dport @friends', 'tcp', set('inet_service', '22, 80-89', interval))).to.equal('hits');
    expect(
      meets('ip saddr @friends', 'tcp', set('ipv4_addr', '198.51.100.23 timeout 1h expires 10m')),
    ).to.equal('hits');
    expect(
      meets('ip saddr . tcp dport @friends', 'tcp', set('ipv4_addr . inet_service', '198.51.100.23 . 80')),
    ).to.equal('hits');
    expect(meets('ip saddr @nobody', 'tcp')).to.equal('open');
    expect(meets('ip saddr @friends', 'tcp', '\tset friends {\n\t\ttype ipv4_addr\n\t}\n')).to.equal(
      'misses',
    );
  });
});

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
      expect(word(siteWith(statement), packet)).to.equal(expected));

  const EXTRA = (rules: string): { before: string } => ({
    before: `\tchain extra {\n\t\t${rules}\n\t}\n`,
  });

  it('a jump comes back, a goto does not, and a return ends the chain alone', () => {
    expect(word(siteWith('jump extra\n\t\tdrop', EXTRA('tcp dport 22 accept')))).to.equal('lost at host');
    expect(word(siteWith('goto extra\n\t\tdrop', EXTRA('tcp dport 22 accept')))).to.equal('answered at host');
    expect(word(siteWith('jump extra', EXTRA('tcp dport 80 drop')))).to.equal('lost at host');
    expect(word(siteWith('jump extra', EXTRA('return\n\t\tdrop')))).to.equal('answered at host');
    expect(word(siteWith('tcp dport vmap { 80 : jump extra }', EXTRA('drop')))).to.equal('lost at host');
    expect(word(siteWith('tcp dport vmap { 80 : goto extra }\n\t\tdrop', EXTRA('return')))).to.equal(
      'answered at host',
    );
  });

  it('the policy is for what no rule decides', () => {
    expect(word(siteWith('tcp dport 22 accept', { policy: 'drop' }))).to.equal('lost at host');
    expect(word(siteWith('tcp dport 80 accept', { policy: 'drop' }))).to.equal('answered at host');
    expect(word(siteWith('return', { policy: 'drop' }))).to.equal('lost at host');
  });

  it('jumps that go round in a circle decide nothing', () => {
    const before = '\tchain one {\n\t\tjump two\n\t}\n\tchain two {\n\t\tjump one\n\t}\n';
    expect(word(siteWith('jump one', { before }))).to.equal('unknown');
  });

  it('marks: set, and, or, xor, and from the session', () => {
    const hit = (set: string, wanted: string): string =>
      word(siteWith(`${set}\n\t\tmeta mark ${wanted} drop`)).split(' ')[0] ?? '';
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
    expect(word(siteWith('ct state untracked drop', { tables: raw }))).to.equal('lost at host');
    expect(word(siteWith('ct state new drop', { tables: raw }))).to.equal('answered at host');
  });

  it('a table of one family leaves the other alone', () => {
    expect(word(siteWith('drop', { family: 'ip' }), 'tcp6')).to.equal('answered at host');
    expect(word(siteWith('drop', { family: 'ip' }))).to.equal('lost at host');
    expect(word(siteWith('drop', { family: 'ip6' }), 'tcp6')).to.equal('lost at host');
    expect(word(siteWith('drop', { family: 'ip6' }))).to.equal('answered at host');
  });

  it('answers leave through output and postrouting', () => {
    expect(word(siteWith('ct state established drop', { hook: 'output' }))).to.equal('lost at host (reply)');
    expect(word(siteWith('oifname "eth0" ct direction reply drop', { hook: 'postrouting' }))).to.equal(
      'lost at host (reply)',
    );
    expect(word(siteWith('ct state new drop', { hook: 'output' }))).to.equal('answered at host');
  });
});

describe('translations of nft', () => {
  const nat = (rule: string, family = 'inet'): Site =>
    siteWith('', {
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
