import { expect } from 'chai';
import type { Fact } from '../facts/index.ts';
import { cleanText } from './clean.ts';
import { readText } from './recognise.ts';

/** A fact in a few words. */
function inShort(f: Fact): string {
  switch (f.kind) {
    case 'socket':
      return `${f.protocol} ${f.address}:${f.port} ${f.state}${f.peer ? ` to ${f.peer}:${f.peerPort}` : ''}`;
    case 'neighbour':
      return `${f.address} ${f.mac ?? 'nobody'} ${f.states.join()} ${f.dev ?? '-'}`;
    case 'name':
      return `${f.name} ${f.type} ${f.answers.join()}`;
    case 'route':
      return `${f.to} via ${f.hops[0]?.via ?? '-'} by ${f.hops[0]?.dev ?? '-'} metric ${f.metric}`;
    case 'interface':
      return `${f.name} ${f.adminUp ?? '?'} ${f.carrier ?? '?'}`;
    case 'noted':
    case 'program-setting':
    case 'unpublished-port':
    case 'kept-back':
    case 'outcome':
    case 'host-profile':
    case 'program-port':
      return `${f.kind === 'noted' ? f.topic : f.kind}: ${f.text}`;
    default:
      return f.kind;
  }
}
const read = (text: string, command?: string) => {
  const reading = readText(text, command);
  return {
    format: reading?.format ?? null,
    facts: (reading?.facts ?? []).map(inShort),
    problems: (reading?.problems ?? []).map(
      (p) => `${p.line} ${typeof p.why === 'string' ? p.why : p.why.is}`,
    ),
  };
};

type Row = readonly [
  title: string,
  text: string,
  format: string,
  facts: readonly string[],
  problems?: readonly string[],
];

