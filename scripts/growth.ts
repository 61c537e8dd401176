// How cost grows as the work does: each kind of large input at n, 2n and 4n.
import { readCase } from '@bright-ferry/core/ledger';
import { buildSite } from '@bright-ferry/core/model';
import { readText } from '@bright-ferry/core/reading';
import { trace } from '@bright-ferry/core/crossing';
import { exposures } from '@bright-ferry/core/exposure';
import { TooMuchWork } from '@bright-ferry/core/rules';
import { parseEndpoint, parseTarget } from '@bright-ferry/core/net';
import type { Site } from '@bright-ferry/core/site';
import { many } from './measured.ts';

interface Kind {
  readonly title: string;
  /** The smallest of the three sizes. */
  readonly smallest: number;
  readonly work: (size: number) => void;
}

const encoder = new TextEncoder();

const ADDRESSES =
  '1: lo: <LOOPBACK,UP,LOWER_UP> mtu 65536 state UNKNOWN\n' +
  '    inet 127.0.0.1/8 scope host lo\n' +
  '2: ens3: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n' +
  '    inet 203.0.113.140/28 scope global ens3\n';
const ROUTES = 'default via 203.0.113.129 dev ens3\n203.0.113.128/28 dev ens3 scope link\n';
const SOCKETS =
  'Netid State Recv-Q Send-Q Local Address:Port Peer Address:PortProcess\n' +
  'tcp LISTEN 0 1 0.0.0.0:8214 0.0.0.0:*\n';
const EMPTY = 'table inet none {\n}\n';

/** A rented machine, dialled directly. */
const host = (more: Readonly<Record<string, string>>): Site =>
  site({ a: ADDRESSES, r: ROUTES, s: SOCKETS, n: EMPTY, ...more }, []);

/** A router with a table of forwards before a server. */
const router = (forwards: string): Site =>
  site({}, ['gateway'], { f: forwards, s: 'WAN IP 203.0.113.140\nLAN IP 192.168.50.1\n' });

function site(
  onHost: Readonly<Record<string, string>>,
  between: readonly 'gateway'[],
  onGateway: Readonly<Record<string, string>> = {},
): Site {
  const files = [
    ...Object.entries(onHost).map(([n, t]) => [`evidence/host/${n}`, encoder.encode(t)] as const),
    ...Object.entries(onGateway).map(([n, t]) => [`evidence/gateway/${n}`, encoder.encode(t)] as const),
  ];
  const roles = ['client', 'carrier', ...between, 'host'] as const;
  return buildSite(
    readCase({
      document: {
        format: 'bright-ferry-case',
        version: 1,
        title: 'growth',
        path: roles.map((role) => ({ id: role, role })),
      },
      files: new Map(files),
    }),
  );
}

function dial(at: Site): void {
  const target = parseTarget('203.0.113.140:8214/tcp');
  const source = parseEndpoint('198.51.100.23:40000');
  if (!target || !source) throw new Error('no packet');
  trace(at, { transport: 'tcp', source, destination: { address: target.address, port: target.port } });
}

const ip = (n: number): string => `10.${(n >> 16) & 255}.${(n >> 8) & 255}.${n & 255}`;

const chain = (rules: string, before = ''): string =>
  'table inet guard {\n' +
  `${before} chain input {\n` +
  '  type filter hook input priority filter; policy drop;\n' +
  `${rules} }\n` +
  '}\n';

const KINDS: readonly Kind[] = [
  {
    title: 'what is open, by filter rules with sources and ports',
    smallest: 250,
    work: (n) =>
      open(
        host({
          n: chain(many(n, (i) => `  ip saddr ${ip(i * 256)}/24 tcp dport ${8000 + (i % 300)} accept\n`)),
        }),
      ),
  },
  {
    title: 'what is open, by forward rows',
    smallest: 50,
    work: (n) => open(router(many(n, (i) => `tcp ${9000 + i} 192.168.50.${2 + (i % 250)} ${9000 + i}\n`))),
  },
  {
    title: 'a set of a rule set, by elements',
    smallest: 250_000,
    work: (n) =>
      dial(
        host({
          n: chain(
            '  ip saddr @far drop\n  tcp dport 8214 accept\n',
            ' set far {\n' +
              '  type ipv4_addr\n' +
              `  elements = { ${Array.from({ length: n }, (_, i) => ip(i)).join(', ')} }\n` +
              ' }\n',
          ),
        }),
      ),
  },
  {
    title: 'a table of forwards, by rows',
    smallest: 5000,
    work: (n) => dial(router(many(n, (i) => `tcp ${1 + (i % 60_000)} 192.168.50.20 ${1 + (i % 60_000)}\n`))),
  },
  {
    title: 'a routing table, by routes',
    smallest: 50_000,
    work: (n) => dial(host({ r: ROUTES + many(n, (i) => `${ip(i * 4)}/30 via 203.0.113.130 dev ens3\n`) })),
  },
  {
    title: 'a socket list, by sockets',
    smallest: 25_000,
    work: (n) =>
      dial(
        host({
          s:
            SOCKETS +
            many(n, (i) => `tcp ESTAB 0 0 203.0.113.140:${1 + (i % 60_000)} ${ip(i)}:${1 + (i % 60_000)}\n`),
        }),
      ),
  },
  {
    title: 'JSON, by depth',
    smallest: 25_000,
    work: (n) => void readText(`${'['.repeat(n)}{"ifname":"lo"}${']'.repeat(n)}`),
  },
];

function open(at: Site): void {
  exposures(at);
}

/** Milliseconds, or why it was refused. */
function timed({ work }: Kind, size: number): number | string {
  const start = performance.now();
  try {
    work(size);
  } catch (error) {
    if (error instanceof TooMuchWork) return 'refused';
    throw error;
  }
  return performance.now() - start;
}

/** Prints the time at n, 2n and 4n, and what the last costs of the first: 4 is in step with the work. */
export function growthBench(say: (what: string, value: string) => void): void {
  console.log('\nGrowth: four times the input costs … times the time');
  for (const kind of KINDS) {
    timed(kind, Math.ceil(kind.smallest / 10));
    const sizes = [1, 2, 4].map((f) => f * kind.smallest);
    const times = sizes.map((size) => timed(kind, size));
    const [first, , last] = times;
    const told = times.map((t) => (typeof t === 'number' ? `${t.toFixed(0)} ms` : t)).join(', ');
    const factor =
      typeof first === 'number' && typeof last === 'number' ? `: ${(last / first).toFixed(1)} times` : '';
    say(`${kind.title} (${sizes.join(', ')})`, told + factor);
  }
}
