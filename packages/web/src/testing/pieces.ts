import { interfaces, listeners, netshProfiles, OPEN_FILTER, prompted, routes } from './printed.ts';

/** Of each piece whose it is, and its text; `typed` lines are typed. */
export type Pieces = readonly (readonly [stop: string, text: string])[];

/** A Linux server that guards nothing, in four pieces. */
export const server = (address: string, gateway: string, ...sockets: string[]): Pieces =>
  [
    prompted('anna@heron', 'ip addr', interfaces({ eno1: [address] })),
    prompted('anna@heron', 'ip route', routes(gateway, 'eno1', address)),
    prompted('anna@heron', 'sudo ss -tulpn', listeners(...sockets)),
    prompted('anna@heron', 'sudo nft list ruleset', OPEN_FILTER),
  ].map((text) => ['server', text] as const);

export const onPlover = (command: string, output: string): Pieces[number] => [
  'gateway',
  prompted('root@plover', command, output),
];

/** The page of a router, its cells as they are copied. */
export const page = (...rows: (readonly string[])[]): Pieces[number] => [
  'gateway',
  rows.map((cells) => `${cells.join('\t')}\n`).join(''),
];

export const HEADING = ['Name', 'Protocol', 'Outside port', 'Inside address', 'Inside port'] as const;
export const WINDOWS = 'PS C:\\> ';

export const windows = (command: string, output: string): Pieces[number] => [
  'server',
  `${WINDOWS}${command}\n${output}`,
];
export const ipconfig = (host: string, address: string): Pieces[number] => [
  'server',
  'Windows IP Configuration\n' +
    '\n' +
    `   Host Name . . . . . . . . . . . . : ${host}\n` +
    '\n' +
    'Ethernet adapter Ethernet:\n' +
    '\n' +
    '   Physical Address. . . . . . . . . : 02-48-4E-00-00-20\n' +
    `   IPv4 Address. . . . . . . . . . . : ${address}(Preferred)\n` +
    '   Subnet Mask . . . . . . . . . . . : 255.255.255.0\n' +
    '   Default Gateway . . . . . . . . . : 192.168.50.1\n',
];
export const profile = (category: string): Pieces[number] =>
  windows(
    'Get-NetConnectionProfile',
    '\n' +
      'Name             : Hall\n' +
      'InterfaceAlias   : Ethernet\n' +
      'InterfaceIndex   : 12\n' +
      `NetworkCategory  : ${category}\n` +
      'IPv4Connectivity : Internet\n' +
      'IPv6Connectivity : NoTraffic\n',
  );
export const rows = (...list: string[]): Pieces[number] =>
  windows('netsh advfirewall firewall show rule name=all verbose', `\n${list.join('\n')}Ok.\n`);
export const ALL_PROFILES = windows('netsh advfirewall show allprofiles', netshProfiles());

export const RULES = [
  'Name',
  'From zone',
  'To zone',
  'Source',
  'Destination',
  'Service',
  'Action',
  'State',
] as const;
export const ALL_OUT = ['all out', 'inside', 'outside', 'any', 'any', 'any', 'allow', 'on'] as const;
export const MAPPINGS = ['Name', 'Outside address', 'Inside address', 'Direction'] as const;

export const lookup = (name: string, address: string): Pieces[number] => [
  'client',
  `$ dig ${name} A\n` +
    '\n' +
    `; <<>> DiG 9.18.24 <<>> ${name} A\n` +
    ';; ->>HEADER<<- opcode: QUERY, status: NOERROR, id: 4711\n' +
    '\n' +
    ';; QUESTION SECTION:\n' +
    `;${name}.\tIN\tA\n` +
    '\n' +
    ';; ANSWER SECTION:\n' +
    `${name}.\t300\tIN\tA\t${address}\n`,
];

/** A web page behind a firewall with zones, whose rule names the mapping of a whole address. */
export const mapped = (outside: string, inside: string): Pieces => [
  page(
    ['Address mappings'],
    MAPPINGS,
    ['WEB-MAP', outside, inside, 'both ways'],
    [],
    ['Rules'],
    RULES,
    ['web', 'outside', 'inside', 'any', 'WEB-MAP', 'tcp 80', 'allow', 'on'],
    ALL_OUT,
  ),
  ['typed', 'WAN IP 203.0.113.50/29'],
  lookup('www.gannet.example.net', '203.0.113.52'),
  ...server('192.168.50.20/24', '192.168.50.1', 'tcp 0.0.0.0:80 pages'),
];

/** A game behind a firewall with zones, by the rows of its page. */
export const zoned = (order: string, rule: readonly string[], ...forwards: (readonly string[])[]): Pieces => [
  page(
    ['Translations'],
    HEADING,
    ...(forwards.length > 0 ? forwards : [['No entries']]),
    [],
    ['Rules'],
    [order],
    RULES,
    rule,
    ALL_OUT,
  ),
  page(
    ['Interface', 'Zone', 'Address'],
    ['wan0', 'outside', '203.0.113.50/29'],
    ['lan0', 'inside', '192.168.50.1/24'],
    ['lan1', 'guests', '192.168.60.1/24'],
  ),
  ...server('192.168.50.20/24', '192.168.50.1', 'tcp 0.0.0.0:28410 lanternd', 'udp 0.0.0.0:28410 lanternd'),
];
export const REEF = ['reef', 'TCP+UDP', '28410', '192.168.50.20', '28410'] as const;
export const BEFORE = 'Rules see address and zone of the destination before translation.';
export const AFTER =
  'Translations are applied before the rules: rules see address and zone after translation.';

/** Two servers behind lines of translations, and no filter. */
export const LINES: Pieces = [
  [
    'gateway',
    'Translations\ntcp 203.0.113.51:80 → 192.168.50.20:8214\n203.0.113.52 ↔ 192.168.50.30\n' +
      'Filter: off\nHairpin: off\n',
  ],
  ['typed', 'WAN IP 203.0.113.50/29'],
  ['typed', 'LAN IP 192.168.50.1/24'],
  ...server('192.168.50.30/24', '192.168.50.1', 'tcp 0.0.0.0:8300 archived'),
];

export const ALLOWED_GROUP = 'Let in\ntcp 5432 · source group tide-members\n';
export const rented = (list: string): Pieces => [
  ['edge', list],
  ['typed', 'address seen from outside 203.0.113.60'],
  ...server('10.4.0.20/24', '10.4.0.1', 'tcp 0.0.0.0:5432 ebbtide'),
];

export const PORTAL_SAYS: Pieces[number] = [
  'gateway',
  'Port forwarding\nPort forwards are kept in your provider’s portal and cannot be changed on this page.\n',
];
export const portal = (...list: (readonly string[])[]): Pieces[number] => [
  'carrier',
  [['My connection > Rules'], HEADING, ...list].map((cells) => `${cells.join('\t')}\n`).join(''),
];
export const PIANO: Pieces = [
  PORTAL_SAYS,
  ['typed', 'WAN IP 203.0.113.61'],
  ['typed', 'LAN IP 192.168.40.1'],
  ...server('192.168.40.23/24', '192.168.40.1', 'tcp 0.0.0.0:4470 duet', 'udp 0.0.0.0:4470 duet'),
];
export const DUET = 'pianist, udp+tcp 4470, 203.0.113.61 from 198.51.100.77, waits, then times out';
