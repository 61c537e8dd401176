import type { SettingsKind } from '../dialects/index.ts';
import type { Role } from '../site/index.ts';

/** One value of a form. `yes-no` has a third state: not known. Lists are typed with commas. */
export interface FormField {
  readonly key: string;
  readonly label: string;
  readonly type: 'text' | 'number' | 'list' | 'choice' | 'yes-no';
  readonly options?: readonly { readonly value: string; readonly label: string }[];
  readonly hint?: string;
}

/** A table of a form; each row is one entry. */
export interface FormTable {
  readonly key: string;
  readonly label: string;
  readonly columns: readonly FormField[];
  readonly hint?: string;
}

/** The page on which the settings of one kind of device are filled in. */
export interface FormSpec {
  readonly kind: SettingsKind;
  readonly title: string;
  readonly explains: string;
  readonly roles: readonly Role[];
  readonly tables: readonly FormTable[];
  readonly fields: readonly FormField[];
}

const choice = (key: string, label: string, options: Readonly<Record<string, string>>, hint?: string): FormField => ({ key, label, type: 'choice', options: Object.entries(options).map(([value, text]) => ({ value, label: text })), ...(hint ? { hint } : {}) });
const text = (key: string, label: string, hint?: string): FormField => ({ key, label, type: 'text', ...(hint ? { hint } : {}) });
const list = (key: string, label: string, hint?: string): FormField => ({ key, label, type: 'list', ...(hint ? { hint } : {}) });
const number = (key: string, label: string): FormField => ({ key, label, type: 'number' });
const yesNo = (key: string, label: string, hint?: string): FormField => ({ key, label, type: 'yes-no', ...(hint ? { hint } : {}) });

const TWO = { tcp: 'TCP', udp: 'UDP' };
const THREE = { tcp: 'TCP', udp: 'UDP', both: 'TCP and UDP' };
const FOUR = { ...THREE, any: 'any' };
const lines = (zones: boolean): FormTable => ({
  key: 'interfaces', label: 'Lines and interfaces', hint: zones ? undefined : 'May stay empty where the status page tells the addresses.',
  columns: [text('name', 'name'), choice('side', 'side', { outside: 'outside', inside: 'inside' }), ...(zones ? [text('zone', 'zone')] : []), list('addresses', 'addresses', '203.0.113.50/29'), text('gateway', 'next router'), yesNo('up', 'up'), ...(zones ? [] : [yesNo('filtersSources', 'carrier filters senders')])],
});
const ownPorts: FormTable = { key: 'ownPorts', label: 'Ports that it answers on itself', columns: [choice('protocol', 'protocol', TWO), text('ports', 'ports')] };
const forwardColumns: readonly FormField[] = [text('name', 'name'), choice('protocol', 'protocol', THREE), text('ports', 'outside ports', '28410 or 28410-28415'), text('to', 'inside address'), number('toPort', 'first inside port'), list('sources', 'allowed from'), text('line', 'line'), yesNo('enabled', 'on'), choice('state', 'state', { applied: 'applied', staged: 'not applied', 'needs-restart': 'needs a restart' })];

