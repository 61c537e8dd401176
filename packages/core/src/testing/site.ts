import { compileNft } from '../devices/index.ts';
import { nftText } from '../reading/index.ts';
import { address, parsePrefix, parseTarget, parseEndpoint, prefixOf, type Family } from '../net/index.ts';
import { EMPTY_PROGRAM, type Program } from '../rules/index.ts';
import {
  everyTransport,
  type Machine,
  type NetInterface,
  type Role,
  type Route,
  type Site,
  type Socket,
  withoutSourceCheck,
} from '../site/index.ts';
import { trace, type Trace } from '../crossing/index.ts';

/** Short forms for sites in tests. Everything is known unless a test takes it away. */
export interface TestMachine {
  readonly role?: Role;
  /** `{ eth0: ['192.0.2.1/24'] }` */
  readonly interfaces: Readonly<Record<string, readonly string[]>>;
  /** `default via 192.0.2.1 dev eth0` */
  readonly routes?: readonly string[];
  /** `tcp 0.0.0.0:80`, `udp [::]:53` */
  readonly sockets?: readonly string[] | null;
  readonly rules?: string | null;
  readonly settings?: Readonly<Record<string, string>>;
}

export function testMachine(id: string, m: TestMachine): Machine {
  const interfaces: NetInterface[] = Object.entries(m.interfaces).map(([name, list], index) => ({
    name,
    index,
    adminUp: true,
    carrier: true,
    mac: null,
    loopback: name === 'lo',
    noNeighbours: false,
    source: null,
    addresses: list.map((text) => ({
      address: address(text.split('/')[0]!),
      prefixLength: Number(text.split('/')[1] ?? 32),
      peer: null,
      secondary: false,
      unusable: false,
      scope: 'global' as const,
      source: null,
    })),
  }));
  const connected = interfaces.flatMap((i) =>
    i.addresses.map((a): Route => route(a.address.family, prefixOf(a.address, a.prefixLength), null, i.name)),
  );
  const routes = [...connected, ...(m.routes ?? []).map((text) => parseRoute(text))];
  let program;
  if (m.rules === null) program = null;
  else if (m.rules === undefined) program = EMPTY_PROGRAM;
  else program = nftProgram(m.rules);
  return {
    id,
    role: m.role ?? 'host',
    interfaces,
    routes: { 4: routes.filter((r) => r.family === 4), 6: routes.filter((r) => r.family === 6) },
    policy: { 4: null, 6: null },
    sockets: m.sockets === null ? null : (m.sockets ?? []).map(parseSocket),
    neighbours: [],
    settings: new Map(
      Object.entries({
        'net.ipv4.ip_forward': m.role === 'gateway' || m.role === 'carrier' ? '1' : '0',
        'net.ipv6.conf.all.forwarding': m.role === 'gateway' ? '1' : '0',
        ...Object.fromEntries(withoutSourceCheck(interfaces).map(([key, { value }]) => [key, value])),
        ...m.settings,
      }).map(([k, value]) => [k, { value, source: null }]),
    ),
    program: { 4: program, 6: program },
    presumed: { forwarding: null, socketsComplete: everyTransport(true), kind: 'linux' },
  };
}

export function nftProgram(text: string): Program {
  const fact = nftText.read(text).facts[0];
  if (fact?.kind !== 'nft') throw new Error('no rule set');
  return compileNft(fact.objects, 'rules.nft');
}

const route = (
  family: Family,
  destination: Route['destination'],
  via: string | null,
  device: string,
): Route => ({
  family,
  table: 'main',
  type: 'unicast',
  destination,
  hops: [{ via: via ? address(via) : null, device }],
  metric: 0,
  preferred: null,
  dead: false,
  unmodelled: null,
  source: null,
});

function parseRoute(text: string): Route {
  const [, to, via, device] = /^(\S+)(?: via (\S+))? dev (\S+)$/.exec(text)!;
  const family = (via ?? to)!.includes(':') ? 6 : 4;
  const whole = family === 4 ? '0.0.0.0/0' : '::/0';
  return route(family, parsePrefix(to === 'default' ? whole : to!)!, via ?? null, device!);
}

function parseSocket(text: string): Socket {
  const [transport, at] = text.split(' ') as ['tcp' | 'udp', string];
  const endpoint = parseEndpoint(at)!;
  const any = endpoint.address.bits === 0n;
  return {
    transport,
    address: any ? null : endpoint.address,
    families: [endpoint.address.family],
    port: endpoint.port,
    device: null,
    program: 'program',
    source: null,
  };
}

export const testSite = (
  machines: Readonly<Record<string, TestMachine>>,
  more: Partial<Site> = {},
): Site => ({
  machines: Object.entries(machines).map(([id, m]) => testMachine(id, m)),
  sharedAddresses: [],
  internet: null,
  ...more,
});

export function run(site: Site, from: string, to: string): Trace {
  const target = parseTarget(to)!;
  return trace(site, {
    transport: target.transport,
    source: parseEndpoint(from, 40000)!,
    destination: { address: target.address, port: target.port },
  });
}

/** `answered at host` or `lost at gateway (reply)` */
export const outcome = (t: Trace): string =>
  `${t.outcome}${t.stop ? ` at ${t.stop}` : ''}` +
  `${t.outcome === 'lost' && t.direction === 'reply' ? ' (reply)' : ''}`;
