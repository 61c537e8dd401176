import { ALL_PROFILES, HEADING, ipconfig, page, profile, rows, server, windows } from '../pieces.ts';
import { netshRow } from '../printed.ts';
import type { Situation } from './situation.ts';

/** What programs say and do: mappings, what a restart changes, transfers, shared addresses. */
export const BY_PROGRAMS: readonly Situation[] = [
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
    then: new RegExp(
      String.raw`the next one goes to 192\.168\.50\.20:40002, an inside address, and TCP 40000–40010 ` +
        String.raw`does not get through`,
    ),
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
