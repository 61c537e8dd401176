import { nth } from '../../place/index.ts';
import {
  known,
  open,
  type AddressMappingRecord,
  type NamedAddressRecord,
  type Said,
  type ServiceRecord,
  type ZoneLineRecord,
  type ZoneRuleRecord,
} from '../../facts/index.ts';
import { parseAddress, parsePrefix, SERVICE_PORT } from '../../net/index.ts';
import type { FieldName } from '../../rules/index.ts';
import { portCell } from '../tables/portCells.ts';
import { stateOf } from '../tables/states.ts';
import { protocolOf } from '../tables/values.ts';
import type { ZoneColumn } from './headings.ts';

/** The cells of one row by what their columns are; null where a column has no known meaning. */
export type ZoneCells = readonly { readonly column: ZoneColumn | null; readonly text: string }[];

const ANY = /^(?:any(?:one|where)?|all|every(?:one|thing)?|\*|-|–|—|0\.0\.0\.0\/0(?:, ?::\/0)?|)$/i;
const NOTHING = /^(?:|-|–|—|any|all|always|none|no|off|default|\*)$/i;
const ALLOW = /^(?:allow(?:ed)?|permit|accept|pass|let in|erlauben|zulassen|autoriser|permitir)$/i;
const DROP = /^(?:deny|denied|drop|discard|block(?:ed)?|blockieren|bloquer|bloquear)$/i;
const REJECT = /^(?:reject|refuse)$/i;

const cellOf = (cells: ZoneCells, column: ZoneColumn): string | undefined =>
  cells.find((c) => c.column === column)?.text;

const word = (field: FieldName, text: string): Said<never> => open({ doubt: 'word', field, text });

function actionOf(text: string | undefined): ZoneRuleRecord['action'] {
  if (text === undefined || text === '') return open({ doubt: 'not-shown', fields: ['action'] });
  if (ALLOW.test(text)) return known('allow');
  if (DROP.test(text)) return known('drop');
  return REJECT.test(text) ? known('reject') : word('action', text);
}

const zoneOf = (text: string | undefined): ZoneRuleRecord['fromZone'] =>
  text === undefined || ANY.test(text) ? known(null) : known(text);

/** Addresses, prefixes and names; a negation of them is open. */
function membersOf(text: string | undefined, field: FieldName): ZoneRuleRecord['sources'] {
  if (text === undefined || ANY.test(text)) return known(null);
  if (/^(?:!|not\b|except\b)/i.test(text)) return word(field, text);
  const list = partsOf(text);
  return known(list.every((t) => !t.includes(' ')) ? list : [text]);
}

const partsOf = (text: string): string[] =>
  text
    .split(/[,;]/)
    .map((t) => t.replaceAll(/\s+/g, ' ').trim())
    .filter((t) => t !== '');

const SPOKEN = /^((?:tcp|udp)(?: ?(?:[+/&]|and) ?(?:tcp|udp))?)(?:[/: ](.+))?$/i;

/** `tcp 80`, `tcp/80, udp/53`, `80/tcp`, `HTTP`, `tcp+udp 28410`, `any`. */
function servicesOf(text: string): readonly ServiceRecord[] | null | undefined {
  if (ANY.test(text)) return null;
  const out: ServiceRecord[] = [];
  let protocol: ServiceRecord['protocol'] | null = null;
  for (const part of partsOf(text)) {
    // What is about neither TCP nor UDP touches no packet of a service.
    if (protocolOf(part) === 'other') continue;
    const spoken = SPOKEN.exec(part);
    const told = spoken ? protocolOf(nth(spoken, 1)) : null;
    const ports = portCell(spoken ? (spoken[2]?.trim() ?? 'any') : part);
    if (spoken) protocol = told === 'other' ? null : told;
    const own = spoken ? protocol : (ports?.protocol ?? serviceProtocol(part) ?? protocol);
    if (ports === null || own === null || !('is' in ports.ports)) return undefined;
    out.push({ protocol: own, ports: ports.ports.is === 'same' ? null : ports.ports.is });
  }
  return out;
}

/** A named service of the web and the like is spoken over TCP (IANA service names). */
const OVER_TCP = new Set([
  'http',
  'https',
  'ssh',
  'ftp',
  'telnet',
  'smtp',
  'imap',
  'imaps',
  'postgresql',
  'mysql',
]);
const serviceProtocol = (name: string): 'tcp' | null =>
  OVER_TCP.has(name.toLowerCase()) && Object.hasOwn(SERVICE_PORT, name.toLowerCase()) ? 'tcp' : null;

