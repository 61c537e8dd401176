import { expect } from 'chai';
import fc from 'fast-check';
import {
  complement,
  difference,
  includes,
  intersection,
  normalise,
  union,
  type Interval,
  type Line,
} from './intervals.ts';

/** A line short enough to look at every point. */
const SHORT: Line<number> = { first: 0, last: 40, next: (p) => p + 1, previous: (p) => p - 1 };
const points = Array.from({ length: 41 }, (_, i) => i);
const parts = fc.array(
  fc
    .tuple(fc.integer({ min: 0, max: 40 }), fc.integer({ min: 0, max: 40 }))
    .map(([a, b]): Interval<number> => ({ first: Math.min(a, b), last: Math.max(a, b) })),
  { maxLength: 6 },
);
const brute = (list: readonly Interval<number>[]): Set<number> =>
  new Set(points.filter((p) => list.some((i) => p >= i.first && p <= i.last)));
const members = (list: readonly Interval<number>[]): number[] => points.filter((p) => includes(list, p));

describe('interval sets against a set of points', () => {
  it('normalise keeps exactly the points, sorted, disjoint and not adjacent', () => {
    fc.assert(
      fc.property(parts, (list) => {
        const set = normalise(SHORT, list);
        expect(members(set)).to.deep.equal([...brute(list)].sort((a, b) => a - b));
        set.forEach((part, i) => {
          if (i > 0) expect(part.first).to.be.greaterThan(set[i - 1]!.last + 1);
        });
      }),
    );
  });

  it('union, intersection, difference and complement agree point by point', () => {
    fc.assert(
      fc.property(parts, parts, (x, y) => {
        const [a, b] = [normalise(SHORT, x), normalise(SHORT, y)];
        const [pa, pb] = [brute(x), brute(y)];
        expect(members(union(SHORT, a, b))).to.deep.equal(points.filter((p) => pa.has(p) || pb.has(p)));
        expect(members(intersection(a, b))).to.deep.equal(points.filter((p) => pa.has(p) && pb.has(p)));
        expect(members(difference(SHORT, a, b))).to.deep.equal(points.filter((p) => pa.has(p) && !pb.has(p)));
        expect(members(complement(SHORT, a))).to.deep.equal(points.filter((p) => !pa.has(p)));
        // Every set has one form only: the complement of the complement is the very same list.
        expect(complement(SHORT, complement(SHORT, a))).to.deep.equal(a);
      }),
    );
  });
});
