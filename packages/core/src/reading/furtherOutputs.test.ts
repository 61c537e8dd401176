import { expect } from 'chai';
import { readShort, type Output } from '../testing/index.ts';

const ROWS: readonly Output[] = [
  [
    'sockstat of FreeBSD',
    'USER     COMMAND    PID   FD PROTO  LOCAL ADDRESS         FOREIGN ADDRESS\n' +
      'moor     moorhen    812   5  tcp4   *:8211                *:*\n' +
      'moor     moorhen    812   6  udp46  *:8214                *:*\n' +
      'moor     moorhen    812   7  tcp4   192.168.50.20:8211    198.51.100.23:50123\n' +
      'moor     moorhen    812   8  tcp6   ::1:5432              *:*\n' +
      'moor     moorhen    812   9  tcp4   strange               *:*\n',
    'sockstat',
    [
      'tcp 0.0.0.0:8211 LISTEN',
      'udp *:8214 UNCONN',
      'tcp 192.168.50.20:8211 ESTAB to 198.51.100.23:50123',
      'tcp ::1:5432 LISTEN',
    ],
    ['6 socket-unreadable'],
  ],
  [
    // 8211 is 0x2013; the bytes of 192.168.50.20 stand from the last to the first.
    '/proc/net/tcp',
    '  sl  local_address rem_address   st tx_queue rx_queue tr tm->when retrnsmt   uid  timeout ' +
      'inode\n' +
      '   0: 00000000:2013 00000000:0000 0A 00000000:00000000 00:00000000 00000000  1000        0 ' +
      '18923 1 0000000000000000 100 0 0 10 0\n' +
      '   1: 1432A8C0:2013 176433C6:C3CB 01 00000000:00000000 00:00000000 00000000  1000        0 ' +
      '18999 1 0000000000000000 100 0 0 10 0\n',
    'proc-net',
    ['tcp 0.0.0.0:8211 LISTEN', 'tcp 192.168.50.20:8211 ESTAB to 198.51.100.23:50123'],
  ],
  [
    '/proc/net/tcp6: words of four bytes, each turned round',
    '  sl  local_address                         remote_address                        st ' +
      'tx_queue rx_queue tr tm->when retrnsmt   uid  timeout inode\n' +
      '   0: B80D0120000050000000000020000000:2013 00000000000000000000000000000000:0000 0A ' +
      '00000000:00000000 00:00000000 00000000  1000        0 18923 1 0000000000000000 100 0 0 10 0\n',
    'proc-net',
    ['tcp 2001:db8:50::20:8211 LISTEN'],
  ],
  [
    'arp of macOS: short parts of an address, nobody, a broadcast address',
    '? (192.168.50.1) at 2:0:5e:0:0:1 on en0 ifscope [ethernet]\n' +
      '? (192.168.50.9) at (incomplete) on en0 ifscope [ethernet]\n' +
      '? (192.168.50.255) at ff:ff:ff:ff:ff:ff on en0 ifscope [ethernet]\n',
    'arp',
    ['192.168.50.1 02:00:5e:00:00:01 STALE en0', '192.168.50.9 nobody INCOMPLETE en0'],
  ],
  [
    'arp of Linux',
    'Address                  HWtype  HWaddress           Flags Mask            Iface\n' +
      '192.168.50.20            ether   02:00:5e:00:00:20   C                     lan0\n' +
      '192.168.50.9                     (incomplete)                              lan0\n',
    'arp',
    ['192.168.50.20 02:00:5e:00:00:20 STALE lan0', '192.168.50.9 nobody INCOMPLETE lan0'],
  ],
  [
    'arp of Windows is a list of neighbours, and no table of leases',
    '\n' +
      'Interface: 192.168.50.20 --- 0xb\n' +
      '  Internet Address      Physical Address      Type\n' +
      '  192.168.50.1          02-00-5e-00-00-01     dynamic\n' +
      '  192.168.50.255        ff-ff-ff-ff-ff-ff     static\n' +
      '  224.0.0.22            01-00-5e-00-00-16     static\n',
    'arp',
    ['192.168.50.1 02:00:5e:00:00:01 STALE -'],
  ],
  [
    'neighbours as objects',
    'ifIndex IPAddress        LinkLayerAddress   State       PolicyStore\n' +
      '------- ---------        ----------------   -----       -----------\n' +
      '11      192.168.50.255   FF-FF-FF-FF-FF-FF  Permanent   ActiveStore\n' +
      '11      192.168.50.9     00-00-00-00-00-00  Unreachable ActiveStore\n' +
      '11      192.168.50.1     02-00-5E-00-00-01  Reachable   ActiveStore\n',
    'cmdlet-objects',
    ['192.168.50.9 nobody FAILED -', '192.168.50.1 02:00:5e:00:00:01 REACHABLE -'],
  ],
  [
    'adapters: no cable, switched off, up',
    'Name       InterfaceDescription       ifIndex Status       MacAddress         LinkSpeed\n' +
      '----       --------------------       ------- ------       ----------         ---------\n' +
      'Ethernet   Some adapter                    11 Disconnected 02-00-5E-00-00-20          0 bps\n' +
      'Wi-Fi      Some radio                      12 Up           02-00-5E-00-00-21        300 Mbps\n' +
      'Ethernet 2 Some adapter                    13 Disabled     02-00-5E-00-00-22          0 bps\n',
    'cmdlet-objects',
    ['Ethernet true false', 'Wi-Fi true true', 'Ethernet 2 false ?'],
  ],
  [
    'routes as objects: the own subnet is none',
    'ifIndex           : 11\n' +
      'DestinationPrefix : 0.0.0.0/0\n' +
      'NextHop           : 192.168.50.1\n' +
      'RouteMetric       : 0\n' +
      'ifMetric          : 25\n' +
      '\n' +
      'ifIndex           : 11\n' +
      'DestinationPrefix : 192.168.50.0/24\n' +
      'NextHop           : 0.0.0.0\n' +
      'RouteMetric       : 256\n' +
      'ifMetric          : 25\n',
    'cmdlet-objects',
    ['default via 192.168.50.1 by - metric 25'],
  ],
  [
    'the configuration of an interface',
    'InterfaceAlias       : Ethernet\n' +
      'InterfaceIndex       : 11\n' +
      'IPv4Address          : 192.168.50.20\n' +
      'IPv4DefaultGateway   : 192.168.50.1\n' +
      'DNSServer            : 192.168.50.1\n',
    'cmdlet-objects',
    ['localAddress: 192.168.50.20', 'default via 192.168.50.1 by Ethernet metric 0'],
  ],
  [
    'a name as objects: what the answer holds, not what came along',
    'Name                                           Type   TTL   Section    IPAddress\n' +
      '----                                           ----   ---   -------    ---------\n' +
      'play.example.net                               A      300   Answer     203.0.113.50\n' +
      'ns1.example.net                                A      300   Additional 192.0.2.53\n',
    'cmdlet-objects',
    ['play.example.net A 203.0.113.50'],
  ],
  [
    'ports of a row without the row',
    'Protocol      : TCP\nLocalPort     : 8211\nRemotePort    : Any\nIcmpType      : Any\n' +
      'DynamicTarget : Any\n',
    'cmdlet-objects',
    ['rowPart: TCP 8211'],
  ],
  [
    'states of profiles alone: what is off lets in, what is on is open',
    '\n' +
      'Domain Profile Settings: \n' +
      '----------------------------------------------------------------------\n' +
      'State                                 OFF\n' +
      '\n' +
      'Private Profile Settings: \n' +
      '----------------------------------------------------------------------\n' +
      'State                                 ON\n' +
      'Ok.\n',
    'netsh-rules',
    ['host-profile: profile domain: the host firewall is off'],
    ['6 profile-policy'],
  ],
  [
    'ports that the system keeps back',
    '\n' +
      'Protocol tcp Port Exclusion Ranges\n' +
      '\n' +
      'Start Port    End Port\n' +
      '----------    --------\n' +
      '      8200        8299\n' +
      '     50000       50059     *\n' +
      '\n' +
      '* - Administered port exclusions.\n',
    'excluded-ports',
    ['kept-back: tcp 8200-8299', 'kept-back: tcp 50000-50059'],
  ],
  [
    'route get of macOS',
    '   route to: default\n' +
      'destination: default\n' +
      '       mask: default\n' +
      '    gateway: 192.168.50.1\n' +
      '  interface: en0\n' +
      '      flags: <UP,GATEWAY,DONE,STATIC,PRCLONING,GLOBAL>\n',
    'route-get',
    ['to: default', 'dev: en0', 'default via 192.168.50.1 by en0 metric 0'],
  ],
  [
    'name servers of macOS',
    'DNS configuration\n' +
      '\n' +
      'resolver #1\n' +
      '  nameserver[0] : 192.168.50.1\n' +
      '  if_index : 11 (en0)\n' +
      '\n' +
      'resolver #2\n' +
      '  nameserver[0] : 192.168.50.1\n' +
      '  nameserver[1] : 9.9.9.9\n',
    'resolver-list',
    ['nameservers: 192.168.50.1, 9.9.9.9'],
  ],
  [
    'resolvectl query',
    'play.example.net: 203.0.113.50                 -- link: eth0\n' +
      '                  2001:db8:50::20              -- link: eth0\n' +
      '\n' +
      '-- Information acquired via protocol DNS in 12.3ms.\n' +
      '-- Data is authenticated: no\n',
    'resolved-query',
    ['play.example.net A 203.0.113.50', 'play.example.net AAAA 2001:db8:50::20'],
  ],
  [
    'getent ahosts',
    '203.0.113.50    STREAM play.example.net\n' +
      '203.0.113.50    DGRAM  \n' +
      '203.0.113.50    RAW    \n' +
      '2001:db8:50::20 STREAM \n',
    'host-database',
    ['play.example.net A 203.0.113.50', 'play.example.net AAAA 2001:db8:50::20'],
  ],
  [
    'a quoted row of an answer',
    'www.example.net. 300 IN CNAME play.example.net.\nplay.example.net. 300 IN A 203.0.113.52\n',
    'answer-row',
    ['www.example.net CNAME play.example.net', 'play.example.net A 203.0.113.52'],
  ],
];

describe('further outputs that people send of a system', () => {
  for (const [title, text, format, facts, problems = []] of ROWS)
    it(title, () => expect(readShort(text)).to.deep.equal({ format, facts, problems }));
});
