import type { FaultId } from '../../faults/index.ts';
import {
  withLast,
  type FilterRow,
  type Lease,
  type Listener,
  type Network,
  type Row,
  type Surroundings,
} from './network.ts';

/** What tries show once a network is broken so. */
interface Tries {
  /** At the client. */
  readonly client: 'lost' | 'refused';
  /** From another machine beside the server. */
  readonly near: 'answered' | 'lost' | 'refused';
}

export interface Break {
  readonly id: FaultId;
  readonly stop: 'client' | 'carrier' | 'relay' | 'gateway' | 'edge' | 'host';
  /** Where it can be; missing: everywhere. */
  readonly at?: readonly Surroundings[];
  /** Ids that say the same of such a network. */
  readonly also?: readonly FaultId[];
  /** Stops that may as well be blamed for it. */
  readonly stops?: readonly string[];
  /** Whether a network can be broken so; missing: every one. */
  readonly fits?: (n: Network) => boolean;
  readonly break: (n: Network) => void;
  readonly tries: (n: Network) => Tries;
}

const own = <T extends Row | FilterRow | Listener>(list: readonly T[], n: Network): T => {
  const row = list.find((r) => r.port === n.service.port);
  if (!row) throw new Error('a working network has its own row');
  return row;
};
const without = <T extends { port: number }>(list: readonly T[], n: Network): T[] =>
  list.filter((r) => r.port !== n.service.port);
const other = (n: Network): 'tcp' | 'udp' => (n.service.protocol === 'tcp' ? 'udp' : 'tcp');

/** Silence at the client, and all is well beside the server. */
const before = (): Tries => ({ client: 'lost', near: 'answered' });
/** A filter of the server is in the way of everybody. */
const kept = (): Tries => ({ client: 'lost', near: 'lost' });
/** A port that nothing listens on is refused; Windows keeps silent about it (its firewall is on). */
const closed = ({ system }: Network): Tries =>
  system === 'windows' ? { client: 'lost', near: 'lost' } : { client: 'refused', near: 'refused' };
const isFiltered = (n: Network): boolean => n.system !== 'mac';
const isWindows = (n: Network): boolean => n.system === 'windows';

const HOME = ['home'] as const;
const OFFICE = ['office'] as const;
const RENTED = ['rented'] as const;
const INSIDE = ['home', 'office'] as const;
const RELAYED = ['relayed'] as const;
const lease = ({ relay }: Network): Lease => {
  const own = relay?.leases.find((l) => l.to === relay.end);
  if (!own) throw new Error('a working network has its own lease');
  return own;
};

