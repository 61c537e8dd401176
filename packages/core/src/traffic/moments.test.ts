import { expect } from 'chai';
import fc from 'fast-check';
import { watchedTries } from './index.ts';

const NOON = Date.parse('2026-11-24T12:00:00Z') / 1000;
const HOUR = 3600;
const DAY = 86_400;
/** A TCP client asks again after one, three and seven seconds (RFC 6298 §5.5). */
const burst = (at: number, from = 'client') => [0, 1, 3, 7].map((s) => ({ seconds: at + s, from }));

describe('a record that is looked at for a moment', () => {
  it('shows what came then, and nothing else', () => {
    const { ahead, seen } = watchedTries([...burst(NOON - 900), ...burst(NOON + 4)], [NOON]);
    expect(ahead).to.equal(0);
    expect(seen[0]?.map((e) => e.seconds - NOON)).to.deep.equal([4, 5, 7, 11]);
  });

  for (const [title, off] of [
    ['two hours ahead', 2 * HOUR],
    ['half past five behind', -5.5 * HOUR],
    ['on the day before', -DAY],
  ] as const)
    it(`is found on a clock ${title}`, () => {
      const { ahead, seen } = watchedTries(burst(NOON + off + 5), [NOON]);
      expect(ahead).to.equal(off);
      expect(seen[0]).to.have.lengthOf(4);
    });

  it('a clock that is off by any constant takes two moments', () => {
    const off = 1234;
    const both = [...burst(NOON + off), ...burst(NOON + 700 + off)];
    expect(watchedTries(both, [NOON]).ahead).to.equal(null);
    expect(watchedTries(both, [NOON, NOON + 700]).ahead).to.equal(off);
  });

  it('tries at two hours of which either may be meant are not told apart', () => {
    const all = [...burst(NOON + HOUR + 5), ...burst(NOON + 2 * HOUR + 5)];
    expect(watchedTries(all, [NOON])).to.deep.equal({ ahead: null, seen: [[]] });
  });

  it('without times, or without moments, nothing is claimed', () => {
    expect(watchedTries([{ seconds: NaN }], [NOON])).to.deep.equal({ ahead: null, seen: [[]] });
    expect(watchedTries(burst(NOON), [])).to.deep.equal({ ahead: null, seen: [] });
  });

  it('what is found at a distance is found again when both clocks are moved, and lies near its moment', () =>
    fc.assert(
      fc.property(
        fc.integer({ min: -40, max: 40 }),
        fc.integer({ min: 0, max: 60 }),
        fc.array(fc.integer({ min: -20_000, max: 20_000 }), { maxLength: 6 }),
        (quarters, late, noise) => {
          const off = quarters * 900;
          const all = [...burst(NOON + off + late), ...noise.map((s) => ({ seconds: NOON + s, from: 'x' }))];
          const { ahead, seen } = watchedTries(all, [NOON]);
          const moved = watchedTries(
            all.map((e) => ({ ...e, seconds: e.seconds + 777 })),
            [NOON + 777],
          );
          expect(moved.ahead).to.equal(ahead);
          for (const e of seen[0] ?? []) expect(e.seconds - NOON - (ahead ?? 0)).to.be.within(-10, 120);
          if (noise.length === 0) expect(seen[0]).to.have.lengthOf(4);
        },
      ),
    ));
});
