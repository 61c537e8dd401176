import { ADDRESS_LENGTH, MAX_BITS, type Point, type Side } from '../../net/index.ts';
import { MOST_RANGE_CHOICES, rangeQuestion } from '../doubts.ts';
import type { HeaderName } from '../fields.ts';
import { answersTo } from '../given.ts';
import type { Rule, TranslationTarget } from '../program.ts';
import { splitByHeader, withSession, type Mapped, type PacketSet, type Parted } from './packetSet.ts';

/** Shifts in more pieces than this are not followed piece by piece: what becomes of the rest is then open. */
const MOST_PIECES = 64;

type TranslationSide = 'source' | 'destination';

/** Translated packets, and those of which it is not known what becomes. */
export interface Translated {
  readonly parts: readonly PacketSet[];
  readonly open: readonly PacketSet[];
}

/** Where packets are translated to: the rule that says so, at the stop that does it. */
export interface Translation {
  readonly side: TranslationSide;
  readonly target: TranslationTarget;
  readonly stop: string;
  readonly rule: Rule;
}

/** Translates a set; several sets where the target depends on what was sent, or on what is not known. */
export function translateSet(set: PacketSet, t: Translation): Translated {
  const range = t.target.addresses;
  // An address of the other family binds nothing.
  if (range && range.first.family !== set.family) return { parts: [set], open: [] };
  const moved = moveAddress(set, t);
  const ported = moved.parts.map((part) => movePort(part, t.side, t.target.ports));
  return {
    parts: ported.flatMap((p) => p.parts).flatMap((part) => bound(part, set, t.side)),
    open: [...moved.open, ...ported.flatMap((p) => p.open)],
  };
}

/** The session remembers the translation; equal values leave no trace, as in the kernel. */
function bound(part: PacketSet, before: PacketSet, side: TranslationSide): PacketSet[] {
  const port: HeaderName = side === 'destination' ? 'dport' : 'sport';
  const done = side === 'destination' ? { destinationDone: true } : { sourceDone: true };
  const translated = side === 'destination' ? { destinationTranslated: true } : { sourceTranslated: true };
  const byAddress = splitSame(part, before.now[side], part.now[side]);
  const byPort = byAddress.hit
    ? splitSame(byAddress.hit, before.now[port], part.now[port])
    : { hit: null, miss: null };
  const changed = [byAddress.miss, byPort.miss].flatMap((p) => (p ? [p] : []));
  return [
    ...(byPort.hit ? [withSession(byPort.hit, done)] : []),
    ...changed.map((p) => withSession(p, { ...done, ...translated })),
  ];
}

/** Packets in which a header has stayed what it was, and the others. */
function splitSame(set: PacketSet, before: Mapped, after: Mapped): Parted {
  if ('value' in after) return splitByHeader(set, before, [{ first: after.value, last: after.value }]);
  const same = 'from' in before && before.from === after.from && before.by === after.by;
  return same ? { hit: set, miss: null } : { hit: null, miss: set };
}

const point = (set: PacketSet, bits: bigint): Point => (set.family === 4 ? Number(bits) : bits);

const withHeader = (set: PacketSet, name: HeaderName, mapped: Mapped): PacketSet => ({
  ...set,
  now: { ...set.now, [name]: mapped },
});

function moveAddress(set: PacketSet, { side, target, stop, rule }: Translation): Translated {
  const range = target.addresses;
  if (!range) return { parts: [set], open: [] };
  if (target.prefix) return movePrefix(set, side, target.prefix.bits, target.prefix.length);
  const count = range.last.bits - range.first.bits + 1n;
  if (count === 1n)
    return { parts: [withHeader(set, side, { value: point(set, range.first.bits) })], open: [] };
  if (count > MOST_RANGE_CHOICES) return { parts: [], open: [set] };
  const ways = answersTo(set.given, rangeQuestion(stop, rule), Number(count));
  const parts = ways.map(({ answer, given }) =>
    withHeader({ ...set, given }, side, { value: point(set, range.first.bits + BigInt(answer)) }),
  );
  return { parts, open: [] };
}

