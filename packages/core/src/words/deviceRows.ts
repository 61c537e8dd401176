import type { SettingsKind } from '../devices/index.ts';

/** A row of a device's form: texts only, empty where nothing is known. */
type Row = Readonly<Record<string, string | undefined>>;
type RowSentence = (row: Row) => string;

const PROTOCOLS: Readonly<Record<string, string>> = {
  tcp: 'TCP',
  udp: 'UDP',
  both: 'TCP and UDP',
  any: 'any protocol',
};

const open = (what: string): string => `(${what}?)`;
const protocol = (row: Row): string => PROTOCOLS[row['protocol'] ?? ''] ?? open('protocol');
const said = (row: Row, key: string, what: string): string => row[key]?.trim() || open(what);
const ports = (row: Row, key = 'ports'): string => said(row, key, 'port');
const named = (row: Row): string => (row['name'] ? `${row['name']}: ` : '');
const senders = (value: string | undefined): string => (value?.trim() ? value.trim() : 'anyone');
const when = (row: Row, key: string, text: (value: string) => string): string => {
  const value = row[key]?.trim();
  return value ? text(value) : '';
};
/** Parts with a dot between them, without the empty ones. */
const parts = (...list: readonly string[]): string => list.filter((p) => p !== '').join(' · ');
/** Where a row leads to: the inside address, and its port where that is another one than outside. */
function target(row: Row, to: string, toPort: string, outside: string): string {
  const inside = row[toPort];
  const isSame = !inside || inside === row[outside];
  return `${said(row, to, 'inside address')}, ${isSame ? 'same port' : `port ${inside}`}`;
}
const isOn = (row: Row): string => (row['enabled'] === 'no' ? 'off' : '');

const STATES: Readonly<Record<string, string>> = {
  staged: 'entered, not applied',
  'needs-restart': 'waits for a restart',
};

const forward: RowSentence = (row) =>
  parts(
    `${named(row)}${protocol(row)} ${ports(row)} from ${senders(row['sources'])}`.concat(
      ` to ${target(row, 'to', 'toPort', 'ports')}`,
    ),
    when(row, 'line', (l) => `line ${l}`),
    isOn(row),
    STATES[row['state'] ?? ''] ?? '',
  );

const line: RowSentence = (row) =>
  parts(
    `${said(row, 'name', 'name')}, ${row['side'] === 'outside' ? 'outside' : 'inside'}`,
    when(row, 'zone', (z) => `zone ${z}`),
    said(row, 'addresses', 'addresses'),
    when(row, 'gateway', (g) => `next router ${g}`),
    row['up'] === 'no' ? 'down' : '',
    row['filtersSources'] === 'yes' ? 'its carrier drops foreign senders' : '',
  );

const own: RowSentence = (row) => `answers on ${protocol(row)} ${ports(row)} itself`;

const lease: RowSentence = (row) =>
  parts(
    `${protocol(row)} ${ports(row, 'port')} to ${target(row, 'to', 'toPort', 'port')}`,
    when(row, 'until', (u) => `until ${u}`),
    when(row, 'by', (b) => `asked with ${b}`),
  );

const members: RowSentence = (row) => `${said(row, 'name', 'name')}: ${said(row, 'members', 'addresses')}`;

function translation(row: Row): string {
  const outside = said(row, 'outside', 'outside address');
  const from = senders(row['sources']);
  switch (row['type']) {
    case 'one-to-one':
      return parts(
        `${named(row)}all of ${outside} is ${said(row, 'inside', 'inside machine')}`,
        row['twoWay'] === 'yes' ? 'both ways' : '',
        row['twoWay'] === 'no' ? 'inward only' : '',
        isOn(row),
      );
    case 'source': {
      const zones = `from ${said(row, 'fromZone', 'zone')} to ${said(row, 'toZone', 'zone')}`;
      return parts(`${named(row)}${zones} ${from} leave as ${said(row, 'to', 'address')}`, isOn(row));
    }
    default: {
      const zone = when(row, 'fromZone', (z) => ` arriving in ${z}`);
      const what = `${protocol(row)} ${ports(row)} of ${outside}${zone}`;
      return parts(`${named(row)}${what} from ${from} to ${target(row, 'to', 'toPort', 'ports')}`, isOn(row));
    }
  }
}

