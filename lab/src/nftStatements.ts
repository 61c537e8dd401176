import { CONDITIONS } from './nftConditions.ts';
import { CLIENT, HOST, OTHER, WAN } from './places.ts';
import type { Statement } from './statement.ts';

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
