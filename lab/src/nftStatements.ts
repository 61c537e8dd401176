import { CLIENT, CLIENT6, HOST, HOST6, INSIDE, OTHER, WAN } from './places.ts';
import { OTHER_PORT, rulesOf, type Placed, type Statement, type Tables } from './statement.ts';

/** Conditions for any transport; `PORT` stands for the statement's own port. */
const CONDITIONS: readonly string[] = [
  `ip saddr ${CLIENT}`,
  `ip saddr != ${CLIENT}`,
  'ip saddr 198.51.100.0/27',
  'ip saddr != 198.51.100.0/27',
  'ip saddr 198.51.100.23-198.51.100.31',
  'ip saddr != 198.51.100.24-198.51.100.40',
  `ip saddr { ${OTHER}, ${INSIDE} }`,
  `ip saddr != { ${OTHER}, ${INSIDE} }`,
  'ip saddr { 198.51.100.0/28, 198.51.100.20-198.51.100.23, 192.168.50.64/27 }',
  `ip saddr < ${OTHER}`,
  `ip saddr <= ${OTHER}`,
  `ip saddr > ${CLIENT}`,
  `ip saddr >= ${OTHER}`,
  'ip saddr & 255.255.255.240 == 198.51.100.16',
  `ip daddr ${HOST}`,
  `ip daddr != ${HOST}`,
  `ip daddr ${WAN}`,
  'ip protocol tcp',
  'ip protocol != tcp',
  'ip protocol { udp, icmp }',
  'ip protocol 6-17',
  'ip ttl < 63',
  'ip ttl 62',
  'ip ttl > 62',
  'ip ttl { 62, 64 }',
  `ip6 saddr ${CLIENT6}`,
  `ip6 saddr != ${CLIENT6}`,
  'ip6 saddr 2001:db8:c1::/64',
  'ip6 saddr 2001:db8:c1::20-2001:db8:c1::40',
  `ip6 daddr ${HOST6}`,
  'ip6 nexthdr tcp',
  'ip6 nexthdr != tcp',
  'ip6 hoplimit < 63',
  'ip6 hoplimit > 62',
  'meta l4proto tcp',
  'meta l4proto != tcp',
  'meta nfproto ipv4',
  'meta nfproto ipv6',
  'meta protocol ip',
  'meta protocol ip6',
  'meta pkttype host',
  'meta pkttype broadcast',
  'meta pkttype { broadcast, multicast }',
  'meta pkttype != host',
  'th sport 40000-65535',
  'th sport != 40000-65535',
  'th sport < 40003',
  'th dport PORT',
  'tcp dport PORT',
  'udp dport PORT',
  'tcp sport >= 1024',
  'tcp sport 1-1023',
  'udp sport > 1023',
  'tcp dport != PORT',
  'tcp dport { 22, 80, PORT }',
  'tcp dport != { 22, 80 }',
  'tcp dport 20000-29999',
  'tcp flags syn',
  'tcp flags ack',
  'tcp flags syn,ack',
  'tcp flags == syn',
  'tcp flags != syn',
  'tcp flags { syn, ack }',
  'tcp flags & (fin | syn | rst | ack) == syn',
  'tcp flags & (fin | syn | rst | ack) != syn',
  'tcp flags & (syn | ack) == (syn | ack)',
  'tcp flags ! syn,rst',
  'tcp flags ! ack',
  'tcp flags syn / syn,ack',
  'tcp flags ack / syn,ack',
  'tcp flags != syn / fin,syn,rst,ack',
  'ct state new',
  'ct state != new',
  'ct state established,related',
  'ct state { new, established }',
  'ct state { established, related }',
  'ct state invalid',
  'ct state ! invalid',
  'ct state untracked',
  'ct status dnat',
  'ct status snat',
  'ct status != dnat',
  'ct status ! dnat',
  'ct status dnat,snat',
  'ct status assured',
  'ct direction original',
  'ct direction reply',
  `ct original ip saddr ${CLIENT}`,
  `ct original ip saddr != 198.51.100.0/24`,
  `ct original ip daddr ${WAN}`,
  `ct original ip daddr ${HOST}`,
  `ct original ip6 daddr ${HOST6}`,
  `ct reply ip saddr ${HOST}`,
  `ct reply ip daddr ${CLIENT}`,
  `ct reply ip daddr ${WAN}`,
  'ct original protocol 6',
  'ct original protocol 17',
  'ct original proto-dst PORT',
  'ct original proto-dst != PORT',
  'ct original proto-src 40000-65535',
  'ct reply proto-src PORT',
  'ct reply proto-dst < 1024',
  'ct l3proto ipv4',
  'ct mark 0',
  'ct mark != 0',
  'meta mark 0',
  'meta mark != 0x10',
  'meta mark & 0x1 == 0x1',
  'iifname "eno1"',
  'iifname != "eno1"',
  'iifname "wan0"',
  'iifname { "lan0", "eno1" }',
  'iifname "en*"',
  'iifname != "w*"',
  'iifname "lo"',
  'fib saddr type unicast',
  'fib saddr type local',
  'fib daddr type local',
  'fib daddr type unicast',
  'fib daddr type != local',
  'fib daddr type { local, broadcast }',
  'fib daddr . iif type local',
  'fib saddr oif 0',
  'fib saddr . iif oif 0',
  'fib saddr . iif oif != 0',
  'fib saddr oif exists',
  `ip saddr . ip daddr { ${CLIENT} . ${HOST}, ${OTHER} . ${WAN} }`,
  `ip saddr . th dport { ${CLIENT} . PORT, ${OTHER} . 1-1023 }`,
  `ip saddr . th dport != { ${CLIENT} . PORT }`,
  'ip saddr . th dport { 198.51.100.0/27 . 1-65535 }',
  'meta l4proto . th dport { tcp . PORT, udp . 53 }',
  'iifname . ip saddr { "eno1" . 192.168.50.77, "wan0" . 198.51.100.23 }',
  'ct state . meta l4proto { new . udp, established . tcp }',
  '@th,16,16 PORT',
  '@th,0,16 < 1024',
  '@nh,96,32 0xc6336417',
  '@nh,72,8 6',
  '@nh,48,8 6',
  'icmp type echo-request',
  'icmp type != echo-request',
  'icmpv6 type { nd-neighbor-solicit, nd-neighbor-advert }',
];

