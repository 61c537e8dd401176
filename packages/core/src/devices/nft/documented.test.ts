import { expect } from 'chai';
import { nftProgram } from '../../testing/index.ts';

/**
 * Every expression and statement that nft(8) of Debian 12 (nftables 1.0.6) documents, in a rule: what is
 * modelled decides, what has no effect is noted, what earlier packets decide is a chance, and the rest is
 * open. Nothing is passed over.
 */
type Treatment = 'modelled' | 'note' | 'chance' | 'open';

const MATCHES: Readonly<Record<Exclude<Treatment, 'note'>, readonly string[]>> = {
  modelled: [
    ...['nfproto ipv4', 'l4proto tcp', 'protocol ip', 'mark 1', 'iif lo', 'iifname "eth0"', 'oif lo'].map(
      meta,
    ),
    ...['oifname "eth0"', 'pkttype host'].map(meta),
    ...['fib daddr type local', 'fib saddr . iif oif 0', 'th dport 80', '@th,16,16 80', 'iif lo'],
    ...['ip ttl 64', 'ip protocol tcp', 'ip saddr 198.51.100.0/24', 'ip daddr 203.0.113.50'],
    ...['ip6 nexthdr tcp', 'ip6 hoplimit 64', 'ip6 saddr 2001:db8::/32', 'ip6 daddr 2001:db8::1'],
    ...['icmp type echo-request', 'icmp code 0', 'icmpv6 type echo-request'],
    ...['tcp sport 1', 'tcp dport 80', 'tcp flags syn', 'udp sport 1', 'udp dport 53', 'udplite dport 1'],
    ...['sctp dport 1', 'dccp dport 1', 'ip saddr . tcp dport { 192.0.2.1 . 80 }'],
    ...['ct state new', 'ct status dnat', 'ct mark 1', 'ct direction original', 'ct l3proto ipv4'],
    ...['ct protocol tcp', 'ct original saddr 192.0.2.1', 'ct reply proto-dst 80'],
  ],
  chance: ['ct count 5'],
  open: [
    ...['length 60', 'priority 1:2', 'iiftype ether', 'oiftype ether', 'skuid 0', 'skgid 0', 'nftrace 1'].map(
      meta,
    ),
    ...['rtclassid 1', 'ibrname "br0"', 'obrname "br0"', 'cpu 1', 'iifgroup 1', 'oifgroup 1', 'cgroup 1'].map(
      meta,
    ),
    ...[
      'random 5',
      'ipsec exists',
      'iifkind "vrf"',
      'oifkind "vrf"',
      'time "2026-01-01"',
      'hour "08:00"',
    ].map(meta),
    ...['day "Monday"', 'sdif 3'].map(meta),
    ...['socket transparent 1', 'socket mark 1', 'socket wildcard 0', 'socket cgroupv2 level 1 "x"'],
    ...['osf name "Linux"', 'rt classid 1', 'rt nexthop 192.0.2.1', 'rt mtu 1400', 'ipsec in spi 1'],
    ...['numgen inc mod 2 0', 'jhash ip saddr mod 2 0', 'symhash mod 2 0'],
    ...['ether saddr 02:00:00:00:00:01', 'vlan id 5', 'arp operation request'],
    ...['ip version 4', 'ip hdrlength 5', 'ip dscp af11', 'ip ecn ect0', 'ip length 60', 'ip id 1'],
    ...['ip frag-off 0', 'ip checksum 1', 'ip option lsrr exists', 'igmp type membership-query'],
    ...['ip6 version 6', 'ip6 dscp af11', 'ip6 ecn ect0', 'ip6 flowlabel 1', 'ip6 length 60'],
    ...['tcp sequence 1', 'tcp ackseq 1', 'tcp doff 5', 'tcp window 1', 'tcp checksum 1', 'tcp urgptr 1'],
    ...['udp length 60', 'udp checksum 1', 'sctp chunk init exists', 'dccp type request'],
    ...['ah spi 1', 'esp spi 1', 'comp cpi 1', 'hbh nexthdr tcp', 'rt0 addr[1] 2001:db8::1'],
    ...['frag nexthdr tcp', 'dst nexthdr tcp', 'mh type 1', 'srh tag 1', 'exthdr hbh exists'],
    ...['tcp option maxseg size 1400', 'tcp option sack-permitted exists', 'ip saddr @nosuch'],
    ...['ct expiration 10s', 'ct helper "ftp"', 'ct label 1', 'ct bytes > 100', 'ct packets > 1'],
    ...['ct avgpkt > 100', 'ct zone 1', 'ct id 1', 'flurb 7', 'meta flurb 7'],
  ],
};

