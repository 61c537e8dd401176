import { plainForward, type Fact } from '../facts/index.ts';
import { readText } from '../reading/index.ts';

/** Single facts, and the ways in which somebody may have to find out whose they are. */

export const at = { line: 1 };
export const PATH = [
  { id: 'client', role: 'client' as const },
  { id: 'carrier', role: 'carrier' as const },
  { id: 'gateway', role: 'gateway' as const },
  { id: 'server', role: 'host' as const },
];
export const DOUBLE = [PATH[0]!, PATH[1]!, { id: 'outer', role: 'gateway' as const }, PATH[2]!, PATH[3]!];
export const RENTED = [PATH[0]!, PATH[1]!, { id: 'edge', role: 'edge' as const }, PATH[3]!];
export const MORE = {
  client: { address: '198.51.100.23', dials: '203.0.113.77:8214', alsoDials: ['192.168.50.31'] },
  service: { name: 'Gullcast', endpoints: [{ protocol: 'tcp', port: 8214 }] },
};
export const STOPS = { host: 'server', gateway: 'gateway', client: 'client' };

/** The first fact of a kind that a text says. */
export function fact<K extends Fact['kind']>(kind: K, text: string): Extract<Fact, { kind: K }> {
  const found = readText(text)?.facts.find((f) => f.kind === kind);
  if (!found) throw new Error(`no ${kind} in ${text}`);
  return found as Extract<Fact, { kind: K }>;
}

export const label = (what: Extract<Fact, { kind: 'labelled' }>['what'], value: string): Fact => ({
  kind: 'labelled',
  at,
  what,
  label: 'Line',
  value,
});
export const address = (text: string): Fact => ({
  kind: 'address',
  at,
  interface: 'eth0',
  family: 4,
  address: text,
  prefix: 24,
});
export const route = (via: string | null, src?: string): Fact => ({
  kind: 'route',
  at,
  family: 4,
  table: 'main',
  type: 'unicast',
  to: 'default',
  hops: [{ via, dev: 'eth0' }],
  metric: 0,
  ...(src === undefined ? {} : { src }),
});
export const socket = (where: string, port: number): Fact => ({
  kind: 'socket',
  at,
  protocol: 'tcp',
  family: 4,
  address: where,
  port,
  state: 'LISTEN',
  processes: [],
});
export const forward = (target: string): Fact =>
  plainForward(at, 'tcp', [{ first: 8214, last: 8214 }], target);

export const STATUS = { 'gateway/status': 'WAN IP 203.0.113.50\nLAN IP 192.168.50.1\n' };
export const listed = (where: string): string =>
  `2: eth0: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n    inet ${where} scope global eth0\n`;