/** What a rule does, for a packet that it takes. */
const ENDINGS: readonly string[] = [
  'accept',
  'drop',
  'reject',
  'reject with tcp reset',
  'reject with icmp type port-unreachable',
  'reject with icmp type host-unreachable',
  'reject with icmp type net-unreachable',
  'reject with icmp type admin-prohibited',
  'reject with icmp type host-prohibited',
  'reject with icmp type net-prohibited',
  'reject with icmp type prot-unreachable',
  'reject with icmpv6 type port-unreachable',
  'reject with icmpv6 type admin-prohibited',
  'reject with icmpv6 type no-route',
  'reject with icmpv6 type addr-unreachable',
  'reject with icmpx type port-unreachable',
  'reject with icmpx type no-route',
  'reject with icmpx type host-unreachable',
  'reject with icmpx type admin-prohibited',
  'counter drop',
  'log prefix "seen: " drop',
  'log level warn flags all counter packets 0 bytes 0 accept',
  'meta priority set 1:1 drop',
  'return',
  'continue',
  'jump drops',
  'goto drops',
  'jump passes',
  'goto passes',
  'jump fromClient',
  'goto fromClient',
  'jump deep',
  'goto deep',
  `ip saddr vmap { ${CLIENT} : drop, ${OTHER} : accept }`,
  'ip saddr vmap { 198.51.100.0/27 : jump drops, 192.168.50.0/24 : accept, * : drop }',
  'meta l4proto vmap { tcp : drop, udp : accept }',
  'meta l4proto vmap { tcp : goto fromClient, udp : jump fromClient }',
  'th dport vmap { PORT : drop }',
  'th dport vmap { 1-1023 : accept, 1024-65535 : drop }',
  `ip saddr . th dport vmap { ${CLIENT} . PORT : drop, ${OTHER} . PORT : accept }`,
  'ct state vmap { established : accept, related : accept, new : drop }',
  'ct state vmap { invalid : drop, established : accept, related : accept } drop',
  'iifname vmap { "eno1" : drop, "wan0" : jump drops }',
  'ip saddr @allowed accept',
  'ip saddr != @allowed drop',
  'ip saddr @nets drop',
  'ip saddr . th dport @pairs drop',
  'ip saddr vmap @verdicts',
  'th dport @ports drop',
  'ip6 saddr @six drop',
  'meta mark set 0x10 drop',
];