const STATEMENTS: Readonly<Record<Treatment, readonly string[]>> = {
  modelled: [
    ...['accept', 'drop', 'continue', 'return', 'reject', 'reject with tcp reset'],
    ...['reject with icmpx port-unreachable', 'ct mark set 1', 'meta mark set 1', 'notrack'],
    ...['dnat to 192.0.2.1', 'snat to 192.0.2.1', 'masquerade', 'masquerade random', 'redirect to :80'],
    ...['tcp dport vmap { 80 : accept }', 'dnat to tcp dport map { 80 : 192.0.2.1 }'],
  ],
  note: [
    ...['log', 'log prefix "x"', 'counter', 'counter packets 1 bytes 2', 'counter name "x"', 'last'],
    ...['last used never', 'ip dscp set af11', 'tcp option maxseg size set 1400', 'flow add @f'],
    ...['tcp option maxseg size set rt mtu', 'ct helper set "ftp-x"', 'ct timeout set "x"'],
    ...['ct expectation set "x"', 'ct label set 1', 'ct event set new', 'meta priority set 1:2'],
    ...['meta pkttype set host', 'meta nftrace set 1', 'meta secmark set "x"'],
    ...['add @s { ip saddr }', 'update @s { ip saddr timeout 1m }', 'delete @s { ip saddr }'],
  ],
  chance: ['limit rate 3/minute', 'limit name "x"', 'quota over 25 mbytes'],
  open: [
    ...['queue', 'queue num 1 bypass', 'tproxy to :80', 'synproxy mss 1460 wscale 7', 'fwd to "eth0"'],
    ...[
      'dup to 192.0.2.1',
      'ip daddr set 192.0.2.1',
      'tcp dport set 80',
      'ip ttl set 1',
      'ip6 hoplimit set 1',
    ],
    ...['ct zone set 1', 'xt target "LOG"', 'jump nosuch', 'reset tcp option sack-permitted'],
  ],
};

function meta(text: string): string {
  return `meta ${text}`;
}

/** What the first step that says anything does. */
function treatmentOf(rule: string): Treatment | 'lost' {
  const text =
    'table inet t {\n chain c {\n  type filter hook input priority 0; policy accept;\n' +
    `  ${rule}\n }\n}\n`;
  const steps = nftProgram(text).chains[0]?.rules.flatMap((r) => r.steps) ?? [];
  const [first] = steps;
  if (!first) return 'lost';
  if (first.do === 'unmodelled-match' || first.do === 'unmodelled-action') return 'open';
  if (first.do === 'note' || first.do === 'chance') return first.do;
  return 'modelled';
}

describe('every documented expression of nft has its treatment', () => {
  for (const [treatment, rules] of Object.entries(MATCHES))
    for (const rule of rules)
      it(`${rule}: ${treatment}`, () => expect(treatmentOf(`${rule} drop`)).to.equal(treatment));
});

describe('every documented statement of nft has its treatment', () => {
  for (const [treatment, rules] of Object.entries(STATEMENTS))
    for (const rule of rules)
      it(`${rule}: ${treatment}`, () => expect(treatmentOf(rule)).to.equal(treatment));
});
