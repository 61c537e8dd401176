import { expect } from 'chai';
import fc from 'fast-check';
import type { Address, Box, Side } from '../net/index.ts';
import type { Mapped, PacketSet, Rule, Step } from '../rules/index.ts';

/** Sets of packets drawn by lot, and single packets out of them. */

/** What is sent: numbers on the four sides of a box. */
export type Sent = readonly [number, number, number, number];
export type Match = Extract<Step, { do: 'match' }>;
export type Target = Extract<Step, { do: 'translate' }>['target'];

export const TCP = 6;
export const SENDER = { from: 0x0a00_0000, span: 64 };
export const DIALLED = { from: 0xcb00_7100, span: 64 };
export const PORTS = { from: 8000, span: 64 };

export const point = ({ from, span }: { from: number; span: number }) =>
  fc.integer({ min: from, max: from + span - 1 });
export const stretch = (of: { from: number; span: number }) =>
  fc.tuple(point(of), point(of)).map(([a, b]) => ({ first: Math.min(a, b), last: Math.max(a, b) }));
/** Parts that neither meet nor touch. */
export const sideOf = (of: { from: number; span: number }): fc.Arbitrary<Side> =>
  fc.uniqueArray(point(of), { minLength: 1, maxLength: 20 }).map((points) => {
    const side: { first: number; last: number }[] = [];
    for (const p of points.sort((a, b) => a - b)) {
      const top = side.at(-1);
      if (top && top.last === p - 1) top.last = p;
      else side.push({ first: p, last: p });
    }
    return side;
  });
export const box: fc.Arbitrary<Box> = fc.tuple(sideOf(SENDER), sideOf(DIALLED), sideOf(PORTS), sideOf(PORTS));

export const within = (side: Side, p: number): boolean => side.some((i) => p >= i.first && p <= i.last);
export const holds = (set: PacketSet, sent: Sent): boolean =>
  sent.every((p, i) => within(set.box[i as 0 | 1 | 2 | 3], p));
export const valueOf = (mapped: Mapped, sent: Sent): number =>
  'value' in mapped ? Number(mapped.value) : sent[mapped.from] + Number(mapped.by);
/** Every packet of a set on some of its values, and one beside each. */
export const some = (set: PacketSet): Sent[] => {
  const ends = set.box.map((side) =>
    [...new Set(side.flatMap((i) => [Number(i.first), Number(i.last)]))].slice(0, 4),
  );
  const [a = [], b = [], c = [], d = []] = ends;
  return a.flatMap((w) => b.flatMap((x) => c.flatMap((y) => d.map((z): Sent => [w, x, y, z]))));
};
export const only = <T>(list: readonly T[]): T => {
  expect(list).to.have.lengthOf(1);
  return list[0] as T;
};
export const rule = (...steps: Step[]): Rule => ({ id: 'r', text: 'r', source: null, steps });
export const v4 = (bits: number): Address => ({ family: 4, bits: BigInt(bits) });
