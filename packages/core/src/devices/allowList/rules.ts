import {
  formatAddress,
  type Address,
  prefixOf,
  type Prefix,
  type AddressSet,
  addressSet,
  addressUnion,
} from '../../net/index.ts';
import type { AllowListSettings, AllowRow, SubnetRow } from './settings.ts';
import {
  type RuleParts,
  addressOf,
  SettingsError,
  single,
  rule,
  ofRow,
  match,
  addresses,
  names,
  prefixOfText,
  protocolMatch,
  portsOf,
  portNumbers,
  doubt,
  accept,
  drop,
} from '../build.ts';
import type { Step, Doubt } from '../../rules/index.ts';

export const WHERE = 'allow list';

/** The name of the chain that the stateless list of a subnet becomes. */
export const SUBNET_LIST = 'subnet list';

/** The network on which the protected machine stands: its gateway there, and the machine's addresses. */

export interface ProtectedNet {
  readonly gateway: Address;
  readonly length: number;
  readonly machine: readonly Address[];
}

export function translationRules(
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

export interface ListedAt {
  readonly list: string;
  readonly number: number;
  /** What a listing leaves open about the row. */
  readonly open: Doubt | undefined;
}

export function allowRule(
  row: AllowRow,
  { list, number, open }: ListedAt,
  settings: AllowListSettings,
): RuleParts {
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
    `${where}${row.name ? ` (${row.name})` : ''}: ${row.protocol} ${row.ports ?? 'any port'} from ` +
      `${row.sources.join(', ')}`,
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
export function subnetRules(
  rows: readonly SubnetRow[],
  direction: 'in' | 'out',
  inside: readonly string[],
): RuleParts[] {
  const way = match({ of: direction === 'in' ? 'out' : 'in' }, names(inside));
  const sorted = [...rows].sort((a, b) => a.number - b.number);
  const twice = sorted.find((r, i) => i > 0 && sorted[i - 1]?.number === r.number);
  if (twice)
    throw new SettingsError(
      `${WHERE}: subnet list ${direction}: two rows have the number ${twice.number}; which ` +
        'comes first is not told',
    );
  return sorted.map((r) => {
    const where = `subnet list ${direction}, row ${r.number}`;
    const ports = portsOf(r.ports, where);
    const peers =
      !r.peers || r.peers.includes('any') ? null : addressSet(...r.peers.map((p) => prefixOfText(p, where)));
    const text = `${where}: ${r.action} ${r.protocol} ${r.ports ?? 'any port'}`;
    const made = rule(
      text,
      way,
      ...protocolMatch(r.protocol),
      ...(ports ? [match({ of: 'dport', protocol: null }, portNumbers(ports))] : []),
      ...(peers
        ? [match({ of: direction === 'in' ? 'source' : 'destination', family: null }, addresses(peers))]
        : []),
      r.action === 'allow' ? accept : drop,
    );
    return ofRow(`subnetList/${direction}`, rows.indexOf(r), made);
  });
}
