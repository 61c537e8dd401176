import { MAX_BITS, type Point, type Side } from '../../net/index.ts';
import type { TranslationTarget } from '../program.ts';
import { splitByHeader, type Beam, type Headers, type Mapped } from './beam.ts';

/** Address ranges of more than this, or shifts in more pieces, are not followed piece by piece: the beam then counts as possible only. */
const MOST_PIECES = 64;

/** Translates a beam; several beams where the target depends on what was sent. */
export function turned(b: Beam, side: 'source' | 'destination', target: TranslationTarget): Beam[] {
  const [address, port] = side === 'destination' ? (['destination', 'dport'] as const) : (['source', 'sport'] as const);
  const done: Beam = side === 'destination' ? { ...b, destinationDone: true } : { ...b, sourceDone: true };
  return moveAddress(done, address, target).flatMap((x) => movePort(x, port, target.ports)).map((x) => ({ ...x, ...flags(x, b, side, address, port) }));
}

/** Equal values leave no trace, as in the kernel. */
function flags(x: Beam, before: Beam, side: 'source' | 'destination', address: keyof Headers, port: keyof Headers): Partial<Beam> {
  const changed = !same(x.now[address], before.now[address]) || !same(x.now[port], before.now[port]);
  return side === 'destination' ? { destinationTurned: b(before.destinationTurned, changed) } : { sourceTurned: b(before.sourceTurned, changed) };
}

const b = (before: boolean, changed: boolean): boolean => before || changed;
const same = (a: Mapped, c: Mapped): boolean => ('value' in a ? 'value' in c && a.value === c.value : 'from' in c && a.from === c.from && a.by === c.by);

const point = (beam: Beam, bits: bigint): Point => (beam.family === 4 ? Number(bits) : bits);
const withHeader = (beam: Beam, name: keyof Headers, mapped: Mapped): Beam => ({ ...beam, now: { ...beam.now, [name]: mapped } });

function moveAddress(beam: Beam, name: 'source' | 'destination', target: TranslationTarget): Beam[] {
  const range = target.addresses;
  if (!range) return [beam];
  if (range.first.family !== beam.family) return [beam];
  if (target.prefix) return movePrefix(beam, name, target.prefix.bits, target.prefix.length);
  const count = range.last.bits - range.first.bits + 1n;
  if (count === 1n) return [withHeader(beam, name, { value: point(beam, range.first.bits) })];
  // Which address of a range the kernel takes nobody can foretell.
  const pieces = count > BigInt(MOST_PIECES) ? MOST_PIECES : Number(count);
  return Array.from({ length: pieces }, (_, i) => withHeader({ ...beam, maybe: true }, name, { value: point(beam, range.first.bits + BigInt(i)) }));
}

/** One-to-one prefixes: each aligned block of the old addresses is moved as a whole. */
function movePrefix(beam: Beam, name: 'source' | 'destination', bits: bigint, length: number): Beam[] {
  const mapped = beam.now[name];
  const size = 1n << BigInt((beam.family === 4 ? 32 : 128) - length);
  if ('value' in mapped) return [withHeader(beam, name, { value: point(beam, bits | (BigInt(mapped.value) % size)) })];
  const out: Beam[] = [];
  let rest: Beam | null = beam;
  for (let n = 0; rest && n < MOST_PIECES; n++) {
    const first = BigInt(currentFirst(rest, mapped));
    const block = first - (first % size);
    const last = block + size - 1n > MAX_BITS[beam.family] ? MAX_BITS[beam.family] : block + size - 1n;
    const split: { hit: Beam | null; miss: Beam | null } = splitByHeader(rest, mapped, [{ first: point(beam, block), last: point(beam, last) }]);
    const by = bits - block;
    if (split.hit) out.push(withHeader(split.hit, name, { from: mapped.from, by: beam.family === 4 ? Number(mapped.by) + Number(by) : BigInt(mapped.by) + by }));
    rest = split.miss;
  }
  if (rest) out.push({ ...rest, maybe: true });
  return out;
}

const currentFirst = (beam: Beam, mapped: Extract<Mapped, { by: Point }>): Point => {
  const first = beam.box[mapped.from][0]!.first;
  return typeof first === 'bigint' ? first + BigInt(mapped.by) : first + Number(mapped.by);
};

/** Ports: with a base the distance is kept; without, a port inside the range stays and any other becomes the first. */
function movePort(beam: Beam, name: 'sport' | 'dport', range: TranslationTarget['ports']): Beam[] {
  if (!range) return [beam];
  const mapped = beam.now[name];
  const window: Side = [{ first: range.first, last: range.last }];
  if (range.base === null) {
    const { hit, miss } = splitByHeader(beam, mapped, window);
    return [...(hit ? [hit] : []), ...(miss ? [withHeader(miss, name, { value: range.first })] : [])];
  }
  const size = range.last - range.first + 1;
  const original = beam.entry[name];
  if ('value' in original) return [withHeader(beam, name, { value: range.first + ((((Number(original.value) - range.base) % size) + size) % size) })];
  const out: Beam[] = [];
  let rest: Beam | null = beam;
  const pieces = Array.from({ length: Math.ceil(65536 / size) + 1 }, (_, i) => range.base! + (i % 2 === 0 ? i / 2 : -(i + 1) / 2) * size);
  for (const from of pieces) {
    if (!rest || out.length > MOST_PIECES) break;
    const first = Math.max(from, 0);
    const last = Math.min(from + size - 1, 65535);
    if (first > last) continue;
    const split: { hit: Beam | null; miss: Beam | null } = splitByHeader(rest, original, [{ first, last }]);
    if (split.hit) out.push(withHeader(split.hit, name, { from: original.from, by: Number(original.by) + range.first - from }));
    rest = split.miss;
  }
  if (rest) out.push({ ...withHeader(rest, name, { value: range.first }), maybe: true });
  return out;
}

