import { expect } from 'chai';
import fc from 'fast-check';
import { watchedTries, type Watched } from './index.ts';

const NOON = Date.parse('2026-11-24T12:00:00Z') / 1000;
const HOUR = 3600;
const DAY = 86_400;
/** A TCP client asks again after one, three and seven seconds (RFC 6298 §5.5). */
const burst = (at: number, from = 'client') => [0, 1, 3, 7].map((s) => ({ seconds: at + s, from }));

type Packet = ReturnType<typeof burst>[number];
const found = (watched: Watched<Packet>): Extract<Watched<Packet>, { is: 'found' }> => {
  if (watched.is !== 'found') throw new Error(`nothing was found: ${watched.is}`);
  return watched;
};

describe('a record that is looked at for a moment', () => {
  it('shows what came then, and nothing else', () => {
    const { ahead, seen } = found(watchedTries([...burst(NOON - 900), ...burst(NOON + 4)], [NOON]));
    expect(ahead).to.equal(0);
    expect(seen[0]?.map((e) => e.seconds - NOON)).to.deep.equal([4, 5, 7, 11]);
  });

  for (const [title, off] of [
    ['two hours ahead', 2 * HOUR],
    ['half past five ahead', 5.5 * HOUR],
    ['on the day before', -DAY],
  ] as const)
    it(`is found on a clock ${title}`, () => {
      const { ahead, seen } = found(watchedTries(burst(NOON + off + 5), [NOON]));
      expect(ahead).to.equal(off);
      expect(seen[0]).to.have.lengthOf(4);
    });

  it('a clock of no time zone is no clock: what came a quarter of an hour before came before', () => {
    for (const off of [-900, -1800, 900, 15 * HOUR])
      expect(watchedTries(burst(NOON + off + 5), [NOON]), `${off}`).to.deep.equal({ is: 'none' });
  });

  it('a clock that is off by any constant takes two moments', () => {
    const off = 1234;
    const both = [...burst(NOON + off), ...burst(NOON + 700 + off)];
    expect(watchedTries(both, [NOON])).to.deep.equal({ is: 'none' });
    expect(found(watchedTries(both, [NOON, NOON + 700])).ahead).to.equal(off);
  });

  it('tries at two hours of which either may be meant are not told apart, unless one is the client’s', () => {
    const all = [...burst(NOON + HOUR + 5, 'x'), ...burst(NOON + 2 * HOUR + 5)];
    expect(watchedTries(all, [NOON])).to.deep.equal({ is: 'several' });
    const told = found(watchedTries(all, [NOON], (e) => e.from === 'client'));
    expect(told.ahead).to.equal(2 * HOUR);
    expect(watchedTries(all, [NOON], () => true)).to.deep.equal({ is: 'several' });
  });

  it('without times, or without moments, nothing is claimed', () => {
    expect(watchedTries([{ seconds: NaN }], [NOON])).to.deep.equal({ is: 'none' });
    expect(watchedTries(burst(NOON), [])).to.deep.equal({ is: 'none' });
  });

  it('what is found is found again when both clocks are moved, and lies near its moment', () =>
    fc.assert(
      fc.property(
        fc.integer({ min: -12, max: 14 }),
        fc.integer({ min: 0, max: 60 }),
        fc.array(fc.integer({ min: -20_000, max: 20_000 }), { maxLength: 6 }),
        (hours, late, noise) => {
          const off = hours * HOUR;
          const all = [...burst(NOON + off + late), ...noise.map((s) => ({ seconds: NOON + s, from: 'x' }))];
          const watched = watchedTries(all, [NOON]);
          const moved = watchedTries(
            all.map((e) => ({ ...e, seconds: e.seconds + 777 })),
            [NOON + 777],
          );
          expect(moved.is).to.equal(watched.is);
          // The try itself is there, so that nothing at all is never said.
          expect(watched.is).to.not.equal('none');
          if (watched.is !== 'found') return;
          expect(found(moved).ahead).to.equal(watched.ahead);
          for (const e of watched.seen[0] ?? [])
            expect(e.seconds - NOON - watched.ahead).to.be.within(-10, 120);
          if (noise.length === 0) expect(watched.seen[0]).to.have.lengthOf(4);
        },
      ),
    ));
});
