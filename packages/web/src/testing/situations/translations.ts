import {
  AFTER,
  ALL_OUT,
  BEFORE,
  LINES,
  mapped,
  MAPPINGS,
  page,
  REEF,
  RULES,
  server,
  zoned,
} from '../pieces.ts';
import type { Situation } from './situation.ts';

/** Routers whose rules and translations refer to each other, zones among them. */
export const TRANSLATED: readonly Situation[] = [
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
    seen: new RegExp(
      String.raw`Lost at the gateway: its rule “reef” names 192\.168\.50\.20, and this firewall sees ` +
        String.raw`203\.0\.113\.50 there`,
    ),
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
    seen: new RegExp(
      String.raw`Lost at the gateway: its rule “ebbtide” allows 192\.168\.90\.12, two digits ` +
        String.raw`swapped, and mapping “ebbtide” leads to 192\.168\.90\.21`,
    ),
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
    seen: new RegExp(
      String.raw`Lost at the gateway: mapping “ebbtide” leads to 192\.168\.90\.12, two digits ` +
        String.raw`swapped, and the server is 192\.168\.90\.21`,
    ),
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
      'the recorder cannot be watched, tcp 8100, udp 8101, 8102 both, 203.0.113.50 from ' +
      '198.51.100.23, times out',
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
];
