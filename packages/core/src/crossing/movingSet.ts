import type { Need, PacketSet } from '../rules/index.ts';
import type { Machine, Socket } from '../site/index.ts';
import type { Ending } from './types.ts';

/**
 * Packets that reach something that listens (or may listen: `socket` null where a machine's sockets are not
 * known).
 */
export interface Delivery {
  readonly machine: Machine;
  readonly socket: Socket | null;
  readonly set: PacketSet;
}

/** Packets of which the evidence does not say what becomes. */
export interface OpenEnd {
  readonly stop: string | null;
  /** What is not known, or where they left what the case shows. */
  readonly why: Need | Ending;
  readonly set: PacketSet;
}

/** A set with the machines that it has come into. */
export interface MovingSet {
  readonly set: PacketSet;
  readonly hops: number;
  /** It has crossed the internet, whose routers are no stops. */
  readonly isCarried: boolean;
}