/** Several rules in a row, for what one leaves behind for the next. */
const ROWS: readonly (readonly string[])[] = [
  ['PORTS meta mark set 0x10', 'PORTS meta mark 0x10 drop'],
  [`PORTS ip saddr ${CLIENT} meta mark set 0x3`, 'PORTS meta mark & 0x2 == 0x2 drop'],
  ['PORTS meta mark set 0x3', 'PORTS meta mark set meta mark & 0x1', 'PORTS meta mark 0x1 drop'],
  ['PORTS meta mark set 0x1', 'PORTS meta mark set meta mark | 0x4', 'PORTS meta mark 0x5 drop'],
  ['PORTS meta mark set 0x5', 'PORTS meta mark set meta mark ^ 0x1', 'PORTS meta mark 0x4 drop'],
  ['PORTS meta mark set 0x7', 'PORTS meta mark set (meta mark & 0x3) | 0x8', 'PORTS meta mark 0xb drop'],
  ['PORTS ct mark set 0x7', 'PORTS ct mark 0x7 drop'],
  ['PORTS ct mark set 0x7', 'PORTS meta mark set ct mark', 'PORTS meta mark { 0x6, 0x7 } drop'],
  ['PORTS meta mark set 0x9', 'PORTS ct mark set meta mark', 'PORTS ct mark & 0x8 != 0 drop'],
  ['PORTS meta mark set 0x10 accept', 'PORTS meta mark 0x10 drop'],
  [`PORTS ip saddr ${CLIENT} accept`, 'PORTS drop'],
  [`PORTS ip saddr ${CLIENT} jump passes`, 'PORTS drop'],
  [`PORTS ip saddr ${CLIENT} jump empty`, 'PORTS drop'],
  [`PORTS ip saddr ${CLIENT} goto empty`, 'PORTS drop'],
  ['PORTS jump returning', 'PORTS drop'],
  ['PORTS ct state new accept', 'PORTS drop'],
  ['PORTS meta l4proto tcp reject with tcp reset', 'PORTS accept'],
  [`PORTS ip saddr vmap { ${CLIENT} : continue, ${OTHER} : drop }`, 'PORTS counter accept', 'PORTS drop'],
];

