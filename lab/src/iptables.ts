import type { Random } from './random.ts';

/** What a random rule set is made for: addresses and ports that occur on the site. */
export interface Scenery {
  readonly wan: string;
  readonly outside: string;
  readonly target: string;
  readonly client: string;
  readonly ports: readonly number[];
  readonly served: readonly number[];
}

/** One random condition in iptables' words. */
const STATES = ['NEW', 'RELATED,ESTABLISHED', 'INVALID', 'NEW,UNTRACKED', 'DNAT'] as const;

function condition(r: Random, s: Scenery, chain: 'INPUT' | 'FORWARD'): string {
  const sources = [s.client, '198.51.100.0/24', '198.51.100.32', '192.0.2.0/24', '192.168.50.0/24'];
  switch (r.below(12)) {
    case 0:
      return `-s ${r.pick(sources)}`;
    case 1:
      return `! -s ${r.pick(sources)}`;
    case 2:
      return (
        `-p ${r.pick(['tcp', 'udp'])} -m multiport --dports ` +
        `${r.pick(s.ports)},${r.pick(s.ports)},9000:9100`
      );
    case 3:
      return `-p tcp -m tcp --dport ${r.pick(['8200:8220', ':1023', '8214:'])}`;
    case 4:
      return `-m conntrack --ctstate ${r.pick(STATES)}`;
    case 5:
      return `-m conntrack ! --ctstate ${r.pick(['NEW', 'DNAT'])}`;
    case 6:
      return chain === 'FORWARD'
        ? r.pick([`-i ${s.wan}`, `! -i lan0`, '-o lan0', `-i ${s.wan} -o lan0`])
        : r.pick([`-i eno1`, '! -i lo', '-i eno+']);
    case 7:
      return `-m addrtype --dst-type ${r.pick(['LOCAL', 'UNICAST'])}`;
    case 8:
      return `-m mark --mark ${r.pick(['0x10', '0x10/0x10'])}`;
    case 9:
      return `-m iprange --src-range 198.51.100.20-198.51.100.30`;
    case 10:
      return `-p tcp -m tcp --tcp-flags FIN,SYN,RST,ACK SYN`;
    default:
      return `-m conntrack --ctorigdst ${r.pick([s.outside, s.target])}`;
  }
}

const VERDICTS = [
  'DROP',
  'DROP',
  'REJECT --reject-with icmp-port-unreachable',
  'REJECT --reject-with icmp-host-prohibited',
  'REJECT --reject-with icmp-admin-prohibited',
] as const;

function rules(r: Random, s: Scenery, chain: 'INPUT' | 'FORWARD', count: number): string[] {
  return Array.from({ length: count }, () => {
    const where = condition(r, s, chain);
    let target;
    if (r.chance(0.12)) target = 'EXTRA';
    else if (r.chance(0.1)) target = 'LOG --log-prefix "seen "';
    else if (r.chance(0.5)) target = 'ACCEPT';
    else if (/-p tcp/.test(where) && r.chance(0.3)) target = 'REJECT --reject-with tcp-reset';
    else target = r.pick(VERDICTS);
    return `-A ${chain} ${where} -j ${target}`;
  });
}

const extra = (r: Random, s: Scenery): string[] => [
  `-A EXTRA -s ${r.pick([s.client, '192.0.2.0/24'])} -j ${r.pick(['ACCEPT', 'DROP', 'RETURN'])}`,
];

/** A host's filter table. */
export function iptablesHost(r: Random, s: Scenery): string {
  const policy = r.pick(['ACCEPT', 'DROP', 'DROP']);
  const basics =
    policy === 'DROP'
      ? [
          '-A INPUT -i lo -j ACCEPT',
          '-A INPUT -m conntrack --ctstate RELATED,ESTABLISHED -j ACCEPT',
          '-A INPUT -p icmp -j ACCEPT',
        ]
      : [];
  const allow = [
    `-A INPUT -p tcp -m multiport --dports ${s.ports
      .filter(() => r.chance(0.7))
      .concat(8211)
      .join(',')} -j ACCEPT`,
  ];
  const own = r.chance(0.5)
    ? [...basics, ...allow, ...rules(r, s, 'INPUT', r.below(4))]
    : [...basics, ...rules(r, s, 'INPUT', r.below(4)), ...allow];
  return (
    '*filter\n' +
    `:INPUT ${policy} [0:0]\n` +
    ':FORWARD ACCEPT [0:0]\n' +
    ':OUTPUT ACCEPT [0:0]\n' +
    ':EXTRA - [0:0]\n' +
    `${[...own, ...extra(r, s)].join('\n')}\n` +
    'COMMIT\n'
  );
}

