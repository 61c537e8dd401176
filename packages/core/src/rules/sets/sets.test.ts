import { expect } from 'chai';
import fc from 'fast-check';
import {
  addressSet,
  parsePrefix,
  type Address,
  type AddressSet,
  type Box,
  type Side,
} from '../../net/index.ts';
import type { Field, Rule, Step, ValueSet } from '../program.ts';
import { headerValues, meetsAny, packetSet, touches, type Mapped, type PacketSet } from './packetSet.ts';
import { splitByLookup, splitByMatch, type Lookups } from './split.ts';
import { takeAway, takenBy } from './takenAway.ts';
import { translateSet } from './translate.ts';

/** What is sent: numbers on the four sides of a box. */
type Sent = readonly [number, number, number, number];
type Match = Extract<Step, { do: 'match' }>;
type Target = Extract<Step, { do: 'translate' }>['target'];

const TCP = 6;
const SENDER = { from: 0x0a00_0000, span: 64 };
const DIALLED = { from: 0xcb00_7100, span: 64 };
const PORTS = { from: 8000, span: 64 };

const point = ({ from, span }: { from: number; span: number }) =>
  fc.integer({ min: from, max: from + span - 1 });
const stretch = (of: { from: number; span: number }) =>
  fc.tuple(point(of), point(of)).map(([a, b]) => ({ first: Math.min(a, b), last: Math.max(a, b) }));
/** Parts that neither meet nor touch. */
const sideOf = (of: { from: number; span: number }): fc.Arbitrary<Side> =>
  fc.uniqueArray(point(of), { minLength: 1, maxLength: 20 }).map((points) => {
    const side: { first: number; last: number }[] = [];
    for (const p of points.sort((a, b) => a - b)) {
      const top = side.at(-1);
      if (top && top.last === p - 1) top.last = p;
      else side.push({ first: p, last: p });
    }
    return side;
  });
const box: fc.Arbitrary<Box> = fc.tuple(sideOf(SENDER), sideOf(DIALLED), sideOf(PORTS), sideOf(PORTS));

const within = (side: Side, p: number): boolean => side.some((i) => p >= i.first && p <= i.last);
const holds = (set: PacketSet, sent: Sent): boolean =>
  sent.every((p, i) => within(set.box[i as 0 | 1 | 2 | 3], p));
const valueOf = (mapped: Mapped, sent: Sent): number =>
  'value' in mapped ? Number(mapped.value) : sent[mapped.from] + Number(mapped.by);
/** Every packet of a set on some of its values, and one beside each. */
const some = (set: PacketSet): Sent[] => {
  const ends = set.box.map((side) =>
    [...new Set(side.flatMap((i) => [Number(i.first), Number(i.last)]))].slice(0, 4),
  );
  const [a = [], b = [], c = [], d = []] = ends;
  return a.flatMap((w) => b.flatMap((x) => c.flatMap((y) => d.map((z): Sent => [w, x, y, z]))));
};
const only = <T>(list: readonly T[]): T => {
  expect(list).to.have.lengthOf(1);
  return list[0] as T;
};
const rule = (...steps: Step[]): Rule => ({ id: 'r', text: 'r', source: null, steps });
const NOTHING: Lookups = { stop: 'm', lookUp: (_, set) => [{ part: set, value: 0 }] };
const v4 = (bits: number): Address => ({ family: 4, bits: BigInt(bits) });

