import { NOT_OUTSIDE, type Delivery } from '../crossing/index.ts';
import {
  formatAddress,
  type Family,
  toPrefixes,
  type SideIndex,
  type Side,
  sideLine,
  type Point,
  join,
  addressBits,
  meet,
  SIDE,
  isWithin,
  without,
  wholeSide,
  sideOfAddresses,
  type Interval,
  formatPrefix,
  prefixInterval,
  prefix,
} from '../net/index.ts';
import type { Site } from '../site/index.ts';

/** One side of several deliveries in the pieces on which all of them are constant. */
export function elementary(family: Family, index: SideIndex, list: readonly Delivery[]): Side {
  const line = sideLine(family, index);
  const sides = list.map((d) => d.set.box[index]);
  const starts = new Set<Point>();
  for (const part of sides.flat()) {
    starts.add(part.first);
    if (part.last !== line.last) starts.add(line.next(part.last));
  }
  const cuts = [...starts].sort((a, b) => (a < b ? -1 : 1));
  return join(line, ...sides).flatMap(({ first, last }) => {
    const inside = cuts.filter((c) => c > first && c <= last);
    return [first, ...inside].map((from, i) => ({
      first: from,
      last: inside[i] === undefined ? last : line.previous(inside[i]),
    }));
  });
}

export const texts = (family: Family, side: Side): string[] =>
  toPrefixes({ 4: [], 6: [], [family]: addressBits(side) }).map((p) =>
    formatPrefix(p).replace(/\/(32|128)$/, ''),
  );

/** The addresses by which some deliveries come, in groups that the same sources reach. */
export function bySources(
  family: Family,
  list: readonly Delivery[],
): { sources: Side; addresses: Side; from: Delivery[] }[] {
  const groups = new Map<string, { sources: Side; parts: Interval<Point>[]; from: Set<Delivery> }>();
  for (const address of elementary(family, SIDE.destination, list)) {
    const here = list.filter((d) => meet(d.set.box[SIDE.destination], [address]).length > 0);
    const sources = join(sideLine(family, SIDE.source), ...here.map((d) => d.set.box[SIDE.source]));
    const group = groups.get(sideKey(sources)) ?? { sources, parts: [], from: new Set<Delivery>() };
    group.parts.push(address);
    for (const d of here) group.from.add(d);
    groups.set(sideKey(sources), group);
  }
  return [...groups.values()].map(({ sources, parts, from }) => ({
    sources,
    addresses: join(sideLine(family, SIDE.destination), parts),
    from: [...from],
  }));
}

export function audience(family: Family, side: Side, possible: Side): { sources: string[]; anyone: boolean } {
  const set = { 4: [], 6: [], [family]: addressBits(side) } as Parameters<typeof toPrefixes>[0];
  if (isWithin(possible, side)) return { sources: [family === 4 ? '0.0.0.0/0' : '::/0'], anyone: true };
  const within = addressBits(meet(side, possible));
  return {
    sources: toPrefixes({ ...set, [family]: within }).map((p) => `${formatAddress(p)}/${p.length}`),
    anyone: false,
  };
}

/**
 * Addresses that an outside sender can have: none that only exists inside, and none of the site's own
 * machines.
 */
export function possibleSenders(site: Site, family: Family): Side {
  const own = site.machines
    .filter((m) => m.role !== 'client')
    .flatMap((m) =>
      (m.interfaces ?? []).flatMap((i) =>
        i.addresses
          .filter((a) => a.address.family === family)
          .map((a) => ({ first: a.address.bits, last: a.address.bits })),
      ),
    );
  const never = [...NOT_OUTSIDE[family].map((p) => prefixInterval(prefix(p))), ...own];
  return never.reduce<Side>(
    (left, i) => without(sideLine(family, SIDE.source), left, sideOfAddresses(family, [i])),
    wholeSide(family, SIDE.source),
  );
}

export const sideKey = (side: Side): string => side.map((i) => `${i.first}-${i.last}`).join();
