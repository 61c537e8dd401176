/** The machines of a demo case in namespaces, and the folder that it is written to. */
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { Network } from '../src/namespaces.ts';

/** How the rule set of the hall's machines begins. */
export const HALL_INPUT =
  'table inet hall {\n' +
  ' chain input {\n' +
  '  type filter hook input priority filter; policy drop;\n' +
  '  ct state established,related accept\n' +
  '  iif "lo" accept\n' +
  '  meta l4proto { icmp, ipv6-icmp } accept\n';

const OUT = new URL('../../packages/web/demo/', import.meta.url).pathname;
const LISTEN = new URL('../tools/listen.py', import.meta.url).pathname;
export const ZONE = [
  '--no-daemon',
  '--no-resolv',
  '--no-hosts',
  '--bind-interfaces',
  '--pid-file=',
  '--user=root',
  '--log-facility=-',
];

export type Files = Map<string, string>;

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

export function write(name: string, document: Record<string, unknown>, files: Files): void {
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

export const stops = {
  client: { id: 'client', role: 'client', name: 'Outside client' },
  carrier: { id: 'carrier', role: 'carrier', name: 'Carrier' },
  gateway: { id: 'gateway', role: 'gateway', name: 'Gateway' },
  server: { id: 'server', role: 'host', name: 'Server' },
};

export async function listen(
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
export function hall(label: string, wan: string, outside: string, others: readonly string[] = []): Network {
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

export function dig(n: Network, machine: string, name: string, server: string): string {
  return n.run(machine, `dig @${server} ${name} A`);
}
