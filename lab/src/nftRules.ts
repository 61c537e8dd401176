import { CLIENT, HOST, HOST6, PORTS, WAN } from './places.ts';
import type { Random } from './random.ts';

const verdicts = [
  'drop',
  'drop',
  'reject',
  'reject with tcp reset',
  'reject with icmpx admin-prohibited',
] as const;
const sources = [
  CLIENT,
  '198.51.100.0/24',
  '198.51.100.32',
  '192.0.2.0/24',
  '192.168.50.0/24',
  '198.51.100.20-198.51.100.30',
] as const;

/** One random condition in nft's words. */
function condition(r: Random): string {
  switch (r.below(12)) {
    case 0:
      return `ip saddr ${r.pick(sources)}`;
    case 1:
      return `ip saddr != ${r.pick(sources)}`;
    case 2:
      return `${r.pick(['tcp', 'udp', 'th'])} dport { ${r.pick(PORTS)}, ${r.pick(PORTS)} }`.replace(
        /^th/,
        'meta l4proto { tcp, udp } th',
      );
    case 3:
      return `tcp dport ${r.pick(['8200-8220', '!= 8211', '< 1024', '>= 8214'])}`;
    case 4:
      return `ct state ${r.pick(['new', 'established,related', '{ new, untracked }', '!= established'])}`;
    case 5:
      return `ct status ${r.pick(['dnat', 'snat'])}`;
    case 6:
      return `iifname ${r.pick(['"wan0"', '"lan0"', '"eno1"', '{ "wan0", "eno1" }', '"wan*"', '!= "lan0"'])}`;
    case 7:
      return `fib daddr type ${r.pick(['local', '{ local, unicast }', '!= local'])}`;
    case 8:
      return `meta mark ${r.pick(['0x10', '!= 0x10', '& 0x10 == 0x10'])}`;
    case 9:
      return `meta nfproto ${r.pick(['ipv4', 'ipv6'])}`;
    case 10:
      return `ct original ip daddr ${r.pick([WAN, HOST])}`;
    default:
      return `ip saddr . tcp dport { ${CLIENT} . ${r.pick(PORTS)}, 192.0.2.1 . 80 }`;
  }
}

/** nft refuses rules that contradict themselves: two protocols, or IPv6 with an IPv4 address. */
function fits(a: string, b: string): boolean {
  const both = `${a} ${b}`;
  const transports = [/\btcp dport/.test(both), /\budp dport/.test(both), /l4proto/.test(both)].filter(
    Boolean,
  ).length;
  return (
    transports <= 1 &&
    !(/nfproto/.test(both) && /\bip (s|d)addr/.test(both)) &&
    a.split(' ')[0] !== b.split(' ')[0]
  );
}

/**
 * Resets are for TCP alone. Beside a family (`meta nfproto`) nft 1.0.6 prints a rule with a reject without
 * that condition, so that the listing says something else than the kernel does: no evidence from it could
 * tell.
 */
const rejectable = (conditions: string, verdict: string): string =>
  (verdict.includes('tcp reset') && /udp|l4proto/.test(conditions)) ||
  (verdict.startsWith('reject') && /nfproto/.test(conditions))
    ? 'drop'
    : verdict;

function filterRules(r: Random, count: number): string[] {
  return Array.from({ length: count }, () => {
    const first = condition(r);
    const second = r.chance(0.5) ? condition(r) : '';
    const conditions = second !== '' && fits(first, second) ? `${first} ${second}` : first;
    let action;
    if (r.chance(0.15)) action = 'meta mark set 0x10';
    else if (r.chance(0.15)) action = 'counter';
    else if (r.chance(0.12)) action = `jump extra`;
    else if (r.chance(0.55)) action = 'accept';
    else action = rejectable(conditions, r.pick(verdicts));
    return `${conditions} ${action}`;
  });
}

const chain = (name: string, head: string, rules: readonly string[]): string =>
  ` chain ${name} {\n  ${head}\n${rules.map((x) => `  ${x}\n`).join('')} }\n`;

export function hostRules(r: Random): string {
  const policy = r.pick(['accept', 'drop', 'drop']);
  const basics =
    policy === 'drop'
      ? ['ct state established,related accept', 'iif "lo" accept', 'meta l4proto { icmp, ipv6-icmp } accept']
      : [];
  const output = r.chance(0.15)
    ? chain('out', 'type filter hook output priority filter; policy accept;', [
        `tcp sport ${r.pick(PORTS)} drop`,
      ])
    : '';
  const allowed = `${
    r.chance(0.7)
      ? `tcp dport { ${PORTS.filter(() => r.chance(0.7))
          .concat(8211)
          .join(', ')} } accept`
      : 'counter'
  }`;
  const extra = chain('extra', '', [`ip saddr ${r.pick(sources)} ${r.pick(['accept', 'drop', 'return'])}`]);
  const input = `type filter hook input priority ${r.pick(['filter', '5', '-10'])}; policy ${policy};`;
  const rules = r.chance(0.6)
    ? [...basics, allowed, ...filterRules(r, r.below(4))]
    : [...basics, ...filterRules(r, r.below(4)), allowed];
  return `table inet guard {\n${extra}${chain('input', input, rules)}${output}}\n`;
}

