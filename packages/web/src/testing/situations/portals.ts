import { ALLOWED_GROUP, DUET, PIANO, portal, PORTAL_SAYS, rented, server } from '../pieces.ts';
import type { Situation } from './situation.ts';

/** A server with a provider, whose groups and portals decide. */
export const RENTED_OUT: readonly Situation[] = [
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
];