function serviceCells(cells: ZoneCells): ZoneRuleRecord['services'] {
  const [joint, protocol, ports] = (['services', 'protocol', 'ports'] as const).map((c) => cellOf(cells, c));
  if (joint !== undefined && !ANY.test(joint)) {
    const read = servicesOf(joint);
    return read === undefined ? word('ports', joint) : known(read);
  }
  if (protocol === undefined && ports === undefined)
    return joint === undefined ? open({ doubt: 'not-shown', fields: ['ports'] }) : known(null);
  const said = protocol === undefined || ANY.test(protocol) ? 'any' : protocolOf(protocol);
  if (said === 'other') return known([]);
  if (said === null) return word('protocol', protocol ?? '');
  if (ports === undefined || ANY.test(ports))
    return known(said === 'any' ? null : [{ protocol: said, ports: null }]);
  const read = portCell(ports);
  if (read === null || !('is' in read.ports)) return word('ports', ports);
  const own = read.protocol ?? said;
  return known([{ protocol: own, ports: read.ports.is === 'same' ? null : read.ports.is }]);
}

/** What further columns and headings that nobody knows ask for; words for "no limit" ask for nothing. */
function furtherOf(cells: ZoneCells): Said<null> {
  const odd = cells.find((c) => (c.column === 'further' || c.column === null) && !NOTHING.test(c.text));
  return odd ? word('option', odd.text) : known(null);
}

const enabledOf = (cells: ZoneCells): Said<boolean> => {
  const text = cellOf(cells, 'enabled');
  if (text === undefined) return known(true);
  const { enabled, applied } = stateOf(text);
  return applied === false ? known(false) : enabled;
};

const nameOf = (cells: ZoneCells): string | null => cellOf(cells, 'name') || null;

export const zoneRule = (cells: ZoneCells): ZoneRuleRecord => ({
  name: nameOf(cells),
  action: actionOf(cellOf(cells, 'action')),
  fromZone: zoneOf(cellOf(cells, 'from-zone')),
  toZone: zoneOf(cellOf(cells, 'to-zone')),
  sources: membersOf(cellOf(cells, 'sources'), 'source'),
  destinations: membersOf(cellOf(cells, 'destinations'), 'addresses'),
  services: serviceCells(cells),
  enabled: enabledOf(cells),
  further: furtherOf(cells),
});

const addressCell = (text: string | undefined): Said<string> => {
  const bare = (text ?? '').replace(/\/(?:32|128)$/, '').trim();
  if (bare === '') return open({ doubt: 'not-shown', fields: ['addresses'] });
  return parseAddress(bare) ? known(bare) : word('addresses', bare);
};

const ONE_WAY = /one.?way|inward|inbound|in only|dnat|→|->/i;

export const addressMapping = (cells: ZoneCells): AddressMappingRecord => ({
  name: nameOf(cells),
  outside: addressCell(cellOf(cells, 'outside')),
  inside: addressCell(cellOf(cells, 'inside')),
  twoWay: !ONE_WAY.test(cellOf(cells, 'direction') ?? ''),
  enabled: enabledOf(cells),
  further: furtherOf(cells.filter((c) => c.column !== 'direction')),
});

/** Null where the row shows no address of its line. */
export function zoneLine(cells: ZoneCells): ZoneLineRecord | null {
  const name = cellOf(cells, 'interface') ?? cellOf(cells, 'zone') ?? '';
  const mask = cellOf(cells, 'mask');
  const addresses = (cellOf(cells, 'address') ?? '')
    .split(/[\s,;]+/)
    .filter((t) => t !== '')
    .map((t) => (mask && !t.includes('/') ? withMask(t, mask) : t));
  if (name === '' || addresses.some((t) => parsePrefix(t) === null)) return null;
  const state = cellOf(cells, 'enabled');
  const up = state === undefined ? null : stateOf(state).enabled;
  return {
    name,
    zone: cellOf(cells, 'zone') || name,
    addresses,
    up: up !== null && 'is' in up ? up.is : null,
  };
}

/** `255.255.255.248` or `/29` behind an address. */
function withMask(address: string, mask: string): string {
  const length = mask.replace(/^\//, '');
  if (/^\d{1,3}$/.test(length)) return `${address}/${length}`;
  const bits = parseAddress(mask)?.bits;
  return bits === undefined ? address : `${address}/${bits.toString(2).replaceAll('0', '').length}`;
}

export function namedAddress(cells: ZoneCells): NamedAddressRecord | null {
  const name = nameOf(cells);
  const members = (cellOf(cells, 'address') ?? '').split(/[\s,;]+/).filter((t) => t !== '');
  return name !== null && members.length > 0 && members.every((t) => parsePrefix(t) !== null)
    ? { name, members }
    : null;
}