/** What a gateway forwards, and to whom. */
export interface Forwarding {
  readonly wan: string;
  readonly target: string;
  readonly outside: string;
  readonly served: readonly number[];
}

/**
 * Every served port forwarded to the server, whoever asks; sometimes with the hairpin's source translation.
 */
export function plainGateway(r: Random, { wan, target, outside, served }: Forwarding): string {
  const forwards = served.map(
    (port) => `ip daddr ${outside} meta l4proto { tcp, udp } th dport ${port} dnat to ${target}`,
  );
  const post = [
    `oifname "${wan}" masquerade`,
    ...(r.chance(0.5) ? [`ip saddr 192.168.50.0/24 ip daddr ${target} masquerade`] : []),
  ];
  return (
    'table ip nat {\n' +
    `${chain('prerouting', 'type nat hook prerouting priority dstnat; policy accept;', forwards)}` +
    `${chain('postrouting', 'type nat hook postrouting priority srcnat; policy accept;', post)}}\n`
  );
}

export function gatewayRules(r: Random, { wan, target, outside, served }: Forwarding): string {
  const forwards = [...served, r.pick(PORTS)].map((port) => {
    const protocol = r.pick(['tcp', 'tcp', 'tcp', 'udp']);
    const scope = r.pick([
      `iifname "${wan}"`,
      `ip daddr ${outside}`,
      `iifname "${wan}" ip daddr ${outside}`,
      'fib daddr type local',
      `ip saddr ${r.pick(sources)}`,
      '',
      '',
    ]);
    const to = r.pick([
      target,
      target,
      target,
      target,
      `${target}:${port}`,
      `${target}:${port}`,
      `${target}:${r.pick(PORTS)}`,
      target.replace(/(?<!\d)\d+$/, '99'),
    ]);
    const asked = r.chance(0.2) ? `${port - 2}-${port + 2}` : port;
    return `${scope} ${protocol} dport ${asked} dnat to ${to}`.trim();
  });
  const map = r.chance(0.2) ? ['dnat to tcp dport map { 9001 : ' + target + ', 9002 : ' + target + ' }'] : [];
  const post = [
    `oifname "${wan}" masquerade`,
    ...(r.chance(0.5) ? [`ip saddr 192.168.50.0/24 ip daddr ${target} masquerade`] : []),
  ];
  const policy = r.pick(['drop', 'accept']);
  const forward =
    policy === 'drop'
      ? [
          'ct state established,related accept',
          `iifname "lan0" accept`,
          ...(r.chance(0.85) ? ['ct status dnat accept'] : []),
          ...(r.chance(0.5)
            ? ['meta l4proto ipv6-icmp accept', `ip6 daddr ${HOST6} tcp dport ${r.pick(PORTS)} accept`]
            : []),
        ]
      : [];
  const input = r.pick(['drop', 'accept']);
  const hooked = (
    hook: string,
    priority: string,
    end: string,
    rules: readonly string[],
    name = hook,
  ): string => chain(name, `type filter hook ${hook} priority ${priority}; policy ${end};`, rules);
  const priority = r.pick(['dstnat', 'dstnat - 5', '-90']);
  const before = `type nat hook prerouting priority ${priority}; policy accept;`;
  const usual =
    input === 'drop'
      ? [
          'ct state established,related accept',
          'meta l4proto { icmp, ipv6-icmp } accept',
          'iifname "lan0" accept',
        ]
      : [];
  return [
    'table ip nat {\n',
    chain('prerouting', before, [...forwards, ...map]),
    `${chain('postrouting', 'type nat hook postrouting priority srcnat; policy accept;', post)}}\n`,
    'table inet gate {\n',
    chain('extra', '', [`ip saddr ${r.pick(sources)} ${r.pick(['accept', 'drop', 'return'])}`, 'counter']),
    hooked('forward', 'filter', policy, [
      ...(r.chance(0.3) ? filterRules(r, r.below(3)) : []),
      ...forward,
      ...filterRules(r, r.below(2)),
    ]),
    hooked('input', 'filter', input, [...usual, ...filterRules(r, r.below(2))]),
    r.chance(0.3)
      ? hooked('prerouting', r.pick(['raw', 'mangle', '-99']), 'accept', filterRules(r, 1), 'early')
      : '',
    '}\n',
    r.chance(0.3) ? askedFor(r, wan, target) : '',
  ].join('');
}

/**
 * Forwards as a gateway writes them that machines inside asked for them: header bytes instead of fields, in a
 * table for both families.
 */
function askedFor(r: Random, wan: string, target: string): string {
  const rules = PORTS.filter(() => r.chance(0.5)).map(
    (port) => `iifname "${wan}" @nh,72,8 ${r.pick(['0x6', '0x11'])} th dport ${port} dnat ip to ${target}`,
  );
  return (
    'table inet asked {\n' +
    `${chain('prerouting', 'type nat hook prerouting priority dstnat + 1; policy accept;', rules)}}\n`
  );
}
