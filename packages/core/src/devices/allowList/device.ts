import { nth } from '../../place/index.ts';
import {
  addressSet,
  addressUnion,
  formatAddress,
  prefixOf,
  type Address,
  type AddressSet,
  type Prefix,
} from '../../net/index.ts';
import { CT_STATE, type Step, type Doubt } from '../../rules/index.ts';
import { everyTransport, type NetInterface } from '../../site/index.ts';
import {
  accept,
  addresses,
  addressOf,
  base,
  bits,
  doubt,
  drop,
  match,
  names,
  portNumbers,
  portsOf,
  prefixOfText,
  programOf,
  protocolMatch,
  rule,
  SettingsError,
  single,
  type RuleParts,
} from '../build.ts';
import type { Device } from '../device.ts';
import type { AllowListSettings, AllowRow, SubnetRow } from './settings.ts';

const WHERE = 'allow list';

/** The network on which the protected machine stands: its gateway there, and the machine's addresses. */
export interface ProtectedNet {
  readonly gateway: Address;
  readonly length: number;
  readonly machine: readonly Address[];
}

/**
 * A cloud perimeter: the rows of all lists add up, and who is let in is answered without a row of its own; a
 * stateless subnet list sees question and answer each by itself. Inside machines may always go out.
 * @param more.perhaps why rows that are not given may let a packet in
 * @param more.ofRow what is open about a row, by `list/row`, both from 1
 * @throws SettingsError for a value that cannot be read
 */
export function allowListDevice(
  settings: AllowListSettings,
  nets: readonly ProtectedNet[],
  more: { readonly perhaps?: Doubt; readonly ofRow?: ReadonlyMap<string, Doubt> } = {},
): Device {
  const inside: NetInterface[] = nets.map((net, i) => ({
    name: `inside${i === 0 ? '' : i + 1}`,
    index: i + 2,
    adminUp: true,
    carrier: null,
    mac: null,
    loopback: false,
    noNeighbours: false,
    source: null,
    addresses: [
      {
        address: net.gateway,
        prefixLength: net.length,
        peer: null,
        secondary: false,
        unusable: false,
        scope: 'global',
        source: null,
      },
    ],
  }));
  const outside: NetInterface = {
    name: 'outside',
    index: 1,
    adminUp: true,
    carrier: null,
    mac: null,
    loopback: false,
    noNeighbours: false,
    source: null,
    addresses: [],
  };
  const insideNames = inside.map((i) => i.name);
  const translation = translationRules(settings, nets);
  const subnet = settings.subnetList;
  let fronted: readonly string[];
  if (settings.publicAddress === undefined) fronted = nets.flatMap((n) => n.machine.map(formatAddress));
  else if (settings.publicAddress === 'none') fronted = [];
  else fronted = [settings.publicAddress];
  return {
    interfaces: [outside, ...inside],
    routes: [
      {
        family: 4,
        table: 'main',
        type: 'unicast',
        destination: prefixOfText('0.0.0.0/0', WHERE),
        hops: [{ via: null, device: 'outside' }],
        metric: 0,
        preferred: null,
        dead: false,
        unmodelled: null,
        source: null,
      },
      {
        family: 6,
        table: 'main',
        type: 'unicast',
        destination: prefixOfText('::/0', WHERE),
        hops: [{ via: null, device: 'outside' }],
        metric: 0,
        preferred: null,
        dead: false,
        unmodelled: null,
        source: null,
      },
      ...nets.map((n, i) => ({
        family: n.gateway.family,
        table: 'main',
        type: 'unicast' as const,
        destination: prefixOf(n.gateway, n.length),
        hops: [{ via: null, device: nth(insideNames, i) }],
        metric: 0,
        preferred: null,
        dead: false,
        unmodelled: null,
        source: null,
      })),
    ],
    sockets: [],
    presumed: { forwarding: true, socketsComplete: everyTransport(true), kind: 'box' },
    fronts: fronted,
    program: programOf([
      ...(translation
        ? [base('prerouting', 'nat', 'accept', 'public address inward', [translation.inward])]
        : []),
      ...(subnet
        ? [
            base(
              'forward',
              'filter',
              'drop',
              'subnet list',
              [...subnetRules(subnet.in, 'in', insideNames), ...subnetRules(subnet.out, 'out', insideNames)],
              -10,
            ),
          ]
        : []),
      base('forward', 'filter', 'drop', 'allow lists', [
        rule(
          'answers to what was let in',
          match({ of: 'ct-state' }, bits(CT_STATE.established | CT_STATE.related)),
          accept,
        ),
        rule('inside machines may go out', match({ of: 'in' }, names(insideNames)), accept),
        ...settings.lists.flatMap((l, list) =>
          l.rows.map((r, i) => {
            const place = { list: l.name, number: i + 1, open: more.ofRow?.get(`${list + 1}/${i + 1}`) };
            return allowRule(r, place, settings);
          }),
        ),
        ...(more.perhaps
          ? [rule('(rows that are not listed may let it in)', doubt(more.perhaps), accept)]
          : []),
      ]),
      base('input', 'filter', 'drop', 'perimeter itself', []),
      ...(translation
        ? [base('postrouting', 'nat', 'accept', 'public address outward', [translation.outward])]
        : []),
    ]),
  };
}