/** Destination translations of the gateway, before the one that forwards all ports. */
const FORWARDS: readonly string[] = [
  `PORTS dnat to ${HOST}`,
  `PORTS dnat to ${HOST}:20999`,
  `PORTS dnat to ${HOST}:PORT`,
  `tcp dport PORT dnat to ${HOST}:20999`,
  `udp dport PORT dnat to ${HOST}:20999`,
  `tcp dport 20000-29999 tcp dport PORT dnat to ${HOST}:20998-20999`,
  `PORTS dnat to 192.168.50.20-192.168.50.20`,
  'PORTS dnat to 192.168.50.99',
  'PORTS dnat to 192.168.50.1',
  'PORTS redirect',
  'PORTS redirect to :20999',
  'tcp dport PORT redirect to :20998-20999',
  'PORTS accept',
  'PORTS return',
  'PORTS drop',
  'PORTS iifname "wan0" counter accept',
  `PORTS ip saddr ${CLIENT} dnat to ${HOST}:20999`,
  `PORTS ip saddr != ${CLIENT} dnat to ${HOST}:20999`,
  `PORTS ip daddr ${WAN} dnat to ${HOST}:20999`,
  `PORTS iifname "lan0" dnat to ${HOST}:20999`,
  `PORTS fib daddr type local dnat to ${HOST}:20999`,
  `tcp dport PORT dnat to tcp dport map { PORT : ${HOST} }`,
  `tcp dport PORT dnat to ip saddr map { ${CLIENT} : ${HOST}, ${OTHER} : 192.168.50.99 }`,
  `dnat ip to tcp dport map { PORT : ${HOST} . 20999 }`,
  `dnat ip to ip saddr . tcp dport map { ${CLIENT} . PORT : ${HOST} . 20999 }`,
  `dnat ip to ip daddr . tcp dport map { ${WAN} . PORT : ${HOST} . 20999 }`,
  `PORTS dnat ip prefix to ip daddr map { 203.0.113.48/30 : 192.168.50.20/30 }`,
  `PORTS jump toHost`,
  `PORTS dnat to ${HOST} persistent`,
];

/** Before connection tracking and translation. */
const EARLY: readonly string[] = [
  'PORTS notrack',
  `PORTS ip daddr ${WAN} drop`,
  `PORTS ip daddr ${HOST} drop`,
  'PORTS fib daddr type local drop',
  'PORTS fib saddr type local drop',
  'PORTS fib saddr . iif oif 0 drop',
  'PORTS ct state untracked drop',
  'PORTS ct state new drop',
  'PORTS iifname "wan0" drop',
  `ip saddr ${CLIENT} PORTS notrack`,
];

/** Source translations of the gateway on the way to the server. */
const SOURCES: readonly string[] = [
  `ip daddr ${HOST} PORTS masquerade`,
  `ip daddr ${HOST} PORTS snat to 192.168.50.1`,
  `ip daddr ${HOST} PORTS snat to 192.168.50.77`,
  `ip daddr ${HOST} ip saddr ${CLIENT} tcp dport PORT snat to 192.168.50.1:30000`,
  `ip daddr ${HOST} ip saddr ${CLIENT} tcp dport PORT masquerade to :30001`,
  `ip daddr ${HOST} PORTS ip saddr ${CLIENT} masquerade`,
  `ip daddr ${HOST} PORTS ip saddr != ${CLIENT} snat to 192.168.50.1`,
  `ip daddr ${HOST} PORTS ct status dnat masquerade`,
  `ip daddr ${HOST} PORTS oifname "lan0" masquerade`,
  `ip daddr ${HOST} PORTS oifname "wan0" masquerade`,
  `ip daddr ${HOST} PORTS accept`,
  `ip daddr ${HOST} PORTS drop`,
  `ip daddr ${HOST} tcp dport PORT snat to ip saddr map { ${CLIENT} : 192.168.50.1 }`,
];

/** Conditions on the way out, for the gateway's forward hook alone. */
const OUTWARD: readonly string[] = [
  'oifname "lan0"',
  'oifname != "lan0"',
  'oifname "wan0"',
  'oifname "l*"',
  'iifname "wan0" oifname "lan0"',
  'iifname . oifname { "wan0" . "lan0" }',
  'iif "wan0"',
  'oif "lan0"',
  'iif != "wan0"',
];

const PORTS = 'meta l4proto { tcp, udp } th dport PORT';
const ruled = (text: string): string => text.replaceAll('PORTS', PORTS);
const ending = (what: string): string => `${what.includes('tcp reset') ? 'tcp dport PORT' : 'PORTS'} ${what}`;

