import { iptablesGateway, iptablesHost, type Scenery } from './iptables.ts';
import { gatewayRules, hostRules, plainGateway } from './nftRules.ts';
import { CLIENT, CLIENT6, HOST, HOST6, INSIDE, PORTS, WAN, WAN6 } from './places.ts';
import type { Random } from './random.ts';

/** A machine to build: its rules as nft text, its settings, and its sockets. */
export interface LabMachine {
  readonly name: string;
  readonly role: 'client' | 'carrier' | 'gateway' | 'host';
  readonly rules: string;
  /** Input of iptables-restore, instead of or beside nft rules. */
  readonly iptables?: string;
  /** Input of ip6tables-restore. */
  readonly ip6tables?: string;
  readonly settings: readonly string[];
  readonly routes: readonly string[];
  readonly sockets: readonly { protocol: 'tcp' | 'udp'; address: string; port: number; v6only?: boolean }[];
}

export interface LabSite {
  readonly title: string;
  readonly machines: readonly LabMachine[];
  readonly cables: readonly (readonly [LabEnd, LabEnd])[];
  readonly segments: readonly (readonly LabEnd[])[];
  readonly packets: readonly { from: string; to: string; client: string }[];
  /** How the evidence is printed. */
  readonly listing: 'json' | 'text';
}

export interface LabEnd {
  readonly machine: string;
  readonly device: string;
  readonly addresses: readonly string[];
}

/**
 * Makes a site: client, carrier, one or two gateways, a server and an inside client, with rules of every
 * modelled kind.
 */
export function randomSite(r: Random, index: number): LabSite {
  const double = r.chance(0.3);
  // Nothing but the service's own forwards and sockets: without such sites hardly anything would ever be
  // answered.
  const plain = r.chance(0.4);
  const served = PORTS.filter(() => r.chance(0.8));
  const inner = double ? '192.168.1.2' : WAN;
  const classic = !plain && r.chance(0.4);
  const scenery = (wan: string, outside: string, target: string): Scenery => ({
    wan,
    outside,
    target,
    client: CLIENT,
    ports: PORTS,
    served,
  });
  const filters = (wan: string, target: string, outside: string): Pick<LabMachine, 'rules' | 'iptables'> =>
    classic
      ? { rules: '', iptables: iptablesGateway(r, scenery(wan, outside, target)) }
      : { rules: (plain ? plainGateway : gatewayRules)(r, { wan, target, outside, served }) };
  const hostFilters = (): Pick<LabMachine, 'rules' | 'iptables'> => {
    if (plain || r.chance(0.4)) return { rules: '' };
    return classic
      ? { rules: '', iptables: iptablesHost(r, scenery('eno1', WAN, HOST)) }
      : { rules: hostRules(r) };
  };
  const machines: LabMachine[] = [
    {
      name: 'client',
      role: 'client',
      rules: '',
      settings: [],
      routes: ['default via 198.51.100.1', '-6 default via 2001:db8:c1::1'],
      sockets: [],
    },
    {
      name: 'carrier',
      role: 'carrier',
      rules: '',
      settings: ['net.ipv4.ip_forward=1', 'net.ipv6.conf.all.forwarding=1'],
      routes: ['-6 2001:db8:50::/64 via 2001:db8:0:49::50'],
      sockets: [],
    },
    ...(double
      ? [
          {
            name: 'outer',
            role: 'gateway' as const,
            ...filters('wan0', '192.168.1.2', WAN),
            settings: ['net.ipv4.ip_forward=1'],
            routes: ['default via 203.0.113.49'],
            sockets: [],
          },
        ]
      : []),
    {
      name: 'gateway',
      role: 'gateway',
      ...filters('wan0', HOST, inner),
      sockets: r.chance(0.4) ? [{ protocol: 'tcp', address: '0.0.0.0', port: r.pick(PORTS) }] : [],
      settings: [
        `net.ipv4.ip_forward=${r.chance(0.06) ? 0 : 1}`,
        `net.ipv6.conf.all.forwarding=${r.chance(0.15) ? 0 : 1}`,
        `net.ipv4.conf.all.rp_filter=${r.pick([0, 1, 2])}`,
      ],
      routes: [
        `default via ${double ? '192.168.1.1' : '203.0.113.49'}`,
        ...(double ? [] : ['-6 default via 2001:db8:0:49::1']),
        ...(r.chance(0.2) ? [`${r.pick(['blackhole', 'unreachable', 'prohibit'])} 192.0.2.0/24`] : []),
      ],
    },
    {
      name: 'host',
      role: 'host',
      ...hostFilters(),
      settings: [`net.ipv4.conf.all.rp_filter=${r.pick([0, 1, 2])}`],
      routes: r.chance(0.95)
        ? ['default via 192.168.50.1', ...(double ? [] : ['-6 default via 2001:db8:50::1'])]
        : [],
      sockets: hostSockets(r, served),
    },
    {
      name: 'inside',
      role: 'client',
      rules: '',
      settings: [],
      routes: ['default via 192.168.50.1'],
      sockets: [],
    },
  ];
  const uplink: LabEnd = double
    ? { machine: 'outer', device: 'wan0', addresses: [`${WAN}/29`] }
    : { machine: 'gateway', device: 'wan0', addresses: [`${WAN}/29`, `${WAN6}/64`] };
  return {
    title: `${index}: ${double ? 'two gateways' : 'one gateway'}, ${served.length} ports served`,
    machines,
    cables: [
      [
        { machine: 'client', device: 'enp3s0', addresses: [`${CLIENT}/24`, `${CLIENT6}/64`] },
        { machine: 'carrier', device: 'cust0', addresses: ['198.51.100.1/24', '2001:db8:c1::1/64'] },
      ],
      [{ machine: 'carrier', device: 'acc0', addresses: ['203.0.113.49/29', '2001:db8:0:49::1/64'] }, uplink],
      ...(double
        ? ([
            [
              { machine: 'outer', device: 'lan0', addresses: ['192.168.1.1/24'] },
              { machine: 'gateway', device: 'wan0', addresses: ['192.168.1.2/24'] },
            ],
          ] as const)
        : []),
    ],
    segments: [
      [
        { machine: 'gateway', device: 'lan0', addresses: ['192.168.50.1/24', '2001:db8:50::1/64'] },
        { machine: 'host', device: 'eno1', addresses: [`${HOST}/24`, `${HOST6}/64`] },
        { machine: 'inside', device: 'wlp2s0', addresses: [`${INSIDE}/24`] },
      ],
    ],
    packets: packets(r, double),
    listing: index % 2 === 0 ? 'json' : 'text',
  };
}

