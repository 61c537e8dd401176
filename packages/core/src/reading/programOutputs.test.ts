import { expect } from 'chai';
import { readShort, type Output } from '../testing/index.ts';
import { cleanText } from './clean.ts';

const ROWS: readonly Output[] = [
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
    '<Server>\n<Listen address="192.168.50.20" port="8211"/>\n' +
      '<ControlPanelPort>8080</ControlPanelPort>\n</Server>\n',
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

describe('further outputs that people send of a program', () => {
  for (const [title, text, format, facts, problems = []] of ROWS)
    it(title, () => expect(readShort(text)).to.deep.equal({ format, facts, problems }));

  it('mail that was answered and sent on is quoted twice', () =>
    expect(
      readShort(cleanText('> > Adapter\n> > WAN IP: 203.0.113.50\n> > LAN IP: 192.168.50.1\n')).facts,
    ).to.deep.equal(readShort('Adapter\nWAN IP: 203.0.113.50\nLAN IP: 192.168.50.1\n').facts));
});
