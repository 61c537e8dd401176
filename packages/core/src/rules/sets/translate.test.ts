import { expect } from 'chai';
import fc from 'fast-check';
import { parsePrefix, type Box } from '../../net/index.ts';
import { packetSet, type PacketSet } from './packetSet.ts';
import { translateSet } from './translate.ts';
import { packetSets } from '../../testing/index.ts';

const { TCP, PORTS, point, stretch, box, holds, valueOf, some, only, rule, v4 } = packetSets;
type Target = packetSets.Target;

describe('sets of packets, translated', () => {
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
        each(packetSet(4, TCP, b), { addresses: null, ports: { first, last, base: null } }, 'dport', (old) =>
          old >= first && old <= last ? old : first,
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