/** A condition on its own port: of the transport that it names, where it names one. */
function dropping(condition: string): string {
  const [word = ''] = condition.split(' ');
  if (word.startsWith('icmp')) return `${condition} drop`;
  return word === 'tcp' || word === 'udp'
    ? `${word} dport PORT ${condition} drop`
    : `PORTS ${condition} drop`;
}

const at = (where: Statement['where'], texts: readonly string[]): Statement[] =>
  texts.map((text) => ({ where, rules: [ruled(text)] }));

/** Every condition, ending and translation that is modelled, one statement a port. */
export const NFT_STATEMENTS: readonly Statement[] = [
  ...at('host', CONDITIONS.map(dropping)),
  ...at('forward', CONDITIONS.map(dropping)),
  ...at('forward', OUTWARD.map(dropping)),
  ...at('host', ENDINGS.map(ending)),
  ...at('forward', ENDINGS.map(ending)),
  ...ROWS.map((rules): Statement => ({ where: 'host', rules: rules.map(ruled) })),
  ...ROWS.map((rules): Statement => ({ where: 'forward', rules: rules.map(ruled) })),
  ...at('prerouting', FORWARDS),
  ...at('postrouting', SOURCES),
  ...at('early', EARLY),
];

/** Chains and sets that the statements above name. */
export const NFT_BESIDE = `
 set allowed { type ipv4_addr; elements = { ${CLIENT}, ${INSIDE} } }
 set nets { type ipv4_addr; flags interval; elements = { 198.51.100.0/27, 192.168.50.70-192.168.50.79 } }
 set pairs { type ipv4_addr . inet_service; elements = { PAIRS } }
 set ports { type inet_service; flags interval; elements = { 20000-20005, 20030-20999 } }
 set six { type ipv6_addr; flags interval; elements = { 2001:db8:c1::/64 } }
 map verdicts { type ipv4_addr : verdict; elements = { ${CLIENT} : drop, ${INSIDE} : accept } }
 chain empty { }
 chain drops { drop; }
 chain passes { accept; }
 chain returning { ip saddr ${CLIENT} return; accept; }
 chain fromClient { ip saddr ${CLIENT} drop; }
 chain deep { ip saddr ${OTHER} jump drops; meta l4proto udp goto returning; }
`;

const chain = (name: string, head: string, rules: readonly string[]): string =>
  ` chain ${name} {\n  ${head}\n${rules.map((rule) => `  ${rule}\n`).join('')} }\n`;

/** The rule sets of gateway and server that hold these statements. */
export function nftTables(placed: readonly Placed[]): Tables {
  const of = (where: Statement['where']): string[] =>
    placed.filter((p) => p.where === where).flatMap(rulesOf);
  const pairs = placed.map((p) => `${CLIENT} . ${p.port}`).join(', ');
  const beside = NFT_BESIDE.replace('PAIRS', pairs);
  const range = `meta l4proto { tcp, udp } th dport 20000-20999`;
  const before = chain('prerouting', 'type nat hook prerouting priority dstnat; policy accept;', [
    ...of('prerouting'),
    `ip daddr ${WAN} ${range} dnat to ${HOST}`,
  ]);
  const after = chain('postrouting', 'type nat hook postrouting priority srcnat; policy accept;', [
    ...of('postrouting'),
    `ip saddr 192.168.50.0/24 ip daddr ${HOST} ${range} masquerade`,
    'oifname "wan0" masquerade',
  ]);
  const filter = (hook: string, rules: readonly string[]): string =>
    chain(hook, `type filter hook ${hook} priority filter; policy accept;`, rules);
  const early = chain('early', 'type filter hook prerouting priority raw; policy accept;', of('early'));
  return {
    gateway: {
      rules:
        `table ip nat {\n chain toHost { meta l4proto { tcp, udp } dnat to ${HOST}:${OTHER_PORT}; }\n${before}${after}}\n` +
        `table inet lab {\n${beside}${early}${filter('forward', of('forward'))}}\n`,
    },
    host: { rules: `table inet lab {\n${beside}${filter('input', of('host'))}}\n` },
  };
}
