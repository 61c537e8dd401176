import {
  ALL_PROFILES,
  HEADING,
  ipconfig,
  onPlover,
  page,
  profile,
  rows,
  server,
  windows,
} from '../pieces.ts';
import { interfaces, listeners, netshRow, prompted, routes } from '../printed.ts';
import type { Situation } from './situation.ts';

/** Machines in a house: two routers, links, and the rows of a machine’s own firewall. */
export const ON_MACHINES: readonly Situation[] = [
  {
    title: 'two routers in a row, and a semicolon',
    complaint: 'camera club types 203.0.113.50;8080 from 198.51.100.23, tcp, times out',
    seen: /Not known yet: the forwards of the second gateway/,
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
    seen: new RegExp(
      String.raw`Lost at the server: its row “Gullcast relay” allows 192\.168\.50\.0\/24, and the ` +
        String.raw`client is 198\.51\.100\.23`,
    ),
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
    seen: new RegExp(
      String.raw`Lost at the gateway: the rule for TCP 22 names 203\.0\.113\.65; where it stands the ` +
        String.raw`packet is for 192\.168\.80\.12 already`,
    ),
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
    seen: new RegExp(
      String.raw`Lost at the gateway: the forward for TCP 123 is bound to 203\.0\.113\.66, and ` +
        String.raw`203\.0\.113\.70 was dialled`,
    ),
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
];