const ROWS: readonly Row[] = [
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
    'Protocol      : TCP\nLocalPort     : 8211\nRemotePort    : Any\nIcmpType      : Any\nDynamicTarget : Any\n',
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
  [
    'containers: published, only exposed, stopped',
    'CONTAINER ID   IMAGE     COMMAND   CREATED      STATUS                   PORTS               ' +
      '     NAMES\n' +
      'ab12           moor:1    "run"     2 days ago   Up 2 days                8214/tcp            ' +
      '     moorhen\n' +
      'cd34           reef:1    "run"     2 days ago   Up 2 days                ' +
      '0.0.0.0:8211->8211/tcp   reef\n' +
      'ef56           old:1     "run"     3 days ago   Exited (0) 2 days ago                        ' +
      '     gone\n',
    'container-ports',
    [
      'unpublished-port: tcp 8214 of moorhen is not published',
      'published: tcp 8211 → reef:8211',
      'stopped: gone is stopped',
    ],
  ],
  [
    'containers of one project',
    'NAME      IMAGE    COMMAND   SERVICE   CREATED      STATUS      PORTS\n' +
      'moor-1    moor:1   "run"     moor      2 days ago   Up 2 days   0.0.0.0:8211->8211/tcp, ' +
      '8214/udp\n',
    'container-ports',
    ['published: tcp 8211 → moor-1:8211', 'unpublished-port: udp 8214 of moor-1 is not published'],
  ],
  [
    'a file of containers, its ports in every form',
    'services:\n' +
      '  moor:\n' +
      '    image: moor:1\n' +
      '    ports:\n' +
      '      - "8214:8214/udp" # the service\n' +
      '      - 127.0.0.1:9000:9000\n' +
      '      - 40000-40010:40000-40010\n' +
      '      - "80"\n' +
      '      - target: 80\n' +
      '        published: 8080\n' +
      '        protocol: tcp\n' +
      '      - ${PORT}:80\n' +
      '  quay:\n' +
      '    image: quay:1\n' +
      '    network_mode: host\n' +
      'volumes:\n' +
      '  moor:\n',
    'container-file',
    [
      'published: udp 8214 → moor:8214',
      'published: tcp 9000 → moor:9000',
      'published: tcp 40000-40010 → moor:40000-40010',
      'published: tcp a free port → moor:80',
      'published: tcp 8080 → moor:80',
      'sharesNetwork: quay uses the machine’s own network',
    ],
    ['12 container-ports'],
  ],
  [
    'settings in one line',
    'OptionSettings=(Difficulty=None,PublicPort=28410,PublicIP="203.0.113.50",ServerName="reef")\n',
    'launch-line',
    ['program-setting: PublicPort = 28410', 'program-setting: PublicIP = 203.0.113.50'],
  ],
  [
    'a command line',
    'reef.exe -Port=28410 -MultiHome=192.168.50.20 -log\n',
    'launch-line',
    ['program-setting: Port = 28410', 'program-setting: MultiHome = 192.168.50.20'],
  ],
  [
    'settings with a remark behind them, and in elements',
    '<Server>\n<Listen address="192.168.50.20" port="8211"/>\n<ControlPanelPort>8080</ControlPanelPort>\n</Server>\n',
    'program-config',
    ['program-setting: port = 8211', 'program-setting: ControlPanelPort = 8080'],
  ],
  [
    'sockets by the names of their addresses: numbers have to be asked for',
    '\n' +
      'Active Connections\n' +
      '\n' +
      '  Proto  Local Address          Foreign Address        State\n' +
      '  TCP    HERON:8211             HERON:0                LISTENING\n' +
      '  TCP    192.168.50.20:8211     198.51.100.23:50123    ESTABLISHED\n' +
      '  UDP    HERON:8214             *:*\n',
    'netstat',
    ['tcp 192.168.50.20:8211 ESTAB to 198.51.100.23:50123'],
    ['5 socket-names', '7 socket-names'],
  ],
  [
    'a try that failed and does not say how',
    'Connecting To 203.0.113.50...Could not open connection to the host, on port 8211: Connect failed\n',
    'connection-try',
    ['outcome: unknown', 'to: 203.0.113.50:8211', 'protocol: tcp'],
  ],
  [
    'the state of a tunnel is no table of rules',
    'interface: wg0\n' +
      '  public key: abc=\n' +
      '  listening port: 51820\n' +
      '\n' +
      'peer: def=\n' +
      '  endpoint: 198.51.100.23:40001\n' +
      '  allowed ips: 10.8.0.2/32\n',
    'tunnel-status',
    [
      'tunnelPort: wg0: 51820',
      'tunnelEnds: wg0 endpoint: 198.51.100.23:40001',
      'tunnel: wg0 allowed ips: 10.8.0.2/32',
    ],
  ],
  [
    'echoes that say that nobody is there are no answers',
    'Pinging 203.0.113.50 with 32 bytes of data:\n' +
      'Reply from 192.168.50.9: Destination host unreachable.\n' +
      'Reply from 203.0.113.50: bytes=32 time=9ms TTL=57\n' +
      '\n' +
      'Ping statistics for 203.0.113.50:\n' +
      '    Packets: Sent = 2, Received = 2, Lost = 0 (0% loss),\n',
    'ping',
    ['sent: 2', 'received: 1 of 2'],
  ],
];

describe('further outputs that people send', () => {
  for (const [title, text, format, facts, problems = []] of ROWS)
    it(title, () => expect(read(text)).to.deep.equal({ format, facts, problems }));

  it('mail that was answered and sent on is quoted twice', () =>
    expect(
      read(cleanText('> > Adapter\n> > WAN IP: 203.0.113.50\n> > LAN IP: 192.168.50.1\n')).facts,
    ).to.deep.equal(read('Adapter\nWAN IP: 203.0.113.50\nLAN IP: 192.168.50.1\n').facts));
});

describe('“nothing found” is an answer to what was asked', () => {
  const covers = (text: string, command: string): readonly string[] => readText(text, command)?.covers ?? [];
  const NO_RULES = '\nNo rules match the specified criteria.\n';
  const NO_SOCKETS =
    'Get-NetTCPConnection : No matching MSFT_NetTCPConnection objects found by CIM query for ' +
    'instances of the class on the CIM server: SELECT * FROM MSFT_NetTCPConnection WHERE ' +
    '((LocalPort = 8211)). Verify the value.\n';

  it('of all rows: none; of one name, or without the question: it proves nothing of the rest', () => {
    expect(covers(NO_RULES, 'netsh advfirewall firewall show rule name=all dir=in')).to.deep.equal([
      'host-rows',
    ]);
    expect(covers(NO_RULES, '')).to.deep.equal([]);
  });

  it('of one port, as the message itself says', () =>
    expect(covers(NO_SOCKETS, 'Get-NetTCPConnection -LocalPort 8211')).to.deep.equal([]));
});
