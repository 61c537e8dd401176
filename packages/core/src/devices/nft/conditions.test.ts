import { expect } from 'chai';
import { nftMeets } from '../../testing/index.ts';

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
          expect(nftMeets(condition, packet)).to.equal(expected));
    });

  it('named sets, with intervals and time-outs; a set that the listing does not hold is open', () => {
    const set = (type: string, elements: string, flags = ''): string =>
      `\tset friends {\n\t\ttype ${type}\n${flags}\t\telements = { ${elements} }\n\t}\n`;
    const interval = '\t\tflags interval\n';
    expect(nftMeets('ip saddr @friends', 'tcp', set('ipv4_addr', '198.51.100.23'))).to.equal('hits');
    expect(nftMeets('ip saddr @friends', 'tcp', set('ipv4_addr', '198.51.100.22'))).to.equal('misses');
    expect(nftMeets('ip saddr != @friends', 'tcp', set('ipv4_addr', '198.51.100.22'))).to.equal('hits');
    expect(nftMeets('ip saddr @friends', 'tcp', set('ipv4_addr', '198.51.100.0/27', interval))).to.equal(
      'hits',
    );
    expect(nftMeets('tcp dport @friends', 'tcp', set('inet_service', '22, 80-89', interval))).to.equal(
      'hits',
    );
    expect(
      nftMeets('ip saddr @friends', 'tcp', set('ipv4_addr', '198.51.100.23 timeout 1h expires 10m')),
    ).to.equal('hits');
    expect(
      nftMeets('ip saddr . tcp dport @friends', 'tcp', set('ipv4_addr . inet_service', '198.51.100.23 . 80')),
    ).to.equal('hits');
    expect(nftMeets('ip saddr @nobody', 'tcp')).to.equal('open');
    expect(nftMeets('ip saddr @friends', 'tcp', '\tset friends {\n\t\ttype ipv4_addr\n\t}\n')).to.equal(
      'misses',
    );
  });
});
