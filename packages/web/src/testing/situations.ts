import type { CaseDocument } from '@bright-ferry/core/case';
import { caseFromIntake, readComplaint } from '@bright-ferry/core/intake';
import {
  AFTER,
  ALL_OUT,
  ALL_PROFILES,
  ALLOWED_GROUP,
  BEFORE,
  DUET,
  HEADING,
  ipconfig,
  LINES,
  mapped,
  MAPPINGS,
  onPlover,
  page,
  PIANO,
  portal,
  PORTAL_SAYS,
  profile,
  REEF,
  rented,
  rows,
  RULES,
  server,
  windows,
  zoned,
  type Pieces,
} from './pieces.ts';
import { interfaces, listeners, netshRow, prompted, routes } from './printed.ts';

/**
 * What people send in the situations that the product has to master, as they send it: the complaint in one
 * line, and pieces in any order with the stop that each is from.
 */
export interface Situation {
  readonly title: string;
  readonly complaint: string;
  /** What the technician says of the way; missing: as a new case has it. */
  readonly way?: 'rented';
  /** Whether the technician says that the pieces are all that there is. */
  readonly whole?: true;
  readonly pieces: Pieces;
  /** What the headline says when all is in. */
  readonly seen: RegExp;
  /** What is warned of, in red. */
  readonly warned?: RegExp;
  /** What is said of the connection after the first one. */
  readonly then?: RegExp;
}

