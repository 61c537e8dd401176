import { setTimeout as sleep } from 'node:timers/promises';
import { Network } from '../src/namespaces.ts';
import { dig, type Files, listen, stops, write, ZONE } from './hall.ts';

export async function ebbtide(): Promise<void> {
  const n = new Network('e');
  try {
    for (const m of ['client', 'server']) n.machine(m);
    n.cable(
      { machine: 'client', device: 'enp3s0', addresses: ['198.51.100.23/24', '203.0.113.129/28'] },
      { machine: 'server', device: 'ens3', addresses: ['203.0.113.140/28'] },
    );
    n.run('server', 'ip route add default via 203.0.113.129');
    n.start('client', [
      'dnsmasq',
      ...ZONE,
      '--listen-address=198.51.100.23',
      '--host-record=tide.gannet.example.net,203.0.113.140,3600',
    ]);
    await sleep(700);
    await listen(n, 'server', [{ protocol: 'tcp', address: '127.0.0.1', port: 5432 }], 'postgres');
    await listen(
      n,
      'server',
      [
        { protocol: 'tcp', address: '0.0.0.0', port: 22 },
        { protocol: 'tcp', address: '::', port: 22 },
      ],
      'sshd',
    );
    n.run(
      'server',
      'nft -f -',
      'table inet guard {\n' +
        ' set offices {\n' +
        '  type ipv4_addr\n' +
        '  flags interval\n' +
        '  elements = { 192.0.2.64/27, 192.0.2.130 }\n' +
        ' }\n' +
        ' chain input {\n' +
        '  type filter hook input priority filter; policy drop;\n' +
        '  ct state established,related accept\n' +
        '  ct state invalid drop\n' +
        '  iif "lo" accept\n' +
        '  meta l4proto { icmp, ipv6-icmp } accept\n' +
        '  ip saddr @offices tcp dport 22 accept\n' +
        '  ip saddr 198.51.100.33 tcp dport 5432 accept comment "tide book, Mara"\n' +
        '  limit rate 3/minute log prefix "guard: "\n' +
        ' }\n' +
        ' chain forward {\n' +
        '  type filter hook forward priority filter; policy drop;\n' +
        ' }\n' +
        '}\n',
    );
    const files: Files = new Map([
      ['evidence/client/name.txt', dig(n, 'client', 'tide.gannet.example.net', '198.51.100.23')],
      ['evidence/server/addresses.txt', n.run('server', 'ip addr')],
      ['evidence/server/routes.txt', n.run('server', 'ip route')],
      ['evidence/server/sockets.txt', n.run('server', 'ss -tulpn')],
      ['evidence/server/rules.json', n.run('server', 'nft -j list ruleset')],
    ]);
    write(
      'ebbtide',
      {
        title: 'Ebbtide, the tide book',
        created: '2026-03-01T14:45:00Z',
        service: {
          name: 'Ebbtide',
          kind: 'database',
          endpoints: [{ protocol: 'tcp', port: 5432 }],
          audience: ['198.51.100.23/32'],
        },
        client: {
          address: '198.51.100.23',
          dials: 'tide.gannet.example.net:5432',
          symptom: 'lost',
          says: 'the tide book does not open from Mara’s office any more',
        },
        path: [stops.client, stops.carrier, stops.server],
      },
      files,
    );
  } finally {
    n.close();
  }
}
