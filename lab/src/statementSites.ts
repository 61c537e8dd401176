import { iptablesTables } from './iptablesTables.ts';
import { nftTables } from './nftTables.ts';
import { CLIENT, CLIENT6, HOST, HOST6, INSIDE, OTHER, WAN, WAN6 } from './places.ts';
import type { LabMachine, LabSite } from './sites.ts';
import { OTHER_PORT, type Placed, type Statement, type Tables } from './statement.ts';

/** So many statements share one network. */
const TOGETHER = 16;
const FIRST_PORT = 20_000;
/** Networks in which every statement meets packets: of both transports and families, from three senders. */
export function statementSites(
  program: 'nft' | 'iptables',
  statements: readonly Statement[],
): readonly LabSite[] {
  const sites: LabSite[] = [];
  for (let i = 0; i < statements.length; i += TOGETHER) {
    const placed = statements
      .slice(i, i + TOGETHER)
      .map((statement, k): Placed => ({ ...statement, port: FIRST_PORT + 2 * k }));
    const tables = program === 'nft' ? nftTables(placed) : iptablesTables(placed);
    const title = `${program} statements ${i + 1} to ${i + placed.length}`;
    sites.push(siteOf(title, placed, tables, sites.length % 2 === 0 ? 'text' : 'json'));
  }
  return sites;
}

function siteOf(
  title: string,
  placed: readonly Placed[],
  tables: Tables,
  listing: LabSite['listing'],
): LabSite {
  const plain = { rules: '', settings: [], sockets: [] };
  const listening = [...placed.map((p) => p.port), OTHER_PORT - 1, OTHER_PORT];
  const machines: LabMachine[] = [
    {
      ...plain,
      name: 'client',
      role: 'client',
      routes: ['default via 198.51.100.1', '-6 default via 2001:db8:c1::1'],
    },
    {
      ...plain,
      name: 'carrier',
      role: 'carrier',
      settings: ['net.ipv4.ip_forward=1', 'net.ipv6.conf.all.forwarding=1'],
      routes: ['-6 2001:db8:50::/64 via 2001:db8:0:49::50'],
    },
    {
      name: 'gateway',
      role: 'gateway',
      ...tables.gateway,
      settings: ['net.ipv4.ip_forward=1', 'net.ipv6.conf.all.forwarding=1'],
      routes: ['default via 203.0.113.49', '-6 default via 2001:db8:0:49::1'],
      sockets: [{ protocol: 'tcp', address: '0.0.0.0', port: OTHER_PORT }],
    },
    {
      name: 'host',
      role: 'host',
      ...tables.host,
      settings: [],
      routes: ['default via 192.168.50.1', '-6 default via 2001:db8:50::1'],
      sockets: listening.flatMap((port) =>
        (['tcp', 'udp'] as const).map((protocol) => ({ protocol, address: '::', port, v6only: false })),
      ),
    },
    { ...plain, name: 'inside', role: 'client', routes: ['default via 192.168.50.1'] },
  ];
  return {
    title,
    listing,
    machines,
    cables: [
      [
        {
          machine: 'client',
          device: 'enp3s0',
          addresses: [`${CLIENT}/24`, `${OTHER}/24`, `${CLIENT6}/64`],
        },
        { machine: 'carrier', device: 'cust0', addresses: ['198.51.100.1/24', '2001:db8:c1::1/64'] },
      ],
      [
        { machine: 'carrier', device: 'acc0', addresses: ['203.0.113.49/29', '2001:db8:0:49::1/64'] },
        { machine: 'gateway', device: 'wan0', addresses: [`${WAN}/29`, `${WAN6}/64`] },
      ],
    ],
    segments: [
      [
        { machine: 'gateway', device: 'lan0', addresses: ['192.168.50.1/24', '2001:db8:50::1/64'] },
        { machine: 'host', device: 'eno1', addresses: [`${HOST}/24`, `${HOST6}/64`] },
        { machine: 'inside', device: 'enp2s0', addresses: [`${INSIDE}/24`] },
      ],
    ],
    packets: placed.flatMap(({ port, where }, k) => {
      const own = 40_000 + k;
      return [
        { client: 'client', from: `${CLIENT}:${own}`, to: `${WAN}:${port}/tcp` },
        { client: 'client', from: `${CLIENT}:${own}`, to: `${WAN}:${port}/udp` },
        { client: 'client', from: `${OTHER}:${600 + k}`, to: `${WAN}:${port}/tcp` },
        ...(where === 'host' || where === 'forward'
          ? [{ client: 'client', from: `[${CLIENT6}]:${own}`, to: `[${HOST6}]:${port}/tcp` }]
          : []),
        ...(where === 'forward'
          ? []
          : [
              {
                client: 'inside',
                from: `${INSIDE}:${own + 5_000}`,
                to: `${where === 'host' ? HOST : WAN}:${port}/tcp`,
              },
            ]),
      ];
    }),
  };
}
