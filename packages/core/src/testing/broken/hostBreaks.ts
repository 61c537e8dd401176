import {
  before,
  closed,
  INSIDE,
  isFiltered,
  isWindows,
  kept,
  other,
  own,
  without,
  type Break,
} from './break.ts';
import { withLast } from './lots.ts';

/** The ways to break the server itself, each told by what a person would have done. */
export const HOST_BREAKS: readonly Break[] = [
  // The server's own filter has no row for the service.
  {
    id: 'host-drop',
    stop: 'host',
    fits: isFiltered,
    break: (n) => (n.rules = without(n.rules, n)),
    tries: kept,
  },
  {
    id: 'host-scope',
    stop: 'host',
    // A relay hides who comes: its own address is the sender.
    fits: (n) => isFiltered(n) && n.relay === null,
    break: (n) =>
      (own(n.rules, n).source =
        n.surroundings === 'rented' ? n.stranger : `${withLast(n.server, () => 0)}/24`),
    tries: (n) => ({ client: 'lost', near: n.surroundings === 'rented' ? 'lost' : 'answered' }),
  },
  {
    id: 'host-profile',
    stop: 'host',
    fits: isWindows,
    break: (n) => (own(n.rules, n).profiles = 'Domain'),
    tries: kept,
  },
  {
    id: 'host-block-wins',
    stop: 'host',
    fits: isWindows,
    also: ['host-drop'],
    break: (n) => n.rules.push({ ...own(n.rules, n), name: 'refused once', action: 'deny' }),
    tries: kept,
  },
  {
    id: 'host-program',
    stop: 'host',
    fits: isWindows,
    break: (n) => (own(n.rules, n).program = `C:\\Old\\${n.service.program}.exe`),
    tries: kept,
  },
  { id: 'host-no-gateway', stop: 'host', at: INSIDE, break: (n) => (n.gateway = null), tries: before },
  {
    id: 'listen-none',
    stop: 'host',
    also: ['listen-port'],
    break: (n) => (n.listeners = without(n.listeners, n)),
    tries: closed,
  },
  {
    id: 'listen-loopback',
    stop: 'host',
    break: (n) => (own(n.listeners, n).at = '127.0.0.1'),
    tries: closed,
  },
  {
    id: 'listen-port',
    stop: 'host',
    break: (n) => (own(n.listeners, n).port += 10),
    also: ['listen-none'],
    tries: closed,
  },
  {
    id: 'listen-protocol',
    stop: 'host',
    also: ['listen-none'],
    break: (n) => (own(n.listeners, n).protocol = other(n)),
    tries: closed,
  },
];