/** The ways to break a network, each told by what a person would have done. */
export const BREAKS: readonly Break[] = [
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
    at: ['home', 'rented'],
    fits: (n) => n.name !== null,
    also: ['wan-changed'],
    stops: ['client', 'carrier', 'gateway'],
    break: (n) => (n.answer = withLast(n.wan, (last) => last + 30)),
    tries: before,
  },
  // The carrier has moved the line behind its own translation.
  {
    id: 'carrier-shared',
    stop: 'carrier',
    at: HOME,
    stops: ['carrier', 'gateway'],
    break: (n) => (n.wan = '100.72.14.9'),
    tries: before,
  },
  // The row was never made.
  { id: 'fwd-none', stop: 'gateway', at: HOME, break: (n) => (n.rows = without(n.rows, n)), tries: before },
  {
    id: 'fwd-disabled',
    stop: 'gateway',
    at: HOME,
    break: (n) => (own(n.rows, n).enabled = false),
    tries: before,
  },
  {
    id: 'fwd-protocol',
    stop: 'gateway',
    at: HOME,
    break: (n) => (own(n.rows, n).protocol = other(n)),
    tries: before,
  },
  // A slip of the finger in the outer port.
  {
    id: 'fwd-outside-port',
    stop: 'gateway',
    at: HOME,
    also: ['fwd-none', 'fwd-inside-port'],
    break: (n) => (own(n.rows, n).port += 1),
    tries: before,
  },
  {
    id: 'fwd-inside-port',
    stop: 'gateway',
    at: HOME,
    break: (n) => (own(n.rows, n).toPort += 1),
    tries: (n) => ({ client: isFiltered(n) ? 'lost' : 'refused', near: 'answered' }),
  },
  // The server has another lease than when the row was made.
  {
    id: 'fwd-target-stale',
    stop: 'gateway',
    at: HOME,
    also: ['fwd-target-typo', 'host-moved'],
    stops: ['gateway', 'host'],
    break: (n) => (own(n.rows, n).to = withLast(n.server, (last) => last + 120)),
    tries: before,
  },
  {
    id: 'fwd-target-device',
    stop: 'gateway',
    at: HOME,
    also: ['fwd-target-stale', 'fwd-target-typo'],
    break: (n) => (own(n.rows, n).to = n.others['printer'] ?? ''),
    tries: before,
  },
  {
    id: 'fwd-source',
    stop: 'gateway',
    at: HOME,
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
  {
    id: 'static-inside-out',
    stop: 'gateway',
    at: OFFICE,
    break: (n) => (n.mapping = { ...n.mapping, outside: n.mapping.inside, inside: n.mapping.outside }),
    tries: before,
  },
  {
    id: 'filter-missing',
    stop: 'gateway',
    at: OFFICE,
    also: ['filter-zone'],
    break: (n) => (n.zoneRules = without(n.zoneRules, n)),
    tries: before,
  },
  {
    id: 'filter-zone',
    stop: 'gateway',
    at: OFFICE,
    break: (n) => (own(n.zoneRules, n).toZone = 'dmz'),
    tries: before,
  },
  {
    id: 'filter-order',
    stop: 'gateway',
    at: OFFICE,
    break: (n) =>
      n.zoneRules.unshift({ ...own(n.zoneRules, n), name: 'old block', action: 'deny', toZone: 'inside' }),
    tries: before,
  },
  { id: 'edge-none', stop: 'edge', at: RENTED, break: (n) => (n.allow = without(n.allow, n)), tries: before },
  {
    id: 'edge-port',
    stop: 'edge',
    at: RENTED,
    also: ['edge-none'],
    break: (n) => (own(n.allow, n).port += 1),
    tries: before,
  },
  {
    id: 'edge-protocol',
    stop: 'edge',
    at: RENTED,
    break: (n) => (own(n.allow, n).protocol = other(n)),
    tries: before,
  },
  {
    id: 'edge-source',
    stop: 'edge',
    at: RENTED,
    break: (n) => (own(n.allow, n).source = n.stranger),
    tries: before,
  },
  // The relay gave another port than the one that was asked for.
  {
    id: 'fwd-outside-port',
    stop: 'relay',
    at: RELAYED,
    break: (n) => (lease(n).port += 1),
    tries: before,
  },
  {
    id: 'fwd-protocol',
    stop: 'relay',
    at: RELAYED,
    break: (n) => (lease(n).protocol = other(n)),
    tries: before,
  },
  {
    id: 'fwd-target-stale',
    stop: 'relay',
    at: RELAYED,
    also: ['fwd-target-typo'],
    break: (n) => (lease(n).to = '10.66.0.9'),
    tries: before,
  },
  {
    id: 'fwd-inside-port',
    stop: 'relay',
    at: RELAYED,
    break: (n) => (lease(n).toPort += 1),
    tries: before,
  },
  {
    id: 'auto-lapsed',
    stop: 'relay',
    at: RELAYED,
    break: (n) => (lease(n).until = '2026-11-20T09:00:00Z'),
    tries: before,
  },
  {
    id: 'fwd-none',
    stop: 'relay',
    at: RELAYED,
    break: (n) => n.relay?.leases.splice(1, 1),
    tries: before,
  },
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