/** One-to-one prefixes: each aligned block of the old addresses is moved as a whole. */
function movePrefix(set: PacketSet, side: TranslationSide, bits: bigint, length: number): Translated {
  const mapped = set.now[side];
  const size = 1n << BigInt(ADDRESS_LENGTH[set.family] - length);
  if ('value' in mapped) {
    const to = point(set, bits | (BigInt(mapped.value) % size));
    return { parts: [withHeader(set, side, { value: to })], open: [] };
  }
  const parts: PacketSet[] = [];
  let rest: PacketSet | null = set;
  for (let n = 0; rest && n < MOST_PIECES; n++) {
    const first = firstValue(rest, mapped);
    const block = first - (first % size);
    const end = block + size - 1n;
    const last = end > MAX_BITS[set.family] ? MAX_BITS[set.family] : end;
    const split: Parted = splitByHeader(rest, mapped, [{ first: point(set, block), last: point(set, last) }]);
    const by = bits - block;
    const shift = set.family === 4 ? Number(mapped.by) + Number(by) : BigInt(mapped.by) + by;
    if (split.hit) parts.push(withHeader(split.hit, side, { from: mapped.from, by: shift }));
    rest = split.miss;
  }
  return { parts, open: rest ? [rest] : [] };
}

const firstValue = (set: PacketSet, mapped: Extract<Mapped, { by: Point }>): bigint =>
  BigInt(set.box[mapped.from][0]?.first ?? 0) + BigInt(mapped.by);

/**
 * Ports: with a base the distance is kept; without, a port inside the range stays and any other becomes the
 * first.
 */
function movePort(set: PacketSet, side: TranslationSide, range: TranslationTarget['ports']): Translated {
  if (!range) return { parts: [set], open: [] };
  const name = side === 'destination' ? 'dport' : 'sport';
  if (range.base !== null) return shiftPort(set, name, range.first, range.last, range.base);
  const inside: Side = [{ first: range.first, last: range.last }];
  const { hit, miss } = splitByHeader(set, set.now[name], inside);
  const parts = [...(hit ? [hit] : []), ...(miss ? [withHeader(miss, name, { value: range.first })] : [])];
  return { parts, open: [] };
}

/**
 * A port as far from the range's first one as the port that came in was from the base, round the range's end.
 * The distance is counted in 16 bits (net/netfilter/nf_nat_core.c): below the base it is a long one.
 */
function shiftPort(
  set: PacketSet,
  name: 'sport' | 'dport',
  first: number,
  last: number,
  base: number,
): Translated {
  const size = last - first + 1;
  const original = set.tracking?.session?.entry[name] ?? set.now[name];
  const wrapped = (port: number): number => first + (((port - base) & 0xffff) % size);
  if (size === 1) return { parts: [withHeader(set, name, { value: first })], open: [] };
  if ('value' in original)
    return { parts: [withHeader(set, name, { value: wrapped(Number(original.value)) })], open: [] };
  const parts: PacketSet[] = [];
  let rest: PacketSet | null = set;
  for (const { start, window } of windowsOf(base, size)) {
    if (!rest || parts.length > MOST_PIECES) break;
    const split: Parted = splitByHeader(rest, original, [window]);
    const by = Number(original.by) + first - start;
    if (split.hit) parts.push(withHeader(split.hit, name, { from: original.from, by }));
    rest = split.miss;
  }
  return { parts, open: rest ? [rest] : [] };
}

/** The windows of a size into which a base cuts the ports, from the base on and round their end. */
function* windowsOf(base: number, size: number) {
  for (const [begin, low, high] of [
    [base, base, 65535],
    [base - 65536, 0, base - 1],
  ] as const)
    for (let start = begin; start <= high; start += size) {
      const window = { first: Math.max(start, low), last: Math.min(start + size - 1, high) };
      if (window.first <= window.last) yield { start, window };
    }
}
