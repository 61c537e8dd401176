/** What an address is for, as far as being reached from the internet is concerned. */
export type AddressKind =
  | 'public'
  | 'private'
  | 'shared'
  | 'link-local'
  | 'loopback'
  | 'documentation'
  | 'unspecified'
  | 'this-network'
  | 'ds-lite'
  | 'protocol'
  | 'nat64'
  | '6to4'
  | 'teredo'
  | 'unique-local'
  | 'mapped'
  | 'discard'
  | 'benchmarking'
  | 'as112'
  | 'amt'
  | 'multicast'
  | 'reserved'
  | 'broadcast'
  | 'site-local'
  | 'dummy'
  | 'segment-routing';
/** One row of an IANA special-purpose registry. */

export interface KindRow {
  readonly block: string;
  readonly kind: AddressKind;
  /** The name that the registry gives the block. */
  readonly name: string;
  readonly rfc: string;
  /** Whether packets to it from elsewhere on the internet can arrive at its holder ("globally reachable"). */
  readonly reachable: boolean;
}

/**
 * The IANA IPv4 and IPv6 Special-Purpose Address Registries (RFC 6890, RFC 8190), multicast and the
 * deprecated site-local block. Documentation prefixes count as reachable here: cases and tests are written
 * with them.
 */

export const KIND_TABLE: readonly KindRow[] = [
  {
    block: '0.0.0.0/32',
    kind: 'unspecified',
    name: 'This host on this network',
    rfc: 'RFC 1122 §3.2.1.3',
    reachable: false,
  },
  { block: '0.0.0.0/8', kind: 'this-network', name: 'This network', rfc: 'RFC 791 §3.2', reachable: false },
  { block: '10.0.0.0/8', kind: 'private', name: 'Private-Use', rfc: 'RFC 1918', reachable: false },
  { block: '100.64.0.0/10', kind: 'shared', name: 'Shared Address Space', rfc: 'RFC 6598', reachable: false },
  { block: '127.0.0.0/8', kind: 'loopback', name: 'Loopback', rfc: 'RFC 1122 §3.2.1.3', reachable: false },
  { block: '169.254.0.0/16', kind: 'link-local', name: 'Link Local', rfc: 'RFC 3927', reachable: false },
  { block: '172.16.0.0/12', kind: 'private', name: 'Private-Use', rfc: 'RFC 1918', reachable: false },
  {
    block: '192.0.0.0/29',
    kind: 'ds-lite',
    name: 'IPv4 Service Continuity Prefix',
    rfc: 'RFC 7335',
    reachable: false,
  },
  { block: '192.0.0.8/32', kind: 'dummy', name: 'IPv4 dummy address', rfc: 'RFC 7600', reachable: false },
  {
    block: '192.0.0.9/32',
    kind: 'protocol',
    name: 'Port Control Protocol Anycast',
    rfc: 'RFC 7723',
    reachable: true,
  },
  {
    block: '192.0.0.10/32',
    kind: 'protocol',
    name: 'Traversal Using Relays around NAT Anycast',
    rfc: 'RFC 8155',
    reachable: true,
  },
  {
    block: '192.0.0.170/31',
    kind: 'nat64',
    name: 'NAT64/DNS64 Discovery',
    rfc: 'RFC 7050 §2.2',
    reachable: false,
  },
  {
    block: '192.0.0.0/24',
    kind: 'protocol',
    name: 'IETF Protocol Assignments',
    rfc: 'RFC 6890 §2.1',
    reachable: false,
  },
  {
    block: '192.0.2.0/24',
    kind: 'documentation',
    name: 'Documentation (TEST-NET-1)',
    rfc: 'RFC 5737',
    reachable: true,
  },
  { block: '192.31.196.0/24', kind: 'as112', name: 'AS112-v4', rfc: 'RFC 7535', reachable: true },
  { block: '192.52.193.0/24', kind: 'amt', name: 'AMT', rfc: 'RFC 7450', reachable: true },
  {
    block: '192.88.99.0/24',
    kind: '6to4',
    name: 'Deprecated (6to4 Relay Anycast)',
    rfc: 'RFC 7526',
    reachable: false,
  },
  { block: '192.168.0.0/16', kind: 'private', name: 'Private-Use', rfc: 'RFC 1918', reachable: false },
  {
    block: '192.175.48.0/24',
    kind: 'as112',
    name: 'Direct Delegation AS112 Service',
    rfc: 'RFC 7534',
    reachable: true,
  },
  { block: '198.18.0.0/15', kind: 'benchmarking', name: 'Benchmarking', rfc: 'RFC 2544', reachable: false },
  {
    block: '198.51.100.0/24',
    kind: 'documentation',
    name: 'Documentation (TEST-NET-2)',
    rfc: 'RFC 5737',
    reachable: true,
  },
  {
    block: '203.0.113.0/24',
    kind: 'documentation',
    name: 'Documentation (TEST-NET-3)',
    rfc: 'RFC 5737',
    reachable: true,
  },
  { block: '224.0.0.0/4', kind: 'multicast', name: 'Multicast', rfc: 'RFC 5771', reachable: false },
  {
    block: '255.255.255.255/32',
    kind: 'broadcast',
    name: 'Limited Broadcast',
    rfc: 'RFC 8190',
    reachable: false,
  },
  { block: '240.0.0.0/4', kind: 'reserved', name: 'Reserved', rfc: 'RFC 1112 §4', reachable: false },
  { block: '::1/128', kind: 'loopback', name: 'Loopback Address', rfc: 'RFC 4291 §2.5.3', reachable: false },
  {
    block: '::/128',
    kind: 'unspecified',
    name: 'Unspecified Address',
    rfc: 'RFC 4291 §2.5.2',
    reachable: false,
  },
  {
    block: '::ffff:0:0/96',
    kind: 'mapped',
    name: 'IPv4-mapped Address',
    rfc: 'RFC 4291 §2.5.5.2',
    reachable: false,
  },
  { block: '64:ff9b::/96', kind: 'nat64', name: 'IPv4-IPv6 Translat.', rfc: 'RFC 6052', reachable: true },
  {
    block: '64:ff9b:1::/48',
    kind: 'nat64',
    name: 'IPv4-IPv6 Translat. (local use)',
    rfc: 'RFC 8215',
    reachable: false,
  },
  {
    block: '100::/64',
    kind: 'discard',
    name: 'Discard-Only Address Block',
    rfc: 'RFC 6666',
    reachable: false,
  },
  { block: '100:0:0:1::/64', kind: 'dummy', name: 'Dummy IPv6 Prefix', rfc: 'RFC 9780', reachable: false },
  { block: '2001::/32', kind: 'teredo', name: 'TEREDO', rfc: 'RFC 4380', reachable: false },
  {
    block: '2001:1::1/128',
    kind: 'protocol',
    name: 'Port Control Protocol Anycast',
    rfc: 'RFC 7723',
    reachable: true,
  },
  {
    block: '2001:1::2/128',
    kind: 'protocol',
    name: 'Traversal Using Relays around NAT Anycast',
    rfc: 'RFC 8155',
    reachable: true,
  },
  {
    block: '2001:1::3/128',
    kind: 'protocol',
    name: 'DNS-SD Service Registration Protocol Anycast',
    rfc: 'RFC 9665',
    reachable: true,
  },
  { block: '2001:2::/48', kind: 'benchmarking', name: 'Benchmarking', rfc: 'RFC 5180', reachable: false },
  { block: '2001:3::/32', kind: 'amt', name: 'AMT', rfc: 'RFC 7450', reachable: true },
  { block: '2001:4:112::/48', kind: 'as112', name: 'AS112-v6', rfc: 'RFC 7535', reachable: true },
  {
    block: '2001:10::/28',
    kind: 'reserved',
    name: 'Deprecated (previously ORCHID)',
    rfc: 'RFC 4843',
    reachable: false,
  },
  { block: '2001:20::/28', kind: 'protocol', name: 'ORCHIDv2', rfc: 'RFC 7343', reachable: true },
  {
    block: '2001:30::/28',
    kind: 'protocol',
    name: 'Drone Remote ID Protocol Entity Tags',
    rfc: 'RFC 9374',
    reachable: true,
  },
  {
    block: '2001::/23',
    kind: 'protocol',
    name: 'IETF Protocol Assignments',
    rfc: 'RFC 2928',
    reachable: false,
  },
  { block: '2001:db8::/32', kind: 'documentation', name: 'Documentation', rfc: 'RFC 3849', reachable: true },
  { block: '2002::/16', kind: '6to4', name: '6to4', rfc: 'RFC 3056', reachable: false },
  {
    block: '2620:4f:8000::/48',
    kind: 'as112',
    name: 'Direct Delegation AS112 Service',
    rfc: 'RFC 7534',
    reachable: true,
  },
  { block: '3fff::/20', kind: 'documentation', name: 'Documentation', rfc: 'RFC 9637', reachable: true },
  {
    block: '5f00::/16',
    kind: 'segment-routing',
    name: 'Segment Routing (SRv6) SIDs',
    rfc: 'RFC 9602',
    reachable: false,
  },
  { block: 'fc00::/7', kind: 'unique-local', name: 'Unique-Local', rfc: 'RFC 4193', reachable: false },
  {
    block: 'fe80::/10',
    kind: 'link-local',
    name: 'Link-Local Unicast',
    rfc: 'RFC 4291 §2.5.6',
    reachable: false,
  },
  {
    block: 'fec0::/10',
    kind: 'site-local',
    name: 'Deprecated site-local',
    rfc: 'RFC 3879',
    reachable: false,
  },
  { block: 'ff00::/8', kind: 'multicast', name: 'Multicast', rfc: 'RFC 4291 §2.7', reachable: false },
];
