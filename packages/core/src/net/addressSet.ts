import { ADDRESS_LENGTH, MAX_BITS, type Address, type Family } from './address.ts';
import {
  complement,
  difference,
  includes,
  intersection,
  normalise,
  sameSet,
  type Interval,
  type IntervalSet,
  type Line,
} from './intervals.ts';
import { prefixInterval, type Prefix } from './prefix.ts';

/** A set of addresses of both families. */
export interface AddressSet {
  readonly 4: IntervalSet<bigint>;
  readonly 6: IntervalSet<bigint>;
}

export const ADDRESS_LINE: Readonly<Record<Family, Line<bigint>>> = {
  4: { first: 0n, last: MAX_BITS[4], next: (a) => a + 1n, previous: (a) => a - 1n },
  6: { first: 0n, last: MAX_BITS[6], next: (a) => a + 1n, previous: (a) => a - 1n },
};

export const NO_ADDRESSES: AddressSet = { 4: [], 6: [] };
export const ALL_ADDRESSES: AddressSet = {
  4: [{ first: 0n, last: MAX_BITS[4] }],
  6: [{ first: 0n, last: MAX_BITS[6] }],
};

const both = (build: (family: Family) => IntervalSet<bigint>): AddressSet => ({ 4: build(4), 6: build(6) });

/** The set of all addresses in the given prefixes. */
export function addressSet(...prefixes: Prefix[]): AddressSet {
  return both((family) =>
    normalise(ADDRESS_LINE[family], prefixes.filter((p) => p.family === family).map(prefixInterval)),
  );
}

/** The addresses from `first` to `last`, both of one family. */
export function addressRange(first: Address, last: Address): AddressSet {
  return both((family) =>
    family === first.family && family === last.family && first.bits <= last.bits
      ? [{ first: first.bits, last: last.bits }]
      : [],
  );
}

export const addressUnion = (...sets: AddressSet[]): AddressSet => addressUnionOf(sets);

/** The same for lists of any length: arguments stand on the stack. */
export const addressUnionOf = (sets: readonly AddressSet[]): AddressSet =>
  both((f) =>
    normalise(
      ADDRESS_LINE[f],
      sets.flatMap((s) => s[f]),
    ),
  );
export const addressIntersection = (a: AddressSet, b: AddressSet): AddressSet =>
  both((f) => intersection(a[f], b[f]));
export const addressDifference = (a: AddressSet, b: AddressSet): AddressSet =>
  both((f) => difference(ADDRESS_LINE[f], a[f], b[f]));
export const addressComplement = (a: AddressSet): AddressSet =>
  both((f) => complement(ADDRESS_LINE[f], a[f]));
export const hasAddress = (set: AddressSet, a: Address): boolean => includes(set[a.family], a.bits);
export const isEmptyAddressSet = (set: AddressSet): boolean => set[4].length === 0 && set[6].length === 0;
export const sameAddressSet = (a: AddressSet, b: AddressSet): boolean =>
  sameSet(a[4], b[4]) && sameSet(a[6], b[6]);

/** The smallest list of prefixes that covers exactly the set, IPv4 first, ascending. */
export function toPrefixes(set: AddressSet): Prefix[] {
  return ([4, 6] as const).flatMap((family) => set[family].flatMap((part) => splitInterval(family, part)));
}

/** Greedy from below: the largest aligned block that fits is always part of the smallest cover. */
function splitInterval(family: Family, { first, last }: Interval<bigint>): Prefix[] {
  const width = ADDRESS_LENGTH[family];
  const out: Prefix[] = [];
  for (let at = first; at <= last;) {
    let host = 0;
    while (host < width) {
      const size = 1n << BigInt(host + 1);
      if (at % size !== 0n || at + size - 1n > last) break;
      host++;
    }
    out.push({ family, bits: at, length: width - host });
    at += 1n << BigInt(host);
  }
  return out;
}
