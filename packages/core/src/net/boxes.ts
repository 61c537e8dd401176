import type { Family } from './address.ts';
import { ADDRESS_LINE } from './addressSet.ts';
import { complement, intersection, normalise, type IntervalSet, type Line } from './intervals.ts';
import { PORT_LINE } from './ports.ts';

/**
 * Sets of packets of one family and transport as boxes: a product of four interval sets. IPv4 addresses are
 * plain numbers here (exact up to 2^53), which makes the algebra several times faster than with bigints; IPv6
 * addresses stay bigints.
 */
export type Point = number | bigint;
export type Side = IntervalSet<Point>;

/** The four sides of a box. */
export const SIDE = { source: 0, destination: 1, sport: 2, dport: 3 } as const;
export type SideIndex = (typeof SIDE)[keyof typeof SIDE];

export type Box = readonly [Side, Side, Side, Side];

const V4_LINE: Line<number> = { first: 0, last: 0xffff_ffff, next: (a) => a + 1, previous: (a) => a - 1 };

/** The line that a side lives on. */
export function sideLine(family: Family, side: SideIndex): Line<Point> {
  if (side === SIDE.sport || side === SIDE.dport) return PORT_LINE as Line<Point>;
  return (family === 4 ? V4_LINE : ADDRESS_LINE[6]) as Line<Point>;
}

/** An address set's part of one family, as a side. */
export const sideOfAddresses = (family: Family, set: IntervalSet<bigint>): Side =>
  family === 4 ? set.map((i) => ({ first: Number(i.first), last: Number(i.last) })) : set;

/** A side back as address bits. */
export const addressBits = (side: Side): IntervalSet<bigint> =>
  side.map((i) => ({ first: BigInt(i.first), last: BigInt(i.last) }));

export const wholeSide = (family: Family, side: SideIndex): Side => {
  const line = sideLine(family, side);
  return [{ first: line.first, last: line.last }];
};

export const wholeBox = (family: Family): Box => [
  wholeSide(family, 0),
  wholeSide(family, 1),
  wholeSide(family, 2),
  wholeSide(family, 3),
];

export const isEmptyBox = (box: Box): boolean => box.some((side) => side.length === 0);

export const withSide = (box: Box, index: SideIndex, side: Side): Box =>
  box.map((s, i) => (i === index ? side : s)) as unknown as Box;

/** Whether two sides can have anything in common, by their ends alone. */
export const mayMeet = (a: Side, b: Side): boolean =>
  a.length > 0 &&
  b.length > 0 &&
  a[0]!.first <= b[b.length - 1]!.last &&
  b[0]!.first <= a[a.length - 1]!.last;

export const meet = (a: Side, b: Side): Side => (mayMeet(a, b) ? intersection(a, b) : []);

/** `a` without `b`; the same object where nothing is taken away. */
export function without(line: Line<Point>, a: Side, b: Side): Side {
  if (!mayMeet(a, b)) return a;
  return intersection(a, complement(line, b));
}

export const join = (line: Line<Point>, ...sides: Side[]): Side => normalise(line, sides.flat());

/** Whether `a` lies in `b` as a whole. */
export function isWithin(a: Side, b: Side): boolean {
  let j = 0;
  for (const part of a) {
    while (j < b.length && b[j]!.last < part.first) j++;
    if (j === b.length || b[j]!.first > part.first || b[j]!.last < part.last) return false;
  }
  return true;
}

/** Moves a side along its line; what falls off its ends is cut. */
export function moved(line: Line<Point>, side: Side, by: Point): Side {
  if (typeof by === 'bigint' ? by === 0n : by === 0) return side;
  const add = (p: Point): Point => (typeof p === 'bigint' ? p + BigInt(by) : p + Number(by));
  return side
    .map((i) => ({ first: add(i.first), last: add(i.last) }))
    .filter((i) => i.last >= line.first && i.first <= line.last)
    .map((i) => ({
      first: i.first < line.first ? line.first : i.first,
      last: i.last > line.last ? line.last : i.last,
    }));
}

/** Splits a box by conditions on its sides: what fulfils all of them, and the disjoint rest. */
export function splitBox(
  family: Family,
  box: Box,
  conditions: readonly (readonly [SideIndex, Side])[],
): { hit: Box | null; miss: Box[] } {
  const miss: Box[] = [];
  let hit = box;
  for (const [index, set] of conditions) {
    const inside = meet(hit[index], set);
    if (inside.length === 0) return { hit: null, miss: [box] };
    const rest = without(sideLine(family, index), hit[index], set);
    if (rest.length > 0) miss.push(withSide(hit, index, rest));
    hit = withSide(hit, index, inside);
  }
  return { hit, miss };
}
