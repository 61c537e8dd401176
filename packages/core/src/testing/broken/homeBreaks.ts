import {
  AT_HOME,
  before,
  HOME,
  INSIDE,
  isFiltered,
  OFFICE,
  other,
  own,
  without,
  type Break,
} from './break.ts';
import { withLast } from './lots.ts';

/** The ways to break what a client dials, its line, and the forwards of a router at home. */
export const HOME_BREAKS: readonly Break[] = [
  // Somebody gave the client the address that the server has inside.
  {
    id: 'dial-private',
    stop: 'client',
    at: INSIDE,
    fits: (n) => n.name === null,
    break: (n) => (n.answer = n.server),
    tries: before,
  },
  // The outside address changed, and the name was not told.
  {
    id: 'name-stale',
    stop: 'client',
    at: ['home', 'doubled', 'rented'],
    fits: (n) => n.name !== null,
    also: ['wan-changed'],
    stops: ['client', 'carrier', 'gateway'],
    break: (n) => (n.answer = withLast(n.answer, (last) => last + 30)),
    tries: before,
  },
  // The carrier has moved the line behind its own translation.
  {
    id: 'carrier-shared',
    stop: 'carrier',
    at: AT_HOME,
    stops: ['carrier', 'outer', 'gateway'],
    break: (n) => ((n.outer ?? n).wan = '100.72.14.9'),
    tries: before,
  },
  // The row was never made.
  { id: 'fwd-none', stop: 'gateway', at: HOME, break: (n) => (n.rows = without(n.rows, n)), tries: before },
  {
    id: 'fwd-disabled',
    stop: 'gateway',
    at: AT_HOME,
    break: (n) => (own(n.rows, n).enabled = false),
    tries: before,
  },
  {
    id: 'fwd-protocol',
    stop: 'gateway',
    at: AT_HOME,
    break: (n) => (own(n.rows, n).protocol = other(n)),
    tries: before,
  },
  // A slip of the finger in the outer port.
  {
    id: 'fwd-outside-port',
    stop: 'gateway',
    at: AT_HOME,
    also: ['fwd-none', 'inner-missing', 'fwd-inside-port'],
    break: (n) => (own(n.rows, n).port += 1),
    tries: before,
  },
  {
    id: 'fwd-inside-port',
    stop: 'gateway',
    at: AT_HOME,
    break: (n) => (own(n.rows, n).toPort += 1),
    tries: (n) => ({ client: isFiltered(n) ? 'lost' : 'refused', near: 'answered' }),
  },
  // The server has another lease than when the row was made.
  {
    id: 'fwd-target-stale',
    stop: 'gateway',
    at: AT_HOME,
    also: ['fwd-target-typo', 'host-moved'],
    stops: ['gateway', 'host'],
    break: (n) => (own(n.rows, n).to = withLast(n.server, (last) => last + 120)),
    tries: before,
  },
  {
    id: 'fwd-target-device',
    stop: 'gateway',
    at: AT_HOME,
    also: ['fwd-target-stale', 'fwd-target-typo'],
    break: (n) => (own(n.rows, n).to = n.others['printer'] ?? ''),
    tries: before,
  },
  {
    id: 'fwd-source',
    stop: 'gateway',
    at: AT_HOME,
    break: (n) => (own(n.rows, n).source = n.stranger),
    tries: before,
  },
  // The mapping of the whole address was switched off.
  {
    id: 'fwd-disabled',
    stop: 'gateway',
    at: OFFICE,
    also: ['translate-missing', 'fwd-none'],
    break: (n) => (n.mapping.enabled = false),
    tries: before,
  },
];
