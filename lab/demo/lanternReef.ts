import { setTimeout as sleep } from 'node:timers/promises';
import { dig, type Files, hall, HALL_INPUT, listen, stops, write, ZONE } from './hall.ts';

export async function lanternReef(): Promise<void> {
  const n = hall('l', '100.72.14.9/20', '203.0.113.77/32');
  try {
    await listen(
      n,
      'server',
      [
        { protocol: 'udp', address: '0.0.0.0', port: 28410 },
        { protocol: 'tcp', address: '0.0.0.0', port: 28410 },
      ],
      'lanternd',
    );
    n.start('client', [
      'dnsmasq',
      ...ZONE,
      '--listen-address=198.51.100.23',
      '--host-record=play.gannet.example.net,203.0.113.77,600',
    ]);
    await sleep(700);
    n.run(
      'server',
      'nft -f -',
      HALL_INPUT +
        '  ip saddr 192.168.50.0/24 tcp dport 22 accept\n' +
        '  udp dport 28410 accept\n' +
        '  tcp dport 28410 accept\n' +
        ' }\n' +
        '}\n',
    );
    const files: Files = new Map([
      ['evidence/client/name.txt', dig(n, 'client', 'play.gannet.example.net', '198.51.100.23')],
      [
        'evidence/gateway/status-page.txt',
        'Internet\n' +
          'Connection type: DHCP client\n' +
          'WAN IP\t100.72.14.9\n' +
          'Subnet mask\t255.255.240.0\n' +
          'Default gateway\t100.72.0.1\n' +
          'Uptime: 3 days 04:12\n' +
          'Home network\n' +
          'LAN IP\t192.168.50.1\n',
      ],
      ['evidence/gateway/seen.txt', 'seen from outside 203.0.113.77\n'],
      [
        'evidence/gateway/forwards.txt',
        'Name\tProtocol\tOutside port\tInside address\tInside port\tOn\n' +
          'lantern game\tUDP\t28410\t192.168.50.20\t28410\tyes\n' +
          'lantern query\tTCP\t28410\t192.168.50.20\t28410\tyes\n',
      ],
      ['evidence/server/addresses.txt', n.run('server', 'ip addr')],
      ['evidence/server/routes.txt', n.run('server', 'ip route')],
      ['evidence/server/sockets.txt', n.run('server', 'ss -tulpn')],
      ['evidence/server/rules.json', n.run('server', 'nft -j list ruleset')],
    ]);
    write(
      'lantern-reef',
      {
        title: 'Lantern Reef, harbour hall',
        created: '2026-03-01T13:58:00Z',
        service: {
          name: 'Lantern Reef',
          kind: 'game',
          endpoints: [
            { protocol: 'udp', port: 28410 },
            { protocol: 'tcp', port: 28410 },
          ],
          audience: 'anyone',
        },
        client: {
          address: '198.51.100.23',
          dials: 'play.gannet.example.net:28410',
          symptom: 'lost',
          says: 'my friends in Sandhaven wait and then it times out',
        },
        path: [stops.client, stops.carrier, stops.gateway, stops.server],
      },
      files,
    );
  } finally {
    n.close();
  }
}