export const SITUATIONS: readonly Situation[] = [
  {
    title: 'a group that nobody knows the members of',
    complaint: 'tide warden, Ebbtide, tcp 5432, 203.0.113.60 from 198.51.100.23, times out',
    way: 'rented',
    seen: /Not known yet: .*who belongs to the group tide-members/,
    pieces: rented(ALLOWED_GROUP),
  },
  {
    title: 'a group that the client is not in',
    complaint: 'tide warden, Ebbtide, tcp 5432, 203.0.113.60 from 198.51.100.23, times out',
    way: 'rented',
    whole: true,
    seen: /Lost at the (?:cloud )?perimeter: .*tide-members/,
    pieces: rented(`${ALLOWED_GROUP}group tide-members: 10.4.0.20, 10.4.0.21\n`),
  },
  {
    title: 'forwards kept in a portal of which nobody has sent the list',
    complaint: DUET,
    seen: /Not known yet: .*the forwards are kept in the carrier’s portal, and its list is not known/,
    pieces: PIANO,
  },
  {
    title: 'a portal without the row for UDP',
    complaint: DUET,
    seen: /no forward takes UDP 4470|for port 4470 is for TCP only/,
    pieces: [...PIANO, portal(['duet', 'TCP', '4470', '192.168.40.23', '4470'])],
  },
  {
    title: 'a range in the portal that takes the port for another machine',
    complaint: 'reef captain, worked ten minutes, udp 28410, 203.0.113.50 from 198.51.100.23, times out',
    seen: /Not known yet: .*row “Recorder” claims the same port for 192\.168\.50\.44/,
    pieces: [
      PORTAL_SAYS,
      portal(
        ['Recorder', 'UDP', '28000-28500', '192.168.50.44', '28000-28500'],
        ['Lantern Reef', 'UDP', '28410', '192.168.50.20', '28410'],
      ),
      ['typed', 'WAN IP 203.0.113.50'],
      ['typed', 'LAN IP 192.168.50.1'],
      ...server('192.168.50.20/24', '192.168.50.1', 'udp 0.0.0.0:28410 lanternd'),
    ],
  },
  {
    title: 'lines of translations, from outside',
    complaint: 'archivist, the archive, 203.0.113.52 tcp 8300 from 198.51.100.23, times out',
    seen: /Answered: archived/,
    pieces: LINES,
  },
  {
    title: 'lines of translations, from inside by the outside address',
    complaint: 'archivist, the archive, 203.0.113.52 tcp 8300 from 192.168.50.77, times out',
    seen: /at the gateway: .*turn/,
    pieces: LINES,
  },
  {
    title: 'allowed, and not translated',
    complaint: 'Lantern Reef players, udp+tcp 28410, 203.0.113.50 from 198.51.100.23, times out',
    seen: /Lost at the gateway: (TCP|UDP) 28410 is allowed by rule “reef”, and nothing translates it/,
    pieces: zoned(BEFORE, [
      'reef',
      'outside',
      'outside',
      'any',
      '203.0.113.50',
      'tcp+udp 28410',
      'allow',
      'on',
    ]),
  },
  {
    title: 'a rule for the address behind the translation',
    complaint: 'Lantern Reef players, udp+tcp 28410, 203.0.113.50 from 198.51.100.23, times out',
    seen: /Lost at the gateway: its rule “reef” names 192\.168\.50\.20, and this firewall sees 203\.0\.113\.50 there/,
    pieces: zoned(
      BEFORE,
      ['reef', 'outside', 'outside', 'any', '192.168.50.20', 'tcp+udp 28410', 'allow', 'on'],
      REEF,
    ),
  },
  {
    title: 'a rule for the zone before the translation',
    complaint: 'Lantern Reef players, udp+tcp 28410, 203.0.113.50 from 198.51.100.23, times out',
    seen: /Lost at the gateway: its rule “reef” names zone outside, and this firewall sees inside there/,
    pieces: zoned(
      AFTER,
      ['reef', 'outside', 'outside', 'any', '192.168.50.20', 'tcp+udp 28410', 'allow', 'on'],
      REEF,
    ),
  },
  {
    title: 'a guest who dials the outside address, turned round and not allowed',
    complaint: 'guest, udp+tcp 28410, 203.0.113.50 from 192.168.60.15, times out',
    seen: /Lost at the gateway: no rule lets (TCP|UDP) 28410 through from zone guests to zone inside/,
    pieces: [
      ...zoned(
        AFTER,
        ['reef', 'outside', 'inside', 'any', '192.168.50.20', 'tcp+udp 28410', 'allow', 'on'],
        REEF,
      ),
      ['gateway', 'Hairpin: on\n'],
    ],
  },
  {
    title: 'a guest who dials the outside address, not turned round',
    complaint: 'guest, udp+tcp 28410, 203.0.113.50 from 192.168.60.15, times out',
    seen: /at the gateway: .*turn/,
    pieces: [
      ...zoned(
        AFTER,
        ['reef', 'outside', 'inside', 'any', '192.168.50.20', 'tcp+udp 28410', 'allow', 'on'],
        REEF,
      ),
      ['gateway', 'Hairpin: off\n'],
    ],
  },
  {
    title: 'a rule that names a mapping',
    complaint: 'hall office, www.gannet.example.net tcp 80 from 198.51.100.23, times out',
    seen: /Answered: pages/,
    pieces: mapped('203.0.113.52', '192.168.50.20'),
  },
  {
    title: 'a mapping with its sides exchanged',
    complaint: 'hall office, www.gannet.example.net tcp 80 from 198.51.100.23, times out',
    seen: /Lost at the gateway: WEB-MAP has an inside address, 192\.168\.50\.20, as its outside one/,
    pieces: mapped('192.168.50.20', '203.0.113.52'),
  },
  {
    title: 'digits swapped between rule and mapping',
    complaint: 'web keeper, tcp 443, 203.0.113.120 from 198.51.100.23, times out',
    seen: /Lost at the gateway: its rule “ebbtide” allows 192\.168\.90\.12, two digits swapped, and mapping “ebbtide” leads to 192\.168\.90\.21/,
    pieces: [
      page(MAPPINGS, ['ebbtide', '203.0.113.120', '192.168.90.21', 'both ways']),
      page(
        RULES,
        ['ebbtide', 'outside', 'inside', 'any', '192.168.90.12', 'tcp 443', 'allow', 'on'],
        ALL_OUT,
      ),
      ['typed', 'WAN IP 203.0.113.114/28'],
      ...server('192.168.90.21/24', '192.168.90.1', 'tcp 0.0.0.0:443 pages'),
    ],
  },
  {
    title: 'digits swapped in the mapping',
    complaint: 'web keeper, tcp 443, 203.0.113.120 from 198.51.100.23, times out',
    seen: /Lost at the gateway: mapping “ebbtide” leads to 192\.168\.90\.12, two digits swapped, and the server is 192\.168\.90\.21/,
    pieces: [
      page(MAPPINGS, ['ebbtide', '203.0.113.120', '192.168.90.12', 'both ways']),
      page(
        RULES,
        ['ebbtide', 'outside', 'inside', 'any', '192.168.90.21', 'tcp 443', 'allow', 'on'],
        ALL_OUT,
      ),
      ['typed', 'WAN IP 203.0.113.114/28'],
      ...server('192.168.90.21/24', '192.168.90.1', 'tcp 0.0.0.0:443 pages'),
    ],
  },
  {
    title: 'three rows for a recorder, one not applied',
    complaint:
      'the recorder cannot be watched, tcp 8100, udp 8101, 8102 both, 203.0.113.50 from 198.51.100.23, times out',
    seen: /Lost at the gateway: the forward for tcp\+udp 8102 was entered and never applied/,
    pieces: [
      page(
        ['Port forwards'],
        ['Name', 'Protocol', 'Outside port', 'Device', 'Inside port', 'State'],
        ['rec web', 'TCP', '8100', 'recorder', '8100', 'active'],
        ['rec video', 'UDP', '8101', 'recorder', '8101', 'active'],
        ['rec talk', 'TCP & UDP', '8102', 'recorder', '8102', 'saved, not applied'],
      ),
      page(
        ['Device list'],
        ['Name', 'IP address', 'MAC address'],
        ['heron', '192.168.50.20', '02:48:4E:00:00:20'],
        ['recorder', '192.168.50.40', '02:48:4E:00:00:40'],
      ),
      [
        'server',
        'Network\nIP address\t192.168.50.40\nSubnet mask\t255.255.255.0\nGateway\t192.168.50.1\nDHCP\tOn\n',
      ],
      ['typed', 'WAN IP 203.0.113.50'],
    ],
  },
  {
    title: 'two routers in a row, and a semicolon',
    complaint: 'camera club types 203.0.113.50;8080 from 198.51.100.23, tcp, times out',
    seen: /Not known yet: the outside address of the second gateway is not known/,
    pieces: [
      page(
        ['Internet'],
        ['WAN IP', '192.168.1.2'],
        ['Subnet mask', '255.255.255.0'],
        ['Default gateway', '192.168.1.1'],
        ['Connection type', 'DHCP'],
        ['LAN IP', '192.168.50.1'],
      ),
      page(HEADING, ['web', 'TCP', '8080', '192.168.50.20', '80 (HTTP)']),
      ...server('192.168.50.20/24', '192.168.50.1', 'tcp 0.0.0.0:80 pages'),
    ],
  },
  {
    title: 'the link of the server is down',
    complaint:
      'Ebbtide, tcp 5432, 203.0.113.62 from 198.51.100.23, nothing since the rack was moved, times out',
    seen: /at the server: eno1 has no link/,
    pieces: [
      onPlover('ip addr', interfaces({ wan0: ['203.0.113.62/24'], lan7: ['192.168.70.1/24'] })),
      onPlover(
        'ip route',
        `${routes('203.0.113.1', 'wan0', '203.0.113.62/24')}192.168.70.0/24 dev lan7 proto kernel ` +
          'scope link src 192.168.70.1\n',
      ),
      onPlover(
        'nft list ruleset',
        'table inet nat {\n' +
          '\tchain pre {\n' +
          '\t\ttype nat hook prerouting priority dstnat; policy accept;\n' +
          '\t\tiifname "wan0" tcp dport 5432 dnat ip to 192.168.70.10\n' +
          '\t}\n' +
          '\tchain post {\n' +
          '\t\ttype nat hook postrouting priority srcnat; policy accept;\n' +
          '\t\toifname "wan0" masquerade\n' +
          '\t}\n' +
          '}\n',
      ),
      onPlover('sysctl net.ipv4.ip_forward', 'net.ipv4.ip_forward = 1\n'),
      onPlover(
        'ip neigh',
        '203.0.113.1 dev wan0 lladdr 02:00:5e:00:00:fe REACHABLE\n192.168.70.10 dev lan7 FAILED\n',
      ),
      ['server', prompted('anna@ebb', 'ip addr', interfaces({ eno1: ['192.168.70.10/24'] }, false))],
      [
        'server',
        prompted(
          'anna@ebb',
          'ip route',
          'default via 192.168.70.1 dev eno1 linkdown\n' +
            '192.168.70.0/24 dev eno1 proto kernel scope link src 192.168.70.10 linkdown\n',
        ),
      ],
    ],
  },
  {
    title: 'a Windows row for the local subnet',
    complaint: 'radio listener, tcp 444, 203.0.113.51 from 198.51.100.23, inside it works, times out',
    seen: /Lost at the server: its row “Gullcast relay” allows 192\.168\.50\.0\/24, and the client is 198\.51\.100\.23/,
    pieces: [
      ipconfig('HALL-PC', '192.168.50.20'),
      rows(netshRow({ name: 'Gullcast relay', from: 'LocalSubnet', port: 444, action: 'Allow' })),
      ALL_PROFILES,
      profile('Private'),
      windows(
        'netstat -abno',
        '\n' +
          'Active Connections\n' +
          '\n' +
          '  Proto  Local Address          Foreign Address        State           PID\n' +
          '  TCP    0.0.0.0:444            0.0.0.0:0              LISTENING       2044\n' +
          ' [gullcast.exe]\n' +
          '  TCP    0.0.0.0:135            0.0.0.0:0              LISTENING       900\n' +
          ' [svchost.exe]\n',
      ),
      windows(
        'route print -4',
        '===========================================================================\n' +
          'Interface List\n' +
          ' 12...02 48 4e 00 00 20 ......Ethernet\n' +
          '  1...........................Software Loopback Interface 1\n' +
          '===========================================================================\n' +
          '\n' +
          'IPv4 Route Table\n' +
          '===========================================================================\n' +
          'Active Routes:\n' +
          'Network Destination        Netmask          Gateway       Interface  Metric\n' +
          '          0.0.0.0          0.0.0.0     192.168.50.1    192.168.50.20     25\n' +
          '        127.0.0.0        255.0.0.0         On-link         127.0.0.1    331\n' +
          '     192.168.50.0    255.255.255.0         On-link     192.168.50.20    281\n' +
          '    192.168.50.20  255.255.255.255         On-link     192.168.50.20    281\n' +
          '===========================================================================\n' +
          'Persistent Routes:\n' +
          '  None\n',
      ),
      page(HEADING, ['radio', 'TCP', '444', '192.168.50.20', '444']),
      ['typed', 'WAN IP 203.0.113.51'],
      ['typed', 'LAN IP 192.168.50.1'],
    ],
  },
  {
    title: 'a rule that names the outside address',
    complaint: 'radio engineer ssh tcp 22 to 203.0.113.65 from 198.51.100.23, times out',
    seen: /Lost at the gateway: the rule for TCP 22 names 203\.0\.113\.65; where it stands the packet is for 192\.168\.80\.12 already/,
    pieces: [
      onPlover(
        'ip addr; ip route',
        `${interfaces({ eth0: ['203.0.113.64/28', '203.0.113.65/28'], eth1: ['192.168.80.1/24'] })}default ` +
          'via 203.0.113.78 dev eth0\n' +
          '203.0.113.64/28 dev eth0 proto kernel scope link src 203.0.113.64\n' +
          '192.168.80.0/24 dev eth1 proto kernel scope link src 192.168.80.1\n',
      ),
      onPlover(
        'iptables-save',
        '# Generated by iptables-save v1.8.9 on Tue Nov 24 02:59:52 2026\n' +
          '*nat\n' +
          ':PREROUTING ACCEPT [0:0]\n' +
          ':INPUT ACCEPT [0:0]\n' +
          ':OUTPUT ACCEPT [0:0]\n' +
          ':POSTROUTING ACCEPT [0:0]\n' +
          '-A PREROUTING -d 203.0.113.65/32 -i eth0 -p tcp -m tcp --dport 22 -j DNAT --to-destination ' +
          '192.168.80.12\n' +
          '-A POSTROUTING -o eth0 -j MASQUERADE\n' +
          'COMMIT\n' +
          '# Completed on Tue Nov 24 02:59:52 2026\n' +
          '# Generated by iptables-save v1.8.9 on Tue Nov 24 02:59:52 2026\n' +
          '*filter\n' +
          ':INPUT DROP [0:0]\n' +
          ':FORWARD DROP [0:0]\n' +
          ':OUTPUT ACCEPT [0:0]\n' +
          '-A INPUT -m conntrack --ctstate RELATED,ESTABLISHED -j ACCEPT\n' +
          '-A INPUT -d 203.0.113.64/32 -p tcp -m tcp --dport 22 -j ACCEPT\n' +
          '-A FORWARD -m conntrack --ctstate RELATED,ESTABLISHED -j ACCEPT\n' +
          '-A FORWARD -d 203.0.113.65/32 -i eth0 -p tcp -m tcp --dport 22 -j ACCEPT\n' +
          'COMMIT\n' +
          '# Completed on Tue Nov 24 02:59:52 2026\n',
      ),
      onPlover('ss -tulpn', listeners('tcp 203.0.113.64:22 sshd')),
      onPlover('sysctl net.ipv4.ip_forward', 'net.ipv4.ip_forward = 1\n'),
      ...server('192.168.80.12/24', '192.168.80.1', 'tcp 0.0.0.0:22 sshd'),
    ],
  },
  {
    title: 'a row bound to the other line',
    complaint: 'gauge reader, tcp 123, 203.0.113.70 from 198.51.100.23, times out',
    seen: /Lost at the gateway: the forward for TCP 123 is bound to 203\.0\.113\.66, and 203\.0\.113\.70 was dialled/,
    pieces: [
      page(
        [...HEADING, 'Allowed from', 'Line'],
        ['gauge', 'TCP', '123', '192.168.20.4', '23', '198.51.100.0/24', 'WAN1'],
      ),
      page(
        ['Interface', 'Address', 'Mask', 'State'],
        ['WAN1', '203.0.113.66', '255.255.255.252', 'up'],
        ['WAN2', '203.0.113.70', '255.255.255.252', 'up'],
        ['LAN', '192.168.20.1', '255.255.255.0', 'up'],
      ),
      ...server('192.168.20.4/24', '192.168.20.1', 'tcp 0.0.0.0:23 gauged'),
    ],
  },
  {
    title: 'a restart that is due, beside a mapping of the program',
    complaint: 'Lantern Reef players, tcp+udp 28410, play.gannet.example.net from 198.51.100.23, times out',
    seen: /Lost at the gateway: the forward for tcp 28410 is on, and waits for a restart of the device/,
    pieces: [
      page(
        [...HEADING, 'State'],
        ['reef', 'TCP', '28410', '192.168.50.20', '28410', 'enabled, restart required'],
      ),
      page(
        ['Mappings asked for by programs'],
        ['Protocol', 'External port', 'Internal address', 'Internal port', 'Description', 'Seconds left'],
        ['UDP', '28410', '192.168.50.20', '28410', 'lantern reef', '341'],
      ),
      ['typed', 'WAN IP 203.0.113.50'],
      ['typed', 'LAN IP 192.168.50.1'],
      [
        'client',
        '$ dig play.gannet.example.net A\n' +
          '\n' +
          '; <<>> DiG 9.18.24 <<>> play.gannet.example.net A\n' +
          ';; ->>HEADER<<- opcode: QUERY, status: NOERROR, id: 4711\n' +
          '\n' +
          ';; QUESTION SECTION:\n' +
          ';play.gannet.example.net.\tIN\tA\n' +
          '\n' +
          ';; ANSWER SECTION:\n' +
          'play.gannet.example.net.\t300\tIN\tA\t203.0.113.50\n',
      ],
      ...server(
        '192.168.50.20/24',
        '192.168.50.1',
        'tcp 0.0.0.0:28410 lanternd',
        'udp 0.0.0.0:28410 lanternd',
      ),
    ],
  },
  {
    title: 'administration open to everyone',
    complaint: 'strangers get on, tcp 3389, 203.0.113.50 from 198.51.100.23',
    seen: /Answered: rdpd/,
    warned: /Remote administration is open to everyone.*192\.168\.30\.10 is an exposed host/,
    pieces: [
      page(
        [...HEADING, 'Source'],
        ['remote', 'TCP', '3389', '192.168.30.10', '3389', ''],
        ['hall', 'TCP', '8000-8010', '192.168.30.20', '8000-8010', '198.51.100.0/24'],
      ),
      page(
        ['Security'],
        ['Exposed host', '192.168.30.10'],
        ['Remote administration', 'Off'],
        ['WAN IP', '203.0.113.50'],
        ['LAN IP', '192.168.30.1'],
      ),
      ...server('192.168.30.10/24', '192.168.30.1', 'tcp 0.0.0.0:3389 rdpd'),
    ],
  },
  {
    title: 'a file transfer that sends its client to an inside address',
    complaint:
      'photographer, logs in, then the listing of the folder hangs, tcp 21, 203.0.113.50 from 198.51.100.23',
    seen: /Answered: transferd/,
    then: /the next one goes to 192\.168\.50\.20:40002, an inside address, and TCP 40000–40010 does not get through/,
    pieces: [
      page(
        HEADING,
        ['web', 'TCP', '80', '192.168.50.20', '80'],
        ['files', 'TCP', '21', '192.168.50.20', '21'],
      ),
      page(['Internet'], ['WAN IP', '203.0.113.50'], ['LAN IP', '192.168.50.1']),
      [
        'server',
        'listen=YES\n' +
          'listen_port=21\n' +
          'pasv_enable=YES\n' +
          'pasv_min_port=40000\n' +
          'pasv_max_port=40010\n' +
          'pasv_address=192.168.50.20\n',
      ],
      [
        'server',
        '220 Welcome to the picture box.\n' +
          '331 Please specify the password.\n' +
          '230 Login successful.\n' +
          '227 Entering Passive Mode (192,168,50,20,156,66).\n',
      ],
      ...server('192.168.50.20/24', '192.168.50.1', 'tcp 0.0.0.0:21 transferd', 'tcp 0.0.0.0:80 webd'),
    ],
  },
  {
    title: 'a shared address',
    complaint: 'islander, friends get nothing, udp 22222, 203.0.113.90 from 198.51.100.23',
    seen: /Lost at the carrier: .*100\.72\.14\.9, is shared by the carrier/,
    pieces: [
      page(
        ['Internet'],
        ['WAN IP address', '100.72.14.9'],
        ['Subnet mask', '255.255.192.0'],
        ['LAN IP', '192.168.50.1'],
      ),
      ['typed', 'address seen from outside 203.0.113.90'],
      page(HEADING, ['game', 'UDP', '22222', '192.168.50.20', '22222']),
      ...server('192.168.50.20/24', '192.168.50.1', 'udp 0.0.0.0:22222 gamed'),
    ],
  },
  {
    title: 'a block beats an allow',
    complaint: 'tide book, tcp 5432, from 192.168.50.77 to 192.168.50.31, times out',
    seen: /Lost at the server: its row “Ebbtide public” blocks TCP 5432, and a row that blocks wins/,
    pieces: [
      ipconfig('TIDE', '192.168.50.31'),
      windows(
        'netstat -abn',
        '\n' +
          'Active Connections\n' +
          '\n' +
          '  Proto  Local Address          Foreign Address        State\n' +
          '  TCP    0.0.0.0:5432           0.0.0.0:0              LISTENING\n' +
          ' [postgres.exe]\n' +
          '  TCP    0.0.0.0:445            0.0.0.0:0              LISTENING\n',
      ),
      profile('Public'),
      rows(
        netshRow({ name: 'Ebbtide public', profiles: 'Public', port: 5432, action: 'Block' }),
        netshRow({ name: 'Ebbtide', profiles: 'Private,Public', port: 5432, action: 'Allow' }),
      ),
      ALL_PROFILES,
    ],
  },
];

/** The case that the complaint of a situation opens, with the way that the technician says. */
export function openedBy({ complaint, way }: Situation, now: string): CaseDocument {
  const document = caseFromIntake(readComplaint(complaint), now);
  return way === undefined
    ? document
    : {
        ...document,
        path: document.path.map((s) => (s.role === 'gateway' ? { id: 'edge', role: 'edge' as const } : s)),
      };
}
