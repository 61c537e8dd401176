/**
 * Makes the evidence of the demo cases with real programs in namespaces and writes the case folders that ship
 * with the web
 * application. Pages of a router cannot be made that way: their text is what a technician would copy off one.
 *
 *     npm run demo      (as root, with iproute2, nftables, dnsmasq, dig and busybox)
 */
import { mkdirSync, rmSync, writeFileSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { Network } from '../src/namespaces.ts';

/** How the rule set of the hall's machines begins. */
const HALL_INPUT =
  'table inet hall {\n' +
  ' chain input {\n' +
  '  type filter hook input priority filter; policy drop;\n' +
  '  ct state established,related accept\n' +
  '  iif "lo" accept\n' +
  '  meta l4proto { icmp, ipv6-icmp } accept\n';

const OUT = new URL('../../packages/web/demo/', import.meta.url).pathname;
const LISTEN = new URL('../tools/listen.py', import.meta.url).pathname;
const ZONE = [
  '--no-daemon',
  '--no-resolv',
  '--no-hosts',
  '--bind-interfaces',
  '--pid-file=',
  '--user=root',
  '--log-facility=-',
];

type Files = Map<string, string>;

/** What printed each piece of a server's evidence, by its name without the ending. */
const COMMANDS: Readonly<Record<string, string>> = {
  'addresses.txt': 'ip addr',
  'addresses.json': 'ip -j addr',
  'routes.txt': 'ip route',
  'sockets.txt': 'ss -tulpn',
  'rules.json': 'nft -j list ruleset',
};

const commandOf = (file: string): { command?: string } => {
  const command = file.includes('/server/') ? COMMANDS[file.slice(file.lastIndexOf('/') + 1)] : undefined;
  return command === undefined ? {} : { command };
};

function write(name: string, document: Record<string, unknown>, files: Files): void {
  const folder = join(OUT, name);
  rmSync(folder, { recursive: true, force: true });
  const evidence = [...files.keys()].map((file, i) => ({
    stop: file.split('/')[1],
    file,
    at: new Date(Date.UTC(2026, 2, 1, 14, i)).toISOString(),
    ...commandOf(file),
  }));
  for (const [file, text] of files) {
    mkdirSync(dirname(join(folder, file)), { recursive: true });
    writeFileSync(join(folder, file), text);
  }
  writeFileSync(
    join(folder, 'case.json'),
    `${JSON.stringify({ format: 'bright-ferry-case', version: 1, ...document, evidence }, null, 2)}\n`,
  );
  console.log(`${name}: ${files.size} pieces of evidence`);
}

const stops = {
  client: { id: 'client', role: 'client', name: 'Outside client' },
  carrier: { id: 'carrier', role: 'carrier', name: 'Carrier' },
  gateway: { id: 'gateway', role: 'gateway', name: 'Gateway' },
  server: { id: 'server', role: 'host', name: 'Server' },
};

async function listen(
  network: Network,
  machine: string,
  sockets: readonly object[],
  name: string,
): Promise<void> {
  const child = network.start(machine, ['python3', LISTEN, JSON.stringify(sockets), name]);
  await new Promise<void>((resolve, reject) => {
    child.stdout!.once('data', () => resolve());
    child.once('exit', () => reject(new Error(`${name} did not start`)));
  });
}

/** A harbour hall: outside client, router, and a server behind it. */
function hall(label: string, wan: string, outside: string, others: readonly string[] = []): Network {
  const n = new Network(label);
  for (const m of ['client', 'gateway', 'server', ...others]) n.machine(m);
  n.cable(
    { machine: 'client', device: 'enp3s0', addresses: ['198.51.100.23/24', `${outside}`] },
    { machine: 'gateway', device: 'wan0', addresses: [wan, '198.51.100.1/24'] },
  );
  n.segment([
    { machine: 'gateway', device: 'lan0', addresses: ['192.168.50.1/24'] },
    { machine: 'server', device: 'eno1', addresses: ['192.168.50.20/24'] },
    ...others.map((machine) => ({ machine, device: 'eth0', addresses: [] })),
  ]);
  n.run('server', 'ip route add default via 192.168.50.1');
  n.run('client', 'ip route add default via 198.51.100.1');
  return n;
}

function dig(n: Network, machine: string, name: string, server: string): string {
  return n.run(machine, `dig @${server} ${name} A`);
}

async function lanternReef(): Promise<void> {
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

async function gullcast(): Promise<void> {
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

async function ebbtide(): Promise<void> {
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

await lanternReef();
await gullcast();
await ebbtide();
