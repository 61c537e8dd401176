import type { AskKind } from '../asks/index.ts';
import type { Address } from '../net/index.ts';
import type { Ask, BaseChain, HeaderName, Hook, Subject, Need } from '../rules/index.ts';
import type { Machine, NetInterface } from '../site/index.ts';
import type { Cuts } from './cuts.ts';
import type { RouteAnswer } from './routing.ts';
import type { SocketAnswer } from './sockets.ts';
import type { Ending, ErrorKind } from './types.ts';

/**
 * Where a machine sends a packet: out of an interface, to a router or (`via` null) to the destination itself.
 */
export interface Exit {
  readonly out: string;
  readonly via: Address | null;
  readonly viaDefault: boolean;
}

export type TranslationSide = 'source' | 'destination';

/** A part of what moves of which a question has one answer. */
export interface Part<P, T> {
  readonly value: T;
  readonly part: P;
}

/**
 * What moves through the machines of a site. The stages of a machine stand once, in `walk.ts`; what they mean
 * for one packet and for a set of packets at once stands in the two movers. `P` is the packet, or the set; a
 * set may part at any stage, a packet never does.
 */
export interface Mover<P> {
  /** Whether it is the first packet of its connection, and not what comes back. */
  isQuestion(p: P): boolean;
  familyOf(p: P): 4 | 6;

  /**
   * Comes into a machine by an interface; null where it has gone round in circles, which the mover has then
   * dealt with.
   */
  enter(machine: Machine, device: NetInterface | null, p: P): P | null;
  /**
   * Parts by the answers to a question that one packet decides; `cuts` are the points at which a header's
   * answer may change.
   */
  split<T>(
    p: P,
    header: HeaderName,
    cuts: Cuts,
    judge: (packet: Subject, ask: Ask) => T,
    keyOf: (value: T) => string,
  ): readonly Part<P, T>[];

  /** One base chain; what it ends is dealt with by the mover. */
  chain(hook: Hook, machine: Machine, base: BaseChain, p: P): readonly P[];
  /** A hook of a machine whose rules are not known. */
  unknownRules(hook: Hook, machine: Machine, p: P): readonly P[];
  track(machine: Machine, p: P): P;
  /**
   * Whether translation chains look at it: the first packet of a session that nothing has translated on this
   * side yet.
   */
  isTranslated(p: P, side: TranslationSide): boolean;
  /** No chain has translated it: its session stays as it is on this side. */
  closeTranslation(p: P, side: TranslationSide): P;
  /** Rewrites it as its session says. */
  rewrite(machine: Machine, p: P, side: TranslationSide): P;

  noteRoute(machine: Machine, p: P, answer: RouteAnswer): void;
  /** On its way out by an interface. */
  towards(p: P, exit: Exit): P;
  /** Has left the machine, or was taken in: its session stands from now on. */
  confirm(machine: Machine, p: P): void;
  /** As it leaves the machine. */
  leave(machine: Machine, p: P, exit: Exit): P;
  /** The machine's own translation sent it where it goes now. */
  isForwarded(p: P): boolean;

  delivered(machine: Machine, p: P, found: SocketAnswer): void;
  /**
   * Something that comes back reaches a machine, or (null) the sender that the case knows by its address
   * alone.
   */
  concluded(machine: Machine | null, p: P): void;
  lost(machine: Machine, p: P, ending: Ending): void;
  rejected(machine: Machine, p: P, kind: ErrorKind, ending: Ending): void;
  /** Nobody answers for the next hop. */
  unreachable(machine: Machine, p: P, ending: Ending): void;
  /** The evidence does not say what happens, and this would settle it. */
  unknown(stop: string | null, p: P, need: Need, yields: AskKind): void;
  /** It leaves what the case knows. */
  gone(stop: string | null, p: P, outcome: 'lost' | 'open', ending: Ending): void;

  /** Crosses the internet, whose routers are no stops. */
  carried(p: P): P;
  /** Stands at a carrier that the case knows nothing of but that it is there. */
  atCarrier(carrier: Machine, p: P): P;
  /** Where an answer finds its way home; null for first packets. */
  home(p: P): Address | null;
}