describe('sets of packets', () => {
  describe('translated', () => {
    const translated = (set: PacketSet, side: 'source' | 'destination', target: Target) =>
      translateSet(set, { side, target, stop: 'm', rule: rule() });
    /** Each packet is in one part, where the header has become what it has to be. */
    function each(
      set: PacketSet,
      target: Target,
      name: 'dport' | 'destination',
      becomes: (old: number) => number,
    ) {
      const { parts, open } = translated(set, 'destination', target);
      expect(open).to.deep.equal([]);
      for (const sent of some(set)) {
        const part = only(parts.filter((p) => holds(p, sent)));
        const old = valueOf(set.now[name], sent);
        expect(valueOf(part.now[name], sent), `${old}`).to.equal(becomes(old));
      }
    }

    it('to a range of ports: one inside it stays, any other becomes its first', () =>
      fc.assert(
        fc.property(box, stretch(PORTS), (b, { first, last }) =>
          each(
            packetSet(4, TCP, b),
            { addresses: null, ports: { first, last, base: null } },
            'dport',
            (old) => (old >= first && old <= last ? old : first),
          ),
        ),
      ));

    it('by the distance from a base, round the end of the range, in 16 bits (nf_nat_core.c)', () =>
      fc.assert(
        fc.property(
          box,
          fc.integer({ min: 1, max: 40 }),
          fc.integer({ min: 100, max: 60_000 }),
          point(PORTS),
          (b, size, first, base) => {
            const ports = { first, last: first + size - 1, base };
            each(packetSet(4, TCP, b), { addresses: null, ports }, 'dport', (old) => {
              const distance = old < base ? old - base + 65_536 : old - base;
              return first + (distance % size);
            });
          },
        ),
      ));

    it('to a prefix, one to one: the host part stays', () =>
      fc.assert(
        fc.property(box, fc.integer({ min: 24, max: 32 }), (b, length) => {
          const prefix = parsePrefix(`192.168.50.0/${length}`);
          if (!prefix) throw new Error('no prefix');
          const size = 2 ** (32 - length);
          const last = v4(Number(prefix.bits) + size - 1);
          const addresses = { first: v4(Number(prefix.bits)), last };
          each(
            packetSet(4, TCP, b),
            { addresses, ports: null, prefix },
            'destination',
            (old) => Number(prefix.bits) + (old % size),
          );
        }),
      ));

    it('twice: a prefix over what an address was turned to', () => {
      const set = packetSet(4, TCP, [[], [{ first: 1, last: 9 }], [], []] as unknown as Box);
      const to = v4(0xc0a8_3214);
      const once = only(
        translated(set, 'destination', { addresses: { first: to, last: to }, ports: null }).parts,
      );
      const prefix = parsePrefix('10.9.8.0/24');
      const { parts } = translated(once, 'destination', {
        addresses: { first: v4(0x0a09_0800), last: v4(0x0a09_08ff) },
        ports: null,
        prefix,
      });
      expect(only(parts).now.destination).to.deep.equal({ value: 0x0a09_0814 });
    });

    it('to one of several addresses: one part for each', () => {
      const set = packetSet(4, TCP, [[], [{ first: 21, last: 29 }], [], []] as unknown as Box);
      const target = { addresses: { first: v4(7), last: v4(9) }, ports: null };
      const { parts } = translated(set, 'destination', target);
      expect(parts.map((p) => p.now.destination)).to.deep.equal([{ value: 7 }, { value: 8 }, { value: 9 }]);
      expect(parts.every((p) => p.given !== null)).to.equal(true);
    });

    it('to the other family: nothing is bound', () => {
      const set = packetSet(4, TCP, [[], [], [], []]);
      const six = { family: 6, bits: 1n } as const;
      expect(translated(set, 'source', { addresses: { first: six, last: six }, ports: null })).to.deep.equal({
        parts: [set],
        open: [],
      });
    });
  });

  describe('split by a condition', () => {
    const numbers = (set: Side): ValueSet => ({
      type: 'numbers',
      set: set as { first: number; last: number }[],
    });
    const addresses = (side: Side): ValueSet => {
      const set: AddressSet = addressSet();
      return {
        type: 'addresses',
        set: { ...set, 4: side.map((i) => ({ first: BigInt(i.first), last: BigInt(i.last) })) },
      };
    };
    const agrees = (set: PacketSet, step: Match, isHit: (sent: Sent) => boolean): void => {
      const { hit, miss } = splitByMatch(step, rule(step), set, NOTHING);
      for (const sent of some(set)) {
        const inHit = hit.filter((p) => holds(p, sent)).length;
        const inMiss = miss.filter((p) => holds(p, sent)).length;
        expect([inHit, inMiss], `${sent}`).to.deep.equal(isHit(sent) ? [1, 0] : [0, 1]);
      }
    };

    it('on one port or address, negated or not', () =>
      fc.assert(
        fc.property(box, sideOf(PORTS), sideOf(SENDER), fc.boolean(), (b, ports, from, negate) => {
          const set = packetSet(4, TCP, b);
          const dport: Field = { of: 'dport', protocol: TCP };
          agrees(
            set,
            { do: 'match', fields: [dport], rows: [[numbers(ports)]], negate },
            (s) => within(ports, s[3]) !== negate,
          );
          const source: Field = { of: 'source', family: 4 };
          agrees(
            set,
            { do: 'match', fields: [source], rows: [[addresses(from)]], negate },
            (s) => within(from, s[0]) !== negate,
          );
        }),
      ));

    it('on some bits of a port', () =>
      fc.assert(
        fc.property(box, fc.integer({ min: 0, max: 0xffff }), fc.nat(0xffff), (b, mask, value) => {
          const field: Field = { of: 'and', field: { of: 'dport', protocol: null }, mask };
          const rows = [[numbers([{ first: value & mask, last: value & mask }])]];
          agrees(
            packetSet(4, TCP, b),
            { do: 'match', fields: [field], rows, negate: false },
            (s) => (s[3] & mask) === (value & mask),
          );
        }),
        { numRuns: 30 },
      ));

    it('on two fields at once, by the first row that both meet', () =>
      fc.assert(
        fc.property(box, fc.array(fc.tuple(sideOf(SENDER), sideOf(PORTS)), { maxLength: 5 }), (b, pairs) => {
          const set = packetSet(4, TCP, b);
          const fields: Field[] = [
            { of: 'source', family: 4 },
            { of: 'dport', protocol: TCP },
          ];
          const keys = pairs.map(([from, ports]) => [addresses(from), numbers(ports)]);
          const meets = (s: Sent): number =>
            pairs.findIndex(([from, ports]) => within(from, s[0]) && within(ports, s[3]));
          agrees(set, { do: 'match', fields, rows: keys, negate: false }, (s) => meets(s) >= 0);
          const { rows, miss } = splitByLookup(
            { fields, rows: keys.map((key, value) => ({ key, value })) },
            rule(),
            set,
            NOTHING,
          );
          for (const sent of some(set)) {
            const found = rows.filter((r) => r.parts.some((p) => holds(p, sent))).map((r) => r.value);
            const at = meets(sent);
            expect(found).to.deep.equal(at < 0 ? [] : [at]);
            expect(miss.some((p) => holds(p, sent))).to.equal(at < 0);
          }
        }),
      ));

    it('on a field that the packets lack: none of them', () => {
      const set = packetSet(4, 17, [[], [], [], []]);
      const step: Match = {
        do: 'match',
        fields: [{ of: 'dport', protocol: TCP }],
        rows: [[numbers([{ first: 0, last: 65535 }])]],
        negate: true,
      };
      expect(splitByMatch(step, rule(step), set, NOTHING)).to.deep.equal({ hit: [], miss: [set] });
    });

    it('of what nobody knows: one part for each answer', () => {
      const set = packetSet(4, TCP, [[], [], [], []]);
      const need = { need: 'routes', stop: 'm', family: 4 } as const;
      const host: Lookups = {
        stop: 'm',
        lookUp: (_, part) => [{ part, value: { missing: { need, settle: null } } as never }],
      };
      const field: Field = { of: 'address-type', side: 'destination', only: null };
      const step: Match = {
        do: 'match',
        fields: [field],
        rows: [[numbers([{ first: 2, last: 2 }])]],
        negate: false,
      };
      const { hit, miss } = splitByMatch(step, rule(step), set, host);
      expect([hit.length, miss.length]).to.deep.equal([1, 1]);
      expect(only(hit).given).to.not.deep.equal(only(miss).given);
    });
  });

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
