import { readFileSync, rmSync } from 'node:fs';
import { setTimeout as sleep } from 'node:timers/promises';
import { type Files, hall, HALL_INPUT, listen, stops, write, ZONE } from './hall.ts';

export async function gullcast(): Promise<void> {
  const n = hall('g', '203.0.113.50/29', '192.0.2.23/32', ['printer']);
  try {
    n.run('printer', 'ip link set eth0 address 02:48:4e:00:01:31');
    n.run('server', 'ip link set eno1 address 02:48:4e:00:00:20');
    rmSync('/tmp/bf-demo.leases', { force: true });
    n.start('gateway', [
      'dnsmasq',
      ...ZONE,
      '--interface=lan0',
      '--port=0',
      '--dhcp-range=192.168.50.30,192.168.50.60,255.255.255.0,12h',
      '--dhcp-host=02:48:4e:00:01:31,192.168.50.31,printer-hall',
      '--dhcp-leasefile=/tmp/bf-demo.leases',
      '--dhcp-authoritative',
    ]);
    n.start('client', [
      'dnsmasq',
      ...ZONE,
      '--listen-address=198.51.100.23',
      '--host-record=gullcast.gannet.example.net,203.0.113.50,600',
    ]);
    await sleep(700);
    n.run('printer', 'busybox udhcpc -i eth0 -n -q -t 5 -s /bin/true -x hostname:printer-hall');
    await listen(n, 'server', [{ protocol: 'tcp', address: '0.0.0.0', port: 8214 }], 'gullcast');
    n.run('server', 'nft -f -', HALL_INPUT + '  tcp dport { 22, 8214 } accept\n' + ' }\n' + '}\n');
    const files: Files = new Map([
      ['evidence/client/name.txt', n.run('client', 'host -t A gullcast.gannet.example.net 198.51.100.23')],
      [
        'evidence/gateway/status-page.txt',
        'Internet connection\n' +
          'WAN IP address: 203.0.113.50\n' +
          'Connection type: PPPoE\n' +
          'Local network\n' +
          'Router LAN IP: 192.168.50.1\n',
      ],
      [
        'evidence/gateway/forwards.txt',
        '#\tName\tProtocol\tOutside port\tInside address\tInside port\tState\n' +
          '1\tlantern reef\tUDP\t28410\t192.168.50.20\t28410\ton\n' +
          '2\tgullcast\tTCP\t8214\t192.168.50.31\t8214\ton\n' +
          '3\thall pages\tTCP\t443\t192.168.50.20\t8443\ton\n',
      ],
      ['evidence/gateway/leases.txt', readFileSync('/tmp/bf-demo.leases', 'utf8')],
      ['evidence/server/addresses.json', n.run('server', 'ip -j addr')],
      ['evidence/server/routes.txt', n.run('server', 'ip route')],
      ['evidence/server/sockets.txt', n.run('server', 'ss -tulpn')],
      ['evidence/server/rules.json', n.run('server', 'nft -j list ruleset')],
    ]);
    write(
      'gullcast',
      {
        title: 'Gullcast, the harbour radio',
        created: '2026-03-01T14:20:00Z',
        service: {
          name: 'Gullcast',
          kind: 'media',
          endpoints: [{ protocol: 'tcp', port: 8214 }],
          audience: 'anyone',
        },
        client: {
          address: '198.51.100.23',
          dials: 'gullcast.gannet.example.net:8214',
          symptom: 'lost',
          says: 'listeners across the sound hear nothing since Tuesday',
        },
        path: [stops.client, stops.carrier, stops.gateway, stops.server],
      },
      files,
    );
  } finally {
    n.close();
  }
}
