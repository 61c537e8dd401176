// Speed in ratios against what a user would use instead, and growth over input size: `npm run bench`.
import { execFileSync, spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { buildSite } from '@bright-ferry/core/model';
import { readCase } from '@bright-ferry/core/ledger';
import { readText } from '@bright-ferry/core/reading';
import { compileNft } from '@bright-ferry/core/devices';
import { floodSite, trace } from '@bright-ferry/core/crossing';
import { exposures } from '@bright-ferry/core/exposure';
import { parseEndpoint, parseTarget, type Header } from '@bright-ferry/core/net';
import type { Site } from '@bright-ferry/core/site';
import { growthBench } from './growth.ts';
import { anew, best, many, ms, say } from './measured.ts';
import { readBench } from './pasted.ts';
import { trafficBench } from './traffic.ts';

const folder = mkdtempSync(join(tmpdir(), 'bright-ferry-bench-'));

let seed = 7;
const below = (n: number): number => ((seed = (Math.imul(seed, 1103515245) + 12345) >>> 0) >>> 8) % n;
const address = (): string => `198.${18 + below(2)}.${below(256)}.${below(256)}`;

/** A linear set of plain filter rules; the last one lets the service in. */
function filterText(count: number): string {
  const rules = Array.from({ length: count - 1 }, () => {
    if (below(3) === 0)
      return `  ip saddr ${address()}/${24 + below(9)} tcp dport ${1 + below(60000)} accept\n`;
    return below(2) === 0
      ? `  tcp dport ${1 + below(8000)}-${8000 + below(200)} ip saddr ${address()} drop\n`
      : `  udp dport ${1 + below(60000)} accept\n`;
  });
  return (
    'table inet guard {\n' +
    ' chain input {\n' +
    '  type filter hook input priority filter; policy drop;\n' +
    `${rules.join('')}  tcp dport 65000 accept\n` +
    ' }\n' +
    '}\n'
  ).replaceAll(
    /(?<!\d)(\d+\.\d+\.\d+\.\d+)\/(\d+)/g,
    (_, a: string, l: string) => `${masked(a, Number(l))}/${l}`,
  );
}

function masked(text: string, length: number): string {
  const bits = text.split('.').reduce((n, x) => n * 256 + Number(x), 0);
  const kept = Math.floor(bits / 2 ** (32 - length)) * 2 ** (32 - length);
  return [24, 16, 8, 0].map((s) => Math.floor(kept / 2 ** s) % 256).join('.');
}

const ADDRESSES =
  '1: lo: <LOOPBACK,UP,LOWER_UP> mtu 65536 state UNKNOWN\n' +
  '    inet 127.0.0.1/8 scope host lo\n' +
  '2: ens3: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n' +
  '    inet 203.0.113.140/28 scope global ens3\n';
const ROUTES = 'default via 203.0.113.129 dev ens3\n203.0.113.128/28 dev ens3 scope link\n';
const SOCKETS =
  'Netid State Recv-Q Send-Q Local Address:Port Peer Address:PortProcess\n' +
  'tcp LISTEN 0 1 0.0.0.0:65000 0.0.0.0:*\n';
const encoder = new TextEncoder();

function hostSite(rules: string): Site {
  const files = { addresses: ADDRESSES, routes: ROUTES, sockets: SOCKETS, rules };
  return buildSite(
    readCase({
      document: {
        format: 'bright-ferry-case',
        version: 1,
        title: 'bench',
        path: [
          { id: 'client', role: 'client' },
          { id: 'carrier', role: 'carrier' },
          { id: 'host', role: 'host' },
        ],
      },
      files: new Map(Object.entries(files).map(([n, t]) => [`evidence/host/${n}`, encoder.encode(t)])),
    }),
  );
}

const packets = (count: number): Header[] =>
  Array.from({ length: count }, (_, i) => {
    const target = parseTarget(`203.0.113.140:${i % 2 === 0 ? 65000 : 1 + below(65000)}/tcp`)!;
    return {
      transport: target.transport,
      source: parseEndpoint(`${address()}:${30000 + (i % 20000)}`)!,
      destination: { address: target.address, port: target.port },
    };
  });

function compileBench(): void {
  console.log('\nReading and compiling nft rule sets, against `nft -c -f` on the same file');
  for (const count of [1000, 10_000, 100_000]) {
    const text = filterText(count);
    const file = join(folder, `${count}.nft`);
    writeFileSync(file, text);
    const ours = best(count > 10_000 ? 1 : 3, () => {
      const fact = readText(anew(text))!.facts[0]!;
      if (fact.kind !== 'nft') throw new Error('not read');
      compileNft(fact.objects, 'rules.nft');
    });
    const theirs = count <= 10_000 ? nftCheck(file) : null;
    say(
      `${count} rules`,
      ms(ours) + (theirs === null ? '' : `, nft ${ms(theirs)}: ${(ours / theirs).toFixed(2)} times its time`),
    );
  }
}

function nftCheck(file: string): number | null {
  const first = spawnSync('nft', ['-c', '-f', file], { encoding: 'utf8' });
  if (first.error || first.status !== 0) {
    console.log(`  (nft is not to be had here: ${first.error?.message ?? first.stderr.split('\n')[0]})`);
    return null;
  }
  return best(3, () => void execFileSync('nft', ['-c', '-f', file]));
}

function traceBench(): void {
  console.log('\nTracing through linear rule sets');
  const perPacket: number[] = [];
  for (const count of [1000, 10_000, 100_000]) {
    const site = hostSite(filterText(count));
    const list = packets(4000);
    for (const p of list.slice(0, 200)) trace(site, p, { explain: false });
    const quick = best(2, () => list.forEach((p) => trace(site, p, { explain: false })));
    const few = list.slice(0, count > 10_000 ? 50 : 400);
    const told = best(1, () => few.forEach((p) => trace(site, p)));
    perPacket.push(quick / list.length);
    say(
      `${count} rules`,
      `${Math.round((1000 * list.length) / quick)} packets/s without explanation, ` +
        `${Math.round((1000 * few.length) / told)} with`,
    );
  }
  say('10,000 rules cost, of what 1,000 cost', `${(perPacket[1]! / perPacket[0]!).toFixed(2)} times`);
}

function floodBench(): void {
  console.log('\nFlooding all packets at once');
  for (const [filters, forwards] of [
    [500, 50],
    [5000, 500],
    [10_000, 500],
  ] as const) {
    const rows = Array.from(
      { length: forwards },
      (_, i) => `  tcp dport ${10_000 + i} dnat to 192.168.50.${20 + (i % 200)}:${1000 + i}\n`,
    ).join('');
    const gateway =
      'table ip nat {\n' +
      ' chain pre {\n' +
      '  type nat hook prerouting priority dstnat; policy accept;\n' +
      `${rows} }\n` +
      '}\n' +
      filterText(filters)
        .replaceAll('input', 'forward')
        .replace('tcp dport 65000 accept', 'ct status dnat accept');
    const sockets =
      'Netid State Recv-Q Send-Q Local Address:Port Peer Address:PortProcess\n' +
      many(forwards, (i) => `tcp LISTEN 0 1 0.0.0.0:${1000 + i} 0.0.0.0:*\n`);
    const files = {
      'gateway/a':
        '2: wan0: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n' +
        '    inet 203.0.113.50/29 scope global wan0\n' +
        '3: lan0: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n' +
        '    inet 192.168.50.1/24 scope global lan0\n',
      'gateway/r':
        'default via 203.0.113.49 dev wan0\n203.0.113.48/29 dev wan0 scope link\n' +
        '192.168.50.0/24 dev lan0 scope link\n',
      'gateway/n': gateway,
      'gateway/s':
        'net.ipv4.ip_forward = 1\n' +
        'net.ipv4.conf.all.rp_filter = 0\n' +
        'net.ipv4.conf.wan0.rp_filter = 0\n' +
        'net.ipv4.conf.lan0.rp_filter = 0\n',
      'host/a':
        '2: eno1: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n' +
        many(200, (i) => `    inet 192.168.50.${20 + i}/24 scope global eno1\n`),
      'host/r': 'default via 192.168.50.1 dev eno1\n192.168.50.0/24 dev eno1 scope link\n',
      'host/s': sockets,
      'host/n': 'table inet none {\n}\n',
      'host/k': 'net.ipv4.conf.all.rp_filter = 0\nnet.ipv4.conf.eno1.rp_filter = 0\n',
    };
    const site = buildSite(
      readCase({
        document: {
          format: 'bright-ferry-case',
          version: 1,
          title: 'bench',
          path: [
            { id: 'client', role: 'client' },
            { id: 'carrier', role: 'carrier' },
            { id: 'gateway', role: 'gateway' },
            { id: 'host', role: 'host' },
          ],
        },
        files: new Map(Object.entries(files).map(([n, t]) => [`evidence/${n}`, encoder.encode(t)])),
      }),
    );
    let found = 0;
    const time = best(filters > 5000 ? 1 : 2, () => void (found = exposures(site).length));
    const tcp = best(1, () => void floodSite(site, 4, 'tcp'));
    say(
      `${filters} filter rules, ${forwards} forwards`,
      `${ms(time)} for all families and transports (${found} rows), TCP over IPv4 alone ${ms(tcp)}`,
    );
  }
}

try {
  const parts: Readonly<Record<string, () => void>> = {
    read: readBench,
    compile: compileBench,
    trace: traceBench,
    flood: floodBench,
    growth: () => growthBench(say),
    traffic: () => trafficBench(folder, say),
  };
  const only = process.argv.slice(2);
  for (const [name, run] of Object.entries(parts)) if (only.length === 0 || only.includes(name)) run();
} finally {
  rmSync(folder, { recursive: true, force: true });
}
