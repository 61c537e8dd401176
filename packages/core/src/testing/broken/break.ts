import type { FaultId } from '../../faults/index.ts';
import {
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
  readonly stop: 'client' | 'carrier' | 'relay' | 'outer' | 'gateway' | 'edge' | 'host';
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

export const own = <T extends Row | FilterRow | Listener>(list: readonly T[], n: Network): T => {
  const row = list.find((r) => r.port === n.service.port);
  if (!row) throw new Error('a working network has its own row');
  return row;
};
export const without = <T extends { port: number }>(list: readonly T[], n: Network): T[] =>
  list.filter((r) => r.port !== n.service.port);
export const other = (n: Network): 'tcp' | 'udp' => (n.service.protocol === 'tcp' ? 'udp' : 'tcp');

/** Silence at the client, and all is well beside the server. */
export const before = (): Tries => ({ client: 'lost', near: 'answered' });
/** A filter of the server is in the way of everybody. */
export const kept = (): Tries => ({ client: 'lost', near: 'lost' });
/** A port that nothing listens on is refused; Windows keeps silent about it (its firewall is on). */
export const closed = ({ system }: Network): Tries =>
  system === 'windows' ? { client: 'lost', near: 'lost' } : { client: 'refused', near: 'refused' };
export const isFiltered = (n: Network): boolean => n.system !== 'mac';
export const isWindows = (n: Network): boolean => n.system === 'windows';

export const HOME = ['home'] as const;
export const OFFICE = ['office'] as const;
export const RENTED = ['rented'] as const;
/** Behind one router or two. */
export const AT_HOME = ['home', 'doubled'] as const;
export const INSIDE = ['home', 'doubled', 'office'] as const;
export const DOUBLED = ['doubled'] as const;
export const RELAYED = ['relayed'] as const;
export const outerRow = (n: Network): Row => own(n.outer?.rows ?? [], n);
export const lease = ({ relay }: Network): Lease => {
  const own = relay?.leases.find((l) => l.to === relay.end);
  if (!own) throw new Error('a working network has its own lease');
  return own;
};
