import { expect } from 'chai';
import fc from 'fast-check';
import { addressSet, type AddressSet, type Side } from '../../net/index.ts';
import type { Field, ValueSet } from '../program.ts';
import { packetSet, type PacketSet } from './packetSet.ts';
import { splitByLookup, splitByMatch, type Lookups } from './split.ts';
import { packetSets } from '../../testing/index.ts';

const { TCP, SENDER, PORTS, sideOf, box, within, holds, some, only, rule } = packetSets;
const NOTHING: Lookups = { stop: 'm', lookUp: (_, set) => [{ part: set, value: 0 }] };
type Sent = packetSets.Sent;
type Match = packetSets.Match;

describe('sets of packets, split by a condition', () => {
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
