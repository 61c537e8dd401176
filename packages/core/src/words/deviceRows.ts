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
const isOn = (row: Row): string => (row['enabled'] === 'no' ? 'off' : '');

const STATES: Readonly<Record<string, string>> = {
  staged: 'entered, not applied',
  'needs-restart': 'waits for a restart',
};

const forward: RowSentence = (row) =>
  parts(
    `${named(row)}${protocol(row)} ${ports(row)} from ${senders(row['sources'])} to ${said(row, 'to', 'inside address')}, ${
      row['toPort'] && row['toPort'] !== row['ports'] ? `port ${row['toPort']}` : 'same port'
    }`,
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
    `${protocol(row)} ${ports(row, 'port')} to ${said(row, 'to', 'inside address')}, ${
      row['toPort'] && row['toPort'] !== row['port'] ? `port ${row['toPort']}` : 'same port'
    }`,
    when(row, 'until', (u) => `until ${u}`),
    when(row, 'by', (b) => `asked with ${b}`),
  );

const members: RowSentence = (row) => `${said(row, 'name', 'name')}: ${said(row, 'members', 'addresses')}`;

function translation(row: Row): string {
  const zone = when(row, 'fromZone', (z) => ` arriving in ${z}`);
  switch (row['type']) {
    case 'one-to-one':
      return parts(
        `${named(row)}all of ${said(row, 'outside', 'outside address')} is ${said(row, 'inside', 'inside machine')}`,
        row['twoWay'] === 'yes' ? 'both ways' : '',
        row['twoWay'] === 'no' ? 'inward only' : '',
        isOn(row),
      );
    case 'source':
      return parts(
        `${named(row)}from ${said(row, 'fromZone', 'zone')} to ${said(row, 'toZone', 'zone')} ${senders(row['sources'])} leave as ${said(row, 'to', 'address')}`,
        isOn(row),
      );
    default:
      return parts(
        `${named(row)}${protocol(row)} ${ports(row)} of ${said(row, 'outside', 'outside address')}${zone} from ${senders(row['sources'])} to ${said(row, 'to', 'inside address')}, ${
          row['toPort'] && row['toPort'] !== row['ports'] ? `port ${row['toPort']}` : 'same port'
        }`,
        isOn(row),
      );
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
    `${named(row)}${DOES[row['action'] ?? ''] ?? open('does')} ${row['services']?.trim() || 'everything'} from ${
      row['fromZone'] || 'any zone'
    } to ${row['toZone'] || 'any zone'}`,
    when(row, 'sources', (s) => `senders ${s}`),
    when(row, 'destinations', (d) => `to ${d}`),
    isOn(row),
  );

const mapping: RowSentence = (row) => {
  if (row['type'] === 'many') return `inside machines leave as ${said(row, 'outside', 'outside address')}`;
  if (row['type'] === 'address')
    return `all of ${said(row, 'outside', 'outside address')} is ${said(row, 'inside', 'inside machine')}`;
  return `${protocol(row)} ${ports(row, 'outsidePort')} of ${said(row, 'outside', 'outside address')} to ${said(
    row,
    'inside',
    'inside machine',
  )}, ${row['insidePort'] && row['insidePort'] !== row['outsidePort'] ? `port ${row['insidePort']}` : 'same port'}`;
};

const allowRow: RowSentence = (row) =>
  parts(
    `${named(row)}${protocol(row)} ${row['ports']?.trim() || 'all ports'} from ${senders(row['sources'])}`,
    when(row, 'list', (l) => `list ${l}`),
  );

const subnetRow: RowSentence = (row) =>
  `${said(row, 'number', 'number')}: ${row['direction'] === 'out' ? 'outward' : 'inward'} ${
    row['action'] === 'deny' ? 'drops' : 'lets'
  } ${protocol(row)} ${row['ports']?.trim() || 'all ports'} ${row['direction'] === 'out' ? 'to' : 'from'} ${senders(row['peers'])}`;

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