/** Forms of all kinds of devices, in plain words. */
export const FORMS: readonly FormSpec[] = [
  {
    kind: 'forward-table', title: 'Router with a table of port forwards', explains: 'A home router, with one outside line or two. What no row takes ends there.', roles: ['gateway'],
    tables: [{ key: 'rows', label: 'Forwards', columns: forwardColumns }, lines(false), ownPorts, { key: 'mappings', label: 'Mappings that programs asked for', columns: [choice('protocol', 'protocol', TWO), number('port', 'outside port'), text('to', 'inside address'), number('toPort', 'inside port'), text('until', 'ends at', '2026-03-01T14:00:00Z'), text('by', 'asked with')] }],
    fields: [
      text('exposedHost', 'Exposed host', 'takes everything that no row takes'), choice('clash', 'Two rows claim one port', { first: 'the first counts', last: 'the last counts', refused: 'the second is not taken' }),
      yesNo('hairpin', 'Inside machines can use the outside address'), choice('keptBy', 'Forwards are kept', { gateway: 'in this router', carrier: 'in the carrier’s portal' }), choice('answersBy', 'With two lines an answer leaves', { 'same-line': 'by the line of the question', 'default-line': 'by the default line' }), text('at', 'Looked up at'),
    ],
  },
  {
    kind: 'zone-firewall', title: 'Firewall with zones', explains: 'Translations and filter rules stand in two tables; a connection needs a row in each.', roles: ['gateway', 'edge'],
    tables: [
      lines(true),
      { key: 'translations', label: 'Translations', columns: [choice('type', 'kind', { 'port-forward': 'port forward', 'one-to-one': 'one to one', source: 'source' }), text('name', 'name'), text('outside', 'outside', 'address or interface'), choice('protocol', 'protocol', THREE), text('ports', 'ports'), text('to', 'sends to'), number('toPort', 'port'), text('inside', 'inside machine'), yesNo('twoWay', 'both ways'), text('fromZone', 'from zone'), text('toZone', 'to zone'), list('sources', 'from'), yesNo('enabled', 'on')] },
      { key: 'rules', label: 'Filter rules, in order', columns: [text('name', 'name'), choice('action', 'does', { allow: 'allow', drop: 'drop', reject: 'refuse' }), text('fromZone', 'from zone'), text('toZone', 'to zone'), list('sources', 'from'), list('destinations', 'to'), list('services', 'services', 'tcp/8214 or a name'), yesNo('enabled', 'on')] },
      { key: 'names', label: 'Named addresses', columns: [text('name', 'name'), list('members', 'addresses')] }, { key: 'services', label: 'Named services', columns: [text('name', 'name'), choice('protocol', 'protocol', FOUR), text('ports', 'ports')] }, ownPorts,
    ],
    fields: [choice('otherwise', 'What no rule names', { drop: 'is dropped', reject: 'is refused', allow: 'is let through' }), choice('destinationSeen', 'Filter rules name the address', { before: 'before translation', after: 'after translation' }), choice('zoneSeen', 'The destination’s zone is that', { before: 'before translation', after: 'after translation' }), list('extraAddresses', 'Further outside addresses')],
  },
  {
    kind: 'translation-lines', title: 'Router that only translates', explains: 'Static mappings of ports or whole addresses; nothing is filtered.', roles: ['gateway'],
    tables: [lines(true), { key: 'lines', label: 'Mappings', columns: [choice('type', 'kind', { port: 'one port', address: 'whole address', many: 'inside machines outward' }), choice('protocol', 'protocol', TWO), text('outside', 'outside', 'address or interface'), number('outsidePort', 'port'), text('inside', 'inside'), number('insidePort', 'port'), list('sources', 'from')] }, ownPorts],
    fields: [list('outsidePrefixes', 'Outside prefixes routed to it')],
  },
  {
    kind: 'allow-list', title: 'Cloud allow list', explains: 'Rows of all lists add up; who is let in is answered. A subnet list may stand in front, for each direction by itself.', roles: ['edge'],
    tables: [
      { key: 'lists', label: 'Let in', columns: [text('list', 'list'), text('name', 'name'), choice('protocol', 'protocol', FOUR), text('ports', 'ports'), list('sources', 'from', 'prefixes, any, group:NAME')] }, { key: 'groups', label: 'Groups', columns: [text('name', 'name'), list('members', 'members')] },
      { key: 'subnetList', label: 'Subnet list (stateless)', columns: [choice('direction', 'direction', { in: 'in', out: 'out' }), number('number', 'number'), choice('action', 'does', { allow: 'allow', deny: 'deny' }), choice('protocol', 'protocol', FOUR), text('ports', 'ports'), list('peers', 'other end')] },
    ],
    fields: [text('publicAddress', 'Public address that is translated', 'or “none”; empty: the machine holds it'), text('insideAddress', 'The machine’s own address')],
  },
  {
    kind: 'host-profiles', title: 'Host firewall with network profiles', explains: 'Rows count on their profiles only; a block beats an allow, whatever their order.', roles: ['host'],
    tables: [
      { key: 'profiles', label: 'Profiles', columns: [text('name', 'profile'), yesNo('on', 'on'), choice('in', 'otherwise inward', { block: 'block', allow: 'allow' }), choice('out', 'otherwise outward', { block: 'block', allow: 'allow' })] },
      { key: 'rows', label: 'Rows', columns: [text('name', 'name'), yesNo('enabled', 'on'), choice('direction', 'direction', { in: 'in', out: 'out' }), choice('action', 'does', { allow: 'allow', 'allow-if-authenticated': 'allow if authenticated', block: 'block' }), list('profiles', 'profiles'), text('program', 'program'), choice('protocol', 'protocol', FOUR), text('localPorts', 'own ports'), text('remotePorts', 'their ports'), list('localAddresses', 'own addresses'), list('remoteAddresses', 'their addresses', 'any, local-subnet, prefixes')] },
    ],
    fields: [text('active', 'Active profile'), yesNo('silentWhenClosed', 'A closed port stays silent')],
  },
  {
    kind: 'carrier', title: 'Carrier', explains: 'What is known of the carrier’s own network.', roles: ['carrier'],
    tables: [{ key: 'blocked', label: 'Blocked ports', columns: [choice('protocol', 'protocol', THREE), text('ports', 'ports')] }, { key: 'portal', label: 'Forwards in the carrier’s portal', columns: forwardColumns.filter((c) => c.key !== 'line') }],
    fields: [choice('ipv4', 'IPv4', { own: 'an address of its own', shared: 'shared with others', none: 'none' }), list('sharedAddresses', 'Shared addresses'), choice('shield.when', 'Shield against unasked traffic', { always: 'always', 'after-a-while': 'after a while', 'per-client': 'unless the client is approved' }), list('shield.approved', 'Approved clients')],
  },
  {
    kind: 'relay', title: 'Relay with leased ports', explains: 'The far end of a tunnel that leases ports.', roles: ['relay'],
    tables: [{ key: 'leases', label: 'Leased ports', columns: [choice('protocol', 'protocol', THREE), number('port', 'port'), text('to', 'tunnel address'), number('toPort', 'port there'), text('until', 'ends at')] }],
    fields: [text('address', 'Its public address'), text('tunnelAddress', 'Its address in the tunnel', '10.66.0.1/24'), yesNo('hidesClient', 'The server sees the relay instead of the client'), text('at', 'Looked up at')],
  },
];

export const formOf = (kind: SettingsKind): FormSpec => FORMS.find((f) => f.kind === kind)!;
export const formsFor = (role: Role): FormSpec[] => FORMS.filter((f) => f.roles.includes(role));
