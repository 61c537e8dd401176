import {
  addressKind,
  PROTOCOL,
  prefix,
  prefixInterval,
  SIDE,
  sideLine,
  sideOfAddresses,
  wholeBox,
  wholeSide,
  withSide,
  without,
  type Family,
  type Side,
  type Transport,
} from '../net/index.ts';
import { Effort, packetSet } from '../rules/index.ts';
import type { Machine, NetInterface, Site } from '../site/index.ts';
import { onOneLink } from './links.ts';
import type { Delivery, MovingSet, OpenEnd } from './movingSet.ts';
import { SetMover } from './setMover.ts';
import { Walk } from './walk.ts';

/** Where all packets from outside come to. */
export interface Flood {
  readonly deliveries: readonly Delivery[];
  /** Packets of which the evidence does not say what becomes. */
  readonly open: readonly OpenEnd[];
}

/** A place where packets come in from outside. */
export interface Entry {
  readonly machine: Machine;
  readonly device: NetInterface;
}

/**
 * Every first packet that an outside sender can send, followed at once: which listeners they reach. Exact;
 * what is not known is followed every way that it may be.
 * @throws TooMuchWork where the rule sets split the packets into too many parts
 */
export function floodSite(
  site: Site,
  family: Family,
  transport: Transport,
  effort = new Effort('what is open from outside'),
): Flood {
  if (site.internet === null) return floodFrom(site, linkEntries(site), family, transport, effort);
  const mover = new SetMover(effort);
  new Walk(site, mover).transit(
    everything(family, transport, allBut(family, NOT_OUTSIDE[family]), destinations(site, family)),
  );
  return mover;
}

/** The same, of packets that come in at the given places whatever address they are sent to. */
export function floodFrom(
  site: Site,
  entries: readonly Entry[],
  family: Family,
  transport: Transport,
  effort = new Effort('what packets reach'),
): Flood {
  const mover = new SetMover(effort);
  const walk = new Walk(site, mover);
  for (const { machine, device } of entries)
    walk.arrive(
      machine,
      device,
      everything(family, transport, allBut(family, NEVER[family]), wholeSide(family, SIDE.destination)),
    );
  return mover;
}

function everything(family: Family, transport: Transport, from: Side, to: Side): MovingSet {
  const box = withSide(withSide(wholeBox(family), SIDE.source, from), SIDE.destination, to);
  return { set: packetSet(family, PROTOCOL[transport], box), hops: 0, isCarried: false };
}

/** Addresses that no sender has on a wire. */
const NEVER: Readonly<Record<Family, readonly string[]>> = {
  4: ['0.0.0.0/8', '127.0.0.0/8', '224.0.0.0/3'],
  6: ['::/127', 'fe80::/10', 'ff00::/8'],
};

/**
 * Addresses from which nothing comes across the internet (IANA special-purpose registries; `addressKind`).
 */
export const NOT_OUTSIDE: Readonly<Record<Family, readonly string[]>> = {
  4: [
    ...NEVER[4],
    '10.0.0.0/8',
    '100.64.0.0/10',
    '169.254.0.0/16',
    '172.16.0.0/12',
    '192.0.0.0/24',
    '192.168.0.0/16',
  ],
  6: ['::/8', 'fc00::/7', 'fe80::/10', 'fec0::/10', 'ff00::/8'],
};

/** All addresses but those in the given blocks. */
const allBut = (family: Family, blocks: readonly string[]): Side =>
  blocks.reduce<Side>(
    (left, p) =>
      without(sideLine(family, SIDE.source), left, sideOfAddresses(family, [prefixInterval(prefix(p))])),
    wholeSide(family, SIDE.source),
  );

/** What an outside sender can dial: all that the internet carries but the clients' own addresses. */
function destinations(site: Site, family: Family): Side {
  const clients = site.machines
    .filter((m) => m.role === 'client')
    .flatMap((m) => (m.interfaces ?? []).flatMap((i) => i.addresses.map((a) => a.address)))
    .filter((a) => a.family === family && addressKind(a).reachable);
  return clients.reduce<Side>(
    (left, a) =>
      without(
        sideLine(family, SIDE.destination),
        left,
        sideOfAddresses(family, [{ first: a.bits, last: a.bits }]),
      ),
    wholeSide(family, SIDE.destination),
  );
}

/**
 * Without an internet of its own the site's outside is the link of its first client: whoever stands on it can
 * send to any machine there.
 */
function linkEntries(site: Site): Entry[] {
  const client = site.machines.find((m) => m.role === 'client');
  const links = (client?.interfaces ?? []).filter((i) => !i.loopback && i.adminUp);
  return links.flatMap((own) =>
    site.machines
      .filter((m) => m.role !== 'client')
      .flatMap((machine) =>
        (machine.interfaces ?? [])
          .filter((device) => device.adminUp && onOneLink(own, device))
          .map((device) => ({ machine, device })),
      ),
  );
}
