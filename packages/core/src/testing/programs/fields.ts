import fc from 'fast-check';
import { addressSet } from '../../net/index.ts';
import { CT_STATE, type Field, type ValueSet } from '../../rules/index.ts';
import { TCP } from '../packetSets.ts';

/** A packet of the reference: what rules can see of it, in plain numbers. */
export interface Plain {
  readonly from: number;
  readonly port: number;
  readonly device: string;
  readonly isTracked: boolean;
  mark: number;
  sessionMark: number;
  untracked: boolean;
}

/** A field, what the reference reads there, and values to compare it with. */
export interface Readable {
  readonly field: Field;
  readonly read: (p: Plain) => number | string | null;
  readonly sets: fc.Arbitrary<Values>;
}
export interface Values {
  readonly set: ValueSet;
  readonly has: (value: number | string) => boolean;
}

export const SENDERS = 8;
export const PORTS = [0, 1, 2, 3, 80, 81, 443, 65535];
/** Flags of a SYN. */
export const FLAGS = 0x02;
export const sender = (n: number): number => 0x0a00_0000 + n;

const numbers = (of: readonly number[]): fc.Arbitrary<Values> =>
  fc.uniqueArray(fc.constantFrom(...of), { minLength: 1, maxLength: 3 }).map((list) => {
    const sorted = [...list].sort((a, b) => a - b);
    const set = sorted.map((n) => ({ first: n, last: n }));
    // Values that touch are one stretch in a normal set.
    const joined = set.reduce<{ first: number; last: number }[]>((out, i) => {
      const top = out.at(-1);
      if (top && top.last + 1 === i.first) top.last = i.last;
      else out.push({ ...i });
      return out;
    }, []);
    return { set: { type: 'numbers', set: joined }, has: (v) => list.includes(v as number) };
  });
const bits = (of: readonly number[]): fc.Arbitrary<Values> =>
  fc.constantFrom(...of).map((mask) => ({
    set: { type: 'bits', mask },
    has: (v) => typeof v === 'number' && (v & mask) !== 0,
  }));
const senders: fc.Arbitrary<Values> = fc
  .tuple(fc.nat(SENDERS - 1), fc.nat(SENDERS - 1))
  .map(([a, b]) => [Math.min(a, b), Math.max(a, b)] as const)
  .map(([low, high]) => ({
    set: {
      type: 'addresses',
      set: { ...addressSet(), 4: [{ first: BigInt(sender(low)), last: BigInt(sender(high)) }] },
    },
    has: (v) => typeof v === 'number' && v >= sender(low) && v <= sender(high),
  }));
const names: fc.Arbitrary<Values> = fc.constantFrom(
  { set: { type: 'names', names: ['eth0'] } as const, has: (v: unknown) => v === 'eth0' },
  { set: { type: 'names', names: ['eth*'] } as const, has: () => true },
  { set: { type: 'names', names: ['lan', 'eth1'] } as const, has: (v: unknown) => v === 'eth1' },
);

export const MARKS = [0, 1, 2, 3, 6, 0xffff_ffff];
/** Fields of every kind: of headers, absent, of sessions, masked. */
export const FIELDS: readonly Readable[] = [
  { field: { of: 'source', family: 4 }, read: (p) => p.from, sets: senders },
  { field: { of: 'source', family: null }, read: (p) => p.from, sets: senders },
  { field: { of: 'source', family: 6 }, read: () => null, sets: senders },
  { field: { of: 'dport', protocol: TCP }, read: (p) => p.port, sets: numbers(PORTS) },
  { field: { of: 'dport', protocol: null }, read: (p) => p.port, sets: numbers(PORTS) },
  { field: { of: 'dport', protocol: 17 }, read: () => null, sets: numbers(PORTS) },
  {
    field: { of: 'and', field: { of: 'dport', protocol: null }, mask: 0x51 },
    read: (p) => p.port & 0x51,
    sets: numbers([0, 1, 0x50, 0x51]),
  },
  { field: { of: 'protocol' }, read: () => TCP, sets: numbers([6, 17]) },
  { field: { of: 'family' }, read: () => 2, sets: numbers([2, 10]) },
  { field: { of: 'in' }, read: (p) => p.device, sets: names },
  { field: { of: 'out' }, read: () => null, sets: names },
  { field: { of: 'mark' }, read: (p) => p.mark, sets: numbers(MARKS) },
  {
    field: { of: 'and', field: { of: 'mark' }, mask: 0xffff_fffe },
    read: (p) => (p.mark & 0xffff_fffe) >>> 0,
    sets: numbers([0, 2, 6, 0xffff_fffe]),
  },
  {
    field: { of: 'ct-mark' },
    read: (p) => (p.isTracked && !p.untracked ? p.sessionMark : null),
    sets: numbers(MARKS),
  },
  {
    field: { of: 'ct-state' },
    read: (p) => {
      if (p.untracked) return CT_STATE.untracked;
      return p.isTracked ? CT_STATE.new : CT_STATE.invalid;
    },
    sets: bits([CT_STATE.new, CT_STATE.invalid, CT_STATE.established | CT_STATE.untracked]),
  },
  { field: { of: 'tcp-flags' }, read: () => FLAGS, sets: bits([0x02, 0x10, 0x12]) },
];
