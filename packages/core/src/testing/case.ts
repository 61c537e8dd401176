import { strToU8 } from 'fflate';
import { checkCaseDocument } from '../case/index.ts';
import type { Site } from '../site/index.ts';
import { readCase } from '../ledger/index.ts';
import { buildSite } from '../model/index.ts';

/** A stop of a case in a test; whether it is one is checked as for any case. */
export interface TestStop {
  readonly id: string;
  readonly role: string;
  readonly [key: string]: unknown;
}

/**
 * A case in short, for tests: stops, and texts by `stop/name`, each of them all that its program prints
 * unless `more` lists the evidence itself.
 */
export function caseFacts(
  path: readonly TestStop[],
  files: Readonly<Record<string, string>> = {},
  more: Record<string, unknown> = {},
) {
  const document = checkCaseDocument({
    format: 'bright-ferry-case',
    version: 1,
    title: 'test',
    path,
    evidence: Object.keys(files).map((name) => ({
      stop: name.split('/')[0],
      file: `evidence/${name}.txt`,
      whole: true,
    })),
    ...more,
  });
  return readCase({
    document,
    files: new Map(Object.entries(files).map(([name, text]) => [`evidence/${name}.txt`, strToU8(text)])),
  });
}

export const caseSite = (
  path: readonly TestStop[],
  files?: Readonly<Record<string, string>>,
  more?: Record<string, unknown>,
): Site => buildSite(caseFacts(path, files, more));

/** Both sides of a home's router, as its form takes them. */
export const ROUTER_LINES = [
  { name: 'wan', side: 'outside', addresses: ['203.0.113.50'] },
  { name: 'lan', side: 'inside', addresses: ['192.168.50.1/24'] },
] as const;

/** A router whose forward table somebody filled in: TCP 8214 leads to the server unless `more` says else. */
export const forwardingGateway = (more: Record<string, unknown> = {}): TestStop => ({
  id: 'gateway',
  role: 'gateway',
  settings: {
    kind: 'forward-table',
    interfaces: ROUTER_LINES,
    rows: [{ protocol: 'tcp', ports: 8214, to: '192.168.50.20' }],
    ownPorts: [],
    ...more,
  },
});

/** Evidence of a server with one address, in the words of `ip` and `ss`; its packet filter is empty. */
export const serverEvidence = (
  address: string,
  gateway: string,
  sockets: readonly string[],
  rules = 'table inet none {\n}\n',
): Record<string, string> => ({
  'host/addresses':
    '1: lo: <LOOPBACK,UP,LOWER_UP> mtu 65536 state UNKNOWN\n' +
    '    inet 127.0.0.1/8 scope host lo\n' +
    '2: eno1: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n' +
    `    inet ${address} scope global eno1\n`,
  'host/routes':
    `default via ${gateway} dev eno1\n` +
    `${address.replace(/\.\d+\/(\d+)$/, '.0/$1')} dev eno1 scope link\n`,
  'host/sockets': `Netid State Recv-Q Send-Q Local Address:Port Peer Address:PortProcess\n${sockets
    .map((s, i) => {
      const [protocol, at, program] = s.split(' ');
      return (
        `${protocol} ${protocol === 'tcp' ? 'LISTEN' : 'UNCONN'} 0 16 ${at} 0.0.0.0:* ` +
        `users:(("${program ?? 'program'}",pid=${i + 1},fd=3))\n`
      );
    })
    .join('')}`,
  ...(rules === '' ? {} : { 'host/rules': rules }),
});

/** A home: an outside client, its carrier, a router of which both addresses were said, and a server. */
export const HOME: readonly TestStop[] = [
  { id: 'client', role: 'client' },
  { id: 'carrier', role: 'carrier' },
  {
    id: 'gateway',
    role: 'gateway',
    typed: [{ text: 'WAN IP 203.0.113.50' }, { text: 'LAN IP 192.168.50.1' }],
  },
  { id: 'host', role: 'host' },
];