function translationRules(
  settings: AllowListSettings,
  nets: readonly ProtectedNet[],
): { inward: RuleParts; outward: RuleParts } | null {
  if (settings.publicAddress === undefined || settings.publicAddress === 'none') return null;
  const outer = addressOf(settings.publicAddress, `${WHERE}: public address`);
  const inner = settings.insideAddress
    ? addressOf(settings.insideAddress, `${WHERE}: inside address`)
    : nets.flatMap((n) => n.machine).find((a) => a.family === outer.family);
  if (!inner) throw new SettingsError(`${WHERE}: the machine’s inside address is missing`);
  const translate = (side: 'source' | 'destination', a: Address): Step => ({
    do: 'translate',
    side,
    family: a.family,
    target: { addresses: single(a), ports: null },
  });
  const exactly = (a: Address): AddressSet => addressSet(prefixOf(a, a.family === 4 ? 32 : 128));
  return {
    inward: rule(
      `${settings.publicAddress} is ${formatAddress(inner)}`,
      match({ of: 'destination', family: null }, addresses(exactly(outer))),
      translate('destination', inner),
    ),
    outward: rule(
      `${formatAddress(inner)} leaves as ${settings.publicAddress}`,
      match({ of: 'source', family: null }, addresses(exactly(inner))),
      match({ of: 'out' }, names(['outside'])),
      translate('source', outer),
    ),
  };
}

/** Sources of a row: prefixes, anyone, or the members of a group. */
export function rowSources(row: AllowRow, settings: AllowListSettings, where: string): AddressSet | null {
  if (row.sources.some((s) => s === 'any')) return null;
  return addressUnion(
    ...row.sources.map((s) => {
      if (!s.startsWith('group:')) return addressSet(prefixOfText(s, where));
      return addressSet(
        ...(settings.groups?.[s.slice('group:'.length)] ?? []).map((m): Prefix => prefixOfText(m, where)),
      );
    }),
  );
}

interface RowPlace {
  readonly list: string;
  readonly number: number;
  /** What a listing leaves open about the row. */
  readonly open: Doubt | undefined;
}

function allowRule(row: AllowRow, { list, number, open }: RowPlace, settings: AllowListSettings): RuleParts {
  const where = `${list}, row ${number}`;
  const ports = portsOf(row.ports, where);
  const set = rowSources(row, settings, where);
  const of: Doubt | undefined = row.perhaps ? { doubt: 'said', text: row.perhaps } : open;
  const nobody = row.sources
    .filter((s) => s.startsWith('group:'))
    .map((s) => s.slice('group:'.length))
    .filter((name) => settings.groups?.[name] === undefined);
  if (nobody.length > 0)
    return rule(
      `${where}: ${row.protocol} ${row.ports ?? 'any port'} from ${row.sources.join(', ')}`,
      ...protocolMatch(row.protocol),
      ...(ports ? [match({ of: 'dport', protocol: null }, portNumbers(ports))] : []),
      doubt({ doubt: 'group-members', group: nobody.join(', ') }),
      accept,
    );
  return rule(
    `${where}${row.name ? ` (${row.name})` : ''}: ${row.protocol} ${row.ports ?? 'any port'} from ${row.sources.join(', ')}`,
    ...protocolMatch(row.protocol),
    ...(ports ? [match({ of: 'dport', protocol: null }, portNumbers(ports))] : []),
    ...(set ? [match({ of: 'source', family: null }, addresses(set))] : []),
    ...(of ? [doubt({ doubt: 'row', number, name: row.name ?? null, of })] : []),
    accept,
  );
}

/**
 * First fitting row decides; what none names is denied. Each direction is seen by itself, so answers need a
 * row for their ports.
 */
function subnetRules(
  rows: readonly SubnetRow[],
  direction: 'in' | 'out',
  inside: readonly string[],
): RuleParts[] {
  const way = match({ of: direction === 'in' ? 'out' : 'in' }, names(inside));
  const sorted = [...rows].sort((a, b) => a.number - b.number);
  const twice = sorted.find((r, i) => i > 0 && sorted[i - 1]?.number === r.number);
  if (twice)
    throw new SettingsError(
      `${WHERE}: subnet list ${direction}: two rows have the number ${twice.number}; which comes first is not told`,
    );
  return sorted.map((r) => {
    const where = `subnet list ${direction}, row ${r.number}`;
    const ports = portsOf(r.ports, where);
    const peers =
      !r.peers || r.peers.includes('any') ? null : addressSet(...r.peers.map((p) => prefixOfText(p, where)));
    const text = `${where}: ${r.action} ${r.protocol} ${r.ports ?? 'any port'}`;
    return rule(
      text,
      way,
      ...protocolMatch(r.protocol),
      ...(ports ? [match({ of: 'dport', protocol: null }, portNumbers(ports))] : []),
      ...(peers
        ? [match({ of: direction === 'in' ? 'source' : 'destination', family: null }, addresses(peers))]
        : []),
      r.action === 'allow' ? accept : drop,
    );
  });
}
