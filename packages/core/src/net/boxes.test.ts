import { expect } from 'chai';
import fc from 'fast-check';
import {
  addressBits,
  isWithin,
  join,
  meet,
  moved,
  sideLine,
  sideOfAddresses,
  splitBox,
  wholeBox,
  without,
  type Box,
  type Side,
  type SideIndex,
} from './boxes.ts';

/** A small universe: every side has the points 0…5, so that a box can be listed point by point. */
const POINTS = [0, 1, 2, 3, 4, 5];
const side = fc.uniqueArray(fc.constantFrom(...POINTS), { minLength: 1 }).map((points): Side =>
  join(
    sideLine(4, 3),
    points.map((p) => ({ first: p, last: p })),
  ),
);
const box = fc.tuple(side, side, side, side).map((sides) => sides as unknown as Box);
const has = (s: Side, p: number): boolean => s.some((i) => p >= Number(i.first) && p <= Number(i.last));
const listed = (b: Box): Set<string> =>
  new Set(
    POINTS.flatMap((a) =>
      POINTS.flatMap((c) =>
        POINTS.flatMap((d) =>
          POINTS.flatMap((e) =>
            has(b[0], a) && has(b[1], c) && has(b[2], d) && has(b[3], e) ? [`${a},${c},${d},${e}`] : [],
          ),
        ),
      ),
    ),
  );

describe('boxes against a list of their points', () => {
  it('splits into what fulfils the conditions and a disjoint rest', () => {
    fc.assert(
      fc.property(
        box,
        fc.array(fc.tuple(fc.constantFrom<SideIndex>(0, 1, 2, 3), side), { maxLength: 4 }),
        (b, conditions) => {
          const { hit, miss } = splitBox(4, b, conditions);
          const wanted = [...listed(b)].filter((p) =>
            conditions.every(([i, s]) => has(s, Number(p.split(',')[i]))),
          );
          expect([...(hit ? listed(hit) : [])].sort()).to.deep.equal(wanted.sort());
          const rest = miss.flatMap((m) => [...listed(m)]);
          expect(rest.length, 'the rest is disjoint').to.equal(new Set(rest).size);
          expect([...rest, ...wanted].sort()).to.deep.equal([...listed(b)].sort());
        },
      ),
      { numRuns: 300 },
    );
  });

  it('meets, takes away, joins and contains as sets do', () => {
    fc.assert(
      fc.property(side, side, (a, b) => {
        const line = sideLine(4, 3);
        for (const p of POINTS) {
          expect(has(meet(a, b), p)).to.equal(has(a, p) && has(b, p));
          expect(has(without(line, a, b), p)).to.equal(has(a, p) && !has(b, p));
          expect(has(join(line, a, b), p)).to.equal(has(a, p) || has(b, p));
        }
        expect(isWithin(a, b)).to.equal(POINTS.every((p) => !has(a, p) || has(b, p)));
      }),
      { numRuns: 300 },
    );
  });

  it('moves along the line and cuts what falls off', () => {
    expect(moved(sideLine(4, 3), [{ first: 10, last: 20 }], 5)).to.deep.equal([{ first: 15, last: 25 }]);
    expect(moved(sideLine(4, 3), [{ first: 65530, last: 65535 }], 3)).to.deep.equal([
      { first: 65533, last: 65535 },
    ]);
    expect(moved(sideLine(4, 3), [{ first: 0, last: 2 }], -3)).to.deep.equal([]);
  });

  it('keeps addresses exact in both families', () => {
    const all4 = addressBits(wholeBox(4)[0]);
    expect(all4).to.deep.equal([{ first: 0n, last: 0xffff_ffffn }]);
    const six = [{ first: 0x2001_0db8n << 96n, last: (0x2001_0db8n << 96n) + 7n }];
    expect(addressBits(sideOfAddresses(6, six))).to.deep.equal(six);
    expect(sideOfAddresses(4, [{ first: 0xcb00_7132n, last: 0xcb00_7132n }])).to.deep.equal([
      { first: 3405803826, last: 3405803826 },
    ]);
  });
});