/** A gateway's nat, mangle and filter tables. */
export function iptablesGateway(r: Random, s: Scenery): string {
  const forwards = [...s.served, r.pick(s.ports)].map((port) => {
    const scope = r.pick([
      `-i ${s.wan}`,
      `-d ${s.outside}/32`,
      `-i ${s.wan} -d ${s.outside}/32`,
      '-m addrtype --dst-type LOCAL',
      '',
    ]);
    const range = r.chance(0.2);
    const to = r.pick([
      `DNAT --to-destination ${s.target}`,
      `DNAT --to-destination ${s.target}`,
      `DNAT --to-destination ${s.target}:${port}`,
      range
        ? `DNAT --to-destination ${s.target}:${port - 2}-${port + 2}`
        : `DNAT --to-destination ${s.target}:${r.pick(s.ports)}`,
      // Ports by their distance from a base, on both sides of it.
      `DNAT --to-destination ${s.target}:${port - 2}-${port + 2}/${port + r.below(5) - 2}`,
      `REDIRECT --to-ports ${r.pick(s.ports)}`,
    ]);
    return (
      `-A PREROUTING ${scope} -p ${r.pick(['tcp', 'tcp', 'tcp', 'udp'])} --dport ` +
      `${range ? `${port - 2}:${port + 2}` : port} -j ${to}`
    ).replace('  ', ' ');
  });
  const post = [
    `-A POSTROUTING -o ${s.wan} -j MASQUERADE`,
    ...(r.chance(0.5)
      ? [
          `-A POSTROUTING -s 192.168.50.0/24 -d ${s.target}/32 -j ` +
            `${r.pick(['MASQUERADE', 'SNAT --to-source 192.168.50.1'])}`,
        ]
      : []),
  ];
  const mark = r.chance(0.3)
    ? '*mangle\n' +
      ':PREROUTING ACCEPT [0:0]\n' +
      ':FORWARD ACCEPT [0:0]\n' +
      `-A PREROUTING -s ${s.client} -j MARK --set-xmark 0x10/0xffffffff\n` +
      `${r.chance(0.3) ? `-A FORWARD -p tcp --dport ${r.pick(s.ports)} -j DROP\n` : ''}COMMIT\n`
    : '';
  const raw = r.chance(0.1)
    ? '*raw\n:PREROUTING ACCEPT [0:0]\n' +
      `-A PREROUTING -p tcp --dport ${r.pick(s.ports)} -j CT --notrack\nCOMMIT\n`
    : '';
  const policy = r.pick(['DROP', 'ACCEPT']);
  const forward =
    policy === 'DROP'
      ? [
          '-A FORWARD -m conntrack --ctstate RELATED,ESTABLISHED -j ACCEPT',
          '-A FORWARD -i lan0 -j ACCEPT',
          ...(r.chance(0.85) ? ['-A FORWARD -m conntrack --ctstate DNAT -j ACCEPT'] : []),
        ]
      : [];
  return (
    `${raw}${mark}*nat\n` +
    ':PREROUTING ACCEPT [0:0]\n' +
    ':POSTROUTING ACCEPT [0:0]\n' +
    `${[...forwards, ...post].join('\n')}\n` +
    'COMMIT\n' +
    '*filter\n' +
    `:INPUT ${r.pick(['ACCEPT', 'DROP'])} [0:0]\n` +
    `:FORWARD ${policy} [0:0]\n` +
    ':OUTPUT ACCEPT [0:0]\n' +
    ':EXTRA - [0:0]\n' +
    `${[
      ...(r.chance(0.4) ? rules(r, s, 'FORWARD', r.below(3)) : []),
      ...forward,
      ...rules(r, s, 'FORWARD', r.below(2)),
      '-A INPUT -m conntrack --ctstate RELATED,ESTABLISHED -j ACCEPT',
      '-A INPUT -i lan0 -j ACCEPT',
      ...extra(r, s),
    ].join('\n')}\n` +
    'COMMIT\n'
  );
}
