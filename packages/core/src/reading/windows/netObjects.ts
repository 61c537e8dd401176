import type { Fact, NeighbourFact, RouteFact } from '../../facts/index.ts';
import { parseAddress, parsePrefix } from '../../net/index.ts';
import { lineAt, listed, once } from '../noted.ts';
import { before, type Line } from '../text.ts';
import type { Fields } from './objects.ts';

/** An object of the network cmdlets: what fields it has, and what follows from it. */
export interface NetObject {
  readonly fields: Fields;
  readonly line: Line;
}
type Get = (name: string) => string;

interface NetKind {
  /** Fields that every such object has, in small letters; of several one is enough. */
  readonly has: readonly (readonly string[])[];
  readonly read: (get: Get, line: Line) => readonly Fact[];
}

const GROUP = /^(?:ff|22[4-9]|23\d|255\.255\.255\.255$)/i;
const NO_MAC = /^(?:00[-:]){5}00$/;

/** Words of MSFT_NetNeighbor for what the kernel of Linux calls otherwise. */
const NEIGHBOUR_STATE: Readonly<Record<string, string>> = {
  unreachable: 'FAILED',
  incomplete: 'INCOMPLETE',
  probe: 'PROBE',
  delay: 'DELAY',
  stale: 'STALE',
  reachable: 'REACHABLE',
  permanent: 'PERMANENT',
};

function neighbour(get: Get, line: Line): readonly Fact[] {
  const address = before(get('ipaddress'), '%');
  const mac = get('linklayeraddress').replaceAll('-', ':').toLowerCase();
  // Groups and broadcast addresses stand among the neighbours of Windows, and are none.
  if (!parseAddress(address) || GROUP.test(address) || mac.startsWith('ff:ff')) return [];
  const fact: NeighbourFact = {
    kind: 'neighbour',
    at: lineAt(line),
    address,
    dev: get('interfacealias') || null,
    mac: mac === '' || NO_MAC.test(mac) ? null : mac,
    states: [NEIGHBOUR_STATE[get('state').toLowerCase()] ?? get('state').toUpperCase()],
  };
  return [fact];
}

/** `Disconnected`: no link; `Disabled`: switched off; `Up`. Other words say nothing. */
function adapter(get: Get, line: Line): readonly Fact[] {
  const status = get('status').toLowerCase();
  const mac = get('macaddress').replaceAll('-', ':').toLowerCase();
  const index = Number(get('ifindex') || get('interfaceindex'));
  return [
    {
      kind: 'interface',
      at: lineAt(line),
      name: get('name'),
      ...(index > 0 ? { index } : {}),
      ...(status === 'disabled' ? { adminUp: false } : {}),
      ...(status === 'up' ? { adminUp: true, carrier: true } : {}),
      ...(status === 'disconnected' ? { adminUp: true, carrier: false } : {}),
      ...(/^([0-9a-f]{2}:){5}[0-9a-f]{2}$/.test(mac) ? { mac } : {}),
    },
  ];
}

/** Routes with a next hop; those of the machine's own subnets follow from its addresses. */
function route(get: Get, line: Line): readonly Fact[] {
  const prefix = parsePrefix(get('destinationprefix'));
  const hop = parseAddress(before(get('nexthop'), '%'));
  if (!prefix || !hop || hop.bits === 0n) return [];
  const fact: RouteFact = {
    kind: 'route',
    at: lineAt(line),
    family: hop.family,
    table: 'main',
    type: 'unicast',
    to: prefix.length === 0 ? 'default' : get('destinationprefix'),
    hops: [{ via: before(get('nexthop'), '%'), dev: get('interfacealias') || null }],
    metric: (Number(get('routemetric')) || 0) + (Number(get('ifmetric') || get('interfacemetric')) || 0),
  };
  return [fact];
}

function name(get: Get, line: Line): readonly Fact[] {
  const type = get('type').toUpperCase() || get('querytype').toUpperCase();
  const answer = get('ipaddress') || get('namehost') || get('nametarget');
  if (answer === '' || /^(?:authority|additional)$/i.test(get('section'))) return [];
  return [{ kind: 'name', at: lineAt(line), name: get('name'), type, status: 'NOERROR', answers: [answer] }];
}

/** Addresses without the length of their prefix, and the default gateway. */
function configuration(get: Get, line: Line): readonly Fact[] {
  const via = get('ipv4defaultgateway');
  const own = get('ipv4address');
  const at = lineAt(line);
  const gateway: readonly Fact[] = parseAddress(via)
    ? [
        {
          kind: 'route',
          at,
          family: 4,
          table: 'main',
          type: 'unicast',
          to: 'default',
          hops: [{ via, dev: get('interfacealias') || null }],
          metric: 0,
        },
      ]
    : [];
  return [...(parseAddress(own) ? [once('localAddress', at, own)] : []), ...gateway];
}

/** Ports or addresses of a row, kept apart from the row that they belong to. */
const rowPart = (get: Get, line: Line): readonly Fact[] => {
  const text = [get('protocol'), get('localport'), get('remoteaddress')].filter((t) => t !== '').join(' ');
  return [listed('rowPart', lineAt(line), text, text)];
};

export const NET_KINDS = {
  neighbour: { has: [['ipaddress'], ['linklayeraddress'], ['state']], read: neighbour },
  adapter: { has: [['name'], ['interfacedescription'], ['status']], read: adapter },
  route: { has: [['destinationprefix'], ['nexthop']], read: route },
  name: { has: [['name'], ['type', 'querytype'], ['ipaddress', 'namehost', 'nametarget']], read: name },
  configuration: { has: [['interfacealias'], ['ipv4defaultgateway']], read: configuration },
  'row-ports': { has: [['protocol'], ['localport'], ['icmptype', 'dynamictarget']], read: rowPart },
  'row-addresses': { has: [['localaddress'], ['remoteaddress']], read: rowPart },
} as const satisfies Record<string, NetKind>;

export type NetKindName = keyof typeof NET_KINDS;

/** The kind of object that these fields prove; null: none of them. */
export function netKindOf(fields: Fields): NetKindName | null {
  const names = Object.keys(NET_KINDS) as NetKindName[];
  const fits = (kind: NetKind): boolean => kind.has.every((some) => some.some((f) => fields.has(f)));
  return names.find((n) => fits(NET_KINDS[n])) ?? null;
}

export const netFacts = (kind: NetKindName, { fields, line }: NetObject): readonly Fact[] =>
  NET_KINDS[kind].read((field) => fields.get(field) ?? '', line);