const DOES: Readonly<Record<string, string>> = {
  allow: 'lets',
  drop: 'drops',
  reject: 'refuses',
  deny: 'drops',
  block: 'blocks',
  'allow-if-authenticated': 'lets, once authenticated,',
};

const zoneRule: RowSentence = (row) =>
  parts(
    `${named(row)}${DOES[row['action'] ?? ''] ?? open('does')} ${row['services']?.trim() || 'everything'} ` +
      `from ${row['fromZone'] || 'any zone'} to ${row['toZone'] || 'any zone'}`,
    when(row, 'sources', (s) => `senders ${s}`),
    when(row, 'destinations', (d) => `to ${d}`),
    isOn(row),
  );

const mapping: RowSentence = (row) => {
  const outside = said(row, 'outside', 'outside address');
  if (row['type'] === 'many') return `inside machines leave as ${outside}`;
  if (row['type'] === 'address') return `all of ${outside} is ${said(row, 'inside', 'inside machine')}`;
  const what = `${protocol(row)} ${ports(row, 'outsidePort')} of ${outside}`;
  return `${what} to ${target(row, 'inside', 'insidePort', 'outsidePort')}`;
};

const allowRow: RowSentence = (row) =>
  parts(
    `${named(row)}${protocol(row)} ${row['ports']?.trim() || 'all ports'} from ${senders(row['sources'])}`,
    when(row, 'list', (l) => `list ${l}`),
  );

const subnetRow: RowSentence = (row) => {
  const isOut = row['direction'] === 'out';
  const does = `${isOut ? 'outward' : 'inward'} ${row['action'] === 'deny' ? 'drops' : 'lets'}`;
  const what = `${protocol(row)} ${row['ports']?.trim() || 'all ports'}`;
  const peers = `${isOut ? 'to' : 'from'} ${senders(row['peers'])}`;
  return `${said(row, 'number', 'number')}: ${does} ${what} ${peers}`;
};

const profile: RowSentence = (row) =>
  parts(
    `${said(row, 'name', 'profile')}, ${row['on'] === 'no' ? 'off' : 'on'}`,
    when(row, 'in', (v) => `inward ${v === 'block' ? 'blocks' : 'lets in'} what no row names`),
    when(row, 'out', (v) => `outward ${v === 'block' ? 'blocks' : 'lets out'} what no row names`),
  );

const hostRow: RowSentence = (row) =>
  parts(
    `${named(row)}${DOES[row['action'] ?? ''] ?? open('does')} ${protocol(row)} ${
      row['localPorts']?.trim() || 'all ports'
    } ${row['direction'] === 'out' ? 'to' : 'from'} ${senders(row['remoteAddresses'])}`,
    when(row, 'program', (p) => `program ${p}`),
    `profiles ${row['profiles']?.trim() || 'all'}`,
    isOn(row),
  );

/** How a row of each table of each kind of device reads, in its own kind of words. */
const ROWS = {
  'forward-table': { rows: forward, interfaces: line, ownPorts: own, mappings: lease },
  'zone-firewall': {
    interfaces: line,
    translations: translation,
    rules: zoneRule,
    names: members,
    services: (row) => `${said(row, 'name', 'name')}: ${protocol(row)} ${ports(row)}`,
    ownPorts: own,
  },
  'translation-lines': { interfaces: line, lines: mapping, ownPorts: own },
  'allow-list': { lists: allowRow, groups: members, subnetList: subnetRow },
  'host-profiles': { profiles: profile, rows: hostRow },
  carrier: { blocked: (row) => `blocks ${protocol(row)} ${ports(row)}`, portal: forward },
  relay: { leases: lease },
} satisfies Record<SettingsKind, Record<string, RowSentence>>;

/** A row of a device's form as a sentence; what is not known stands in brackets with a question mark. */
export function deviceRowText(kind: SettingsKind, table: string, row: Row): string {
  const own: Readonly<Record<string, RowSentence>> = ROWS[kind];
  return own[table]?.(row) ?? Object.values(row).filter(Boolean).join(' · ');
}