function packets(r: Random, double: boolean): LabSite['packets'] {
  const out: { from: string; to: string; client: string }[] = [];
  let source = 30000;
  const add = (client: string, from: string, to: string, port: number, protocol: string): void => {
    const wrap = (a: string): string => (a.includes(':') ? `[${a}]` : a);
    out.push({ client, from: `${wrap(from)}:${source++}`, to: `${wrap(to)}:${port}/${protocol}` });
  };
  for (const port of PORTS) {
    add('client', CLIENT, WAN, port, 'tcp');
    if (r.chance(0.5)) add('client', CLIENT, WAN, port, 'udp');
    if (!double && r.chance(0.5)) add('client', CLIENT6, HOST6, port, r.pick(['tcp', 'udp']));
    if (r.chance(0.4)) add('inside', INSIDE, WAN, port, r.pick(['tcp', 'udp']));
    if (r.chance(0.3)) add('inside', INSIDE, HOST, port, r.pick(['tcp', 'udp']));
  }
  if (r.chance(0.5)) add('client', CLIENT, '192.0.2.9', 80, 'tcp');
  if (r.chance(0.5)) add('inside', INSIDE, '192.0.2.9', 80, 'udp');
  return out;
}

function hostSockets(r: Random, served: readonly number[]): LabMachine['sockets'] {
  return served.flatMap((port) => {
    const protocol = r.pick(['tcp', 'tcp', 'tcp', 'udp'] as const);
    const address = r.pick(['0.0.0.0', '0.0.0.0', '0.0.0.0', '::', '::', '::', HOST, '127.0.0.1']);
    return [{ protocol, address, port, v6only: address === '::' && r.chance(0.3) }];
  });
}
