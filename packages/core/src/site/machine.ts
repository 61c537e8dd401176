import type { AskKind } from '../asks/index.ts';
import type { Address, Endpoint, Family, Prefix, Transport } from '../net/index.ts';
import type { Program, Need } from '../rules/index.ts';
import type { SourceRef } from '../place/index.ts';

export type Role = 'client' | 'carrier' | 'edge' | 'gateway' | 'relay' | 'host';

export interface InterfaceAddress {
  readonly address: Address;
  /** Length of the on-link prefix. */
  readonly prefixLength: number;
  /** Where `peer` is set the prefix is the peer's (point-to-point). */
  readonly peer: Address | null;
  readonly secondary: boolean;
  /** IPv6 duplicate detection never finished or failed (RFC 4862 §5.4): the address cannot be used. */
  readonly unusable: boolean;
  readonly scope: 'global' | 'link' | 'host' | 'site' | 'other';
  readonly source: SourceRef | null;
}

export interface NetInterface {
  readonly name: string;
  readonly index: number | null;
  readonly adminUp: boolean;
  /** false: no link (cable, switch, far end down). null: not said. */
  readonly carrier: boolean | null;
  readonly mac: string | null;
  readonly loopback: boolean;
  /** No neighbour resolution: packets are simply sent (tunnels, PPP). */
  readonly noNeighbours: boolean;
  readonly addresses: readonly InterfaceAddress[];
  readonly source: SourceRef | null;
}

export interface NextHop {
  readonly via: Address | null;
  readonly device: string | null;
}

/** Types of routes as the kernel has them (ip-route(8), rtnetlink(7)). */
export const ROUTE_TYPES = [
  'unicast',
  'local',
  'broadcast',
  'anycast',
  'multicast',
  'blackhole',
  'unreachable',
  'prohibit',
  'throw',
  'nat',
] as const;

export interface Route {
  readonly family: Family;
  readonly table: string;
  readonly type: (typeof ROUTE_TYPES)[number];
  readonly destination: Prefix;
  /** More than one: the kernel spreads connections over them. */
  readonly hops: readonly NextHop[];
  readonly metric: number;
  /** Preferred source address. */
  readonly preferred: Address | null;
  readonly dead: boolean;
  /** The listing says that the route's interface has no link. */
  readonly linkDown?: boolean;
  /** Said where a part of the route is not modelled. */
  readonly unmodelled: string | null;
  readonly source: SourceRef | null;
}

export interface PolicyRule {
  readonly family: Family;
  readonly priority: number;
  readonly not: boolean;
  readonly from: Prefix | null;
  readonly to: Prefix | null;
  readonly in: string | null;
  readonly out: string | null;
  readonly mark: { readonly value: number; readonly mask: number } | null;
  readonly protocol: number | null;
  readonly sport: { readonly first: number; readonly last: number } | null;
  readonly dport: { readonly first: number; readonly last: number } | null;
  readonly action: 'lookup' | 'blackhole' | 'unreachable' | 'prohibit' | 'goto' | 'nop';
  readonly table: string;
  readonly goto: number | null;
  /** Results with a prefix this short or shorter are passed over. */
  readonly suppressPrefixLength: number | null;
  readonly unmodelled: string | null;
  readonly source: SourceRef | null;
}

export interface Socket {
  readonly transport: Transport;
  /** null: any local address */
  readonly address: Address | null;
  /** Families whose packets it takes. */
  readonly families: readonly Family[];
  /** The listing does not tell whether it takes IPv4 too. */
  readonly perhapsFour?: boolean;
  readonly port: number;
  /** Bound to one interface (SO_BINDTODEVICE). */
  readonly device: string | null;
  readonly program: string | null;
  readonly source: SourceRef | null;
}

export interface Neighbour {
  readonly address: Address;
  readonly device: string | null;
  readonly mac: string | null;
  /** The machine asked and nobody answered. */
  readonly failed: boolean;
  readonly source: SourceRef | null;
}

/**
 * One stop as a machine that moves packets. A part that is null is not known: what a packet meets there is
 * then open.
 */
export interface Machine {
  readonly id: string;
  readonly role: Role;
  readonly interfaces: readonly NetInterface[] | null;
  /** It may hold addresses that nothing shows: those of its interfaces are not all. */
  readonly mayHoldMore?: true;
  /** Routes of all tables; the local table is derived from the addresses where the listing leaves it out. */
  readonly routes: Readonly<Record<Family, readonly Route[] | null>>;
  /**
   * null: the three default rules are taken for granted unless a route of another table is known. `open`: a
   * listing is there, and it is not whole.
   */
  readonly policy: Readonly<Record<Family, readonly PolicyRule[] | 'open' | null>>;
  readonly sockets: readonly Socket[] | null;
  readonly neighbours: readonly Neighbour[];
  readonly settings: ReadonlyMap<string, { readonly value: string; readonly source: SourceRef | null }>;
  /** What the device does with packets, for each family; null: not known. */
  readonly program: Readonly<Record<Family, Program | null>>;
  /** What stands for a setting that no evidence holds. */
  readonly presumed: Presumed;
}

/** The policy rules that a listing shows; none where there is no whole one. */
export function listedPolicy({ policy }: Machine, family: Family): readonly PolicyRule[] {
  const own = policy[family];
  return own === 'open' || own === null ? [] : own;
}

/** Behaviour that a kind of device always has, used where it has no evidence of its own. */
export interface Presumed {
  /** Forwards packets between its interfaces. */
  readonly forwarding: boolean | null;
  /**
   * For each transport: ports that are not in `sockets` are closed (true), or their state is not known
   * (false).
   */
  readonly socketsComplete: Readonly<Record<Transport, boolean>>;
  /** A simple box: whoever dials it on a port that it does not use hears nothing. */
  readonly kind: 'linux' | 'box' | 'bare';
}

/** The whole way: machines, and what is known about the world between them. */
export interface Site {
  readonly machines: readonly Machine[];
  /** Public addresses that a carrier's shared translator answers for, with the gateway behind it. */
  readonly sharedAddresses: readonly {
    readonly address: Address;
    readonly carrier: string;
    readonly gateway: string;
    readonly source: SourceRef | null;
  }[];
  /**
   * Addresses that the internet delivers to a device before the machine that holds them, which hands on
   * what it lets in. `interface` null: by which line it comes in is not known.
   */
  readonly fronts?: readonly {
    readonly address: Address;
    readonly machine: string;
    readonly interface: string | null;
  }[];
  /** What was seen when it was tried: it speaks against what the site would do otherwise. */
  readonly tries?: readonly {
    readonly source: Address;
    readonly destination: Endpoint;
    readonly transport: Transport;
    readonly outcome: 'answered' | 'refused' | 'lost';
  }[];
  /** Settings that cannot be used, by stop; what they would say is then open. */
  readonly problems?: readonly { readonly stop: string; readonly text: string }[];
  /**
   * The outermost device's outside address is not known, or is none that the internet reaches: who holds a
   * public address is open.
   */
  readonly outsideUnknown?: { readonly stop: string; readonly need: Need; readonly yields: AskKind };
  /** A gateway in whose unknown inside network the sender may stand. */
  readonly perhapsInside?: string;
  /** Stands for "the internet" where no carrier's own evidence says how packets get to the sites. */
  readonly internet: string | null;
}

export const everyTransport = (complete: boolean): Presumed['socketsComplete'] => ({
  tcp: complete,
  udp: complete,
});
