import { expect } from 'chai';
import fc from 'fast-check';
import type { Step } from '../program.ts';
import { headerValues, meetsAny, packetSet, touches, type Mapped } from './packetSet.ts';
import { takeAway, takenBy } from './takenAway.ts';
import { packetSets } from '../../testing/index.ts';

const { TCP, PORTS, sideOf, box, within, holds, some, rule } = packetSets;

describe('sets of packets, as rules take them away', () => {
  it('what a rule drops by one header alone is taken away at once, and no more', () =>
    fc.assert(
      fc.property(box, fc.array(sideOf(PORTS), { minLength: 1, maxLength: 4 }), (b, dropped) => {
        const set = packetSet(4, TCP, b);
        const sides = dropped.map((side) => {
          const dport: Step = {
            do: 'match',
            fields: [{ of: 'dport', protocol: TCP }],
            rows: [[{ type: 'numbers', set: side as { first: number; last: number }[] }]],
            negate: false,
          };
          const taken = takenBy(rule(dport, { do: 'verdict', verdict: { verdict: 'drop' } }), set);
          if (!taken) throw new Error('it drops by one header');
          expect(taken.side).to.equal(3);
          return taken.values;
        });
        const left = takeAway([set], { side: 3, sides });
        for (const sent of some(set)) {
          const isDropped = dropped.some((side) => within(side, sent[3]));
          expect(
            left.some((p) => holds(p, sent)),
            `${sent}`,
          ).to.equal(!isDropped);
        }
        expect(takeAway([set], null)).to.deep.equal([set]);
      }),
    ));

  it('a rule that accepts, or that asks for two headers, takes nothing away', () => {
    const set = packetSet(4, TCP, [[], [], [], []]);
    const port = (of: 'dport' | 'sport'): Step => ({
      do: 'match',
      fields: [{ of, protocol: TCP }],
      rows: [[{ type: 'numbers', set: [{ first: 1, last: 2 }] }]],
      negate: false,
    });
    expect(takenBy(rule(port('dport'), { do: 'verdict', verdict: { verdict: 'accept' } }), set)).to.equal(
      null,
    );
    const both = rule(port('dport'), port('sport'), { do: 'verdict', verdict: { verdict: 'drop' } });
    expect(takenBy(both, set)).to.equal(null);
  });

  it('touch a value exactly where some packet has it', () =>
    fc.assert(
      fc.property(box, sideOf(PORTS), fc.integer({ min: -20, max: 20 }), (b, values, by) => {
        const set = packetSet(4, TCP, b);
        const mapped: Mapped = { from: 3, by };
        const has = b[3].some((i) => {
          for (let p = Number(i.first); p <= i.last; p++) if (within(values, p + by)) return true;
          return false;
        });
        expect(touches(set, mapped, values)).to.equal(has);
        expect(touches(set, { value: 8010 }, values)).to.equal(within(values, 8010));
        expect(meetsAny(values, 8005, 8006)).to.equal(within(values, 8005) || within(values, 8006));
        const moved = headerValues(set, mapped);
        for (const { first } of b[3]) expect(within(moved, Number(first) + by)).to.equal(true);
      }),
    ));
});
