import { type Address, meet, type Point, type Side } from '../net/index.ts';
import {
  type HeaderName,
  type PacketSet,
  headerValues,
  withBoxSide,
  sentSide,
  type Given,
  type Subject,
} from '../rules/index.ts';

/** One packet of a set, for questions that one header decides. */
export function sampleOf(set: PacketSet): {
  -readonly [K in keyof Subject]: Subject[K];
} {
  const first = (header: HeaderName): Point => headerValues(set, set.now[header])[0]?.first ?? 0;
  const address = (header: HeaderName): Address => ({ family: set.family, bits: BigInt(first(header)) });
  return {
    family: set.family,
    protocol: set.protocol,
    source: address('source'),
    destination: address('destination'),
    sport: Number(first('sport')),
    dport: Number(first('dport')),
    icmp: null,
    tcpFlags: set.tcpFlags,
    in: set.in,
    out: set.out,
    nextHop: set.nextHop,
    mark: set.mark,
    tracking: null,
    untracked: set.untracked,
  };
}

export function setHeader(sample: Subject, header: HeaderName, point: Point): void {
  if (header === 'source' || header === 'destination')
    sample[header] = { family: sample.family, bits: BigInt(point) };
  else sample[header] = Number(point);
}

/** A side in the pieces into which the cuts part it. */
export function* piecesOf(side: Side, cuts: readonly Point[]): Generator<{ first: Point; last: Point }> {
  for (const { first, last } of side) {
    let from: Point = first;
    for (let i = firstAbove(cuts, first); i < cuts.length; i++) {
      const cut = cuts[i] as Point;
      if (cut > last) break;
      yield { first: from, last: typeof cut === 'bigint' ? cut - 1n : cut - 1 };
      from = cut;
    }
    yield { first: from, last };
  }
}

export function firstAbove(cuts: readonly Point[], at: Point): number {
  let low = 0;
  let high = cuts.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((cuts[middle] as Point) <= at) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** The packets of a set whose header has one of the values. */
export function restricted(set: PacketSet, header: HeaderName, values: Side): PacketSet | null {
  const mapped = set.now[header];
  if ('value' in mapped) return set;
  const side = meet(set.box[mapped.from], sentSide(set.family, mapped, values));
  return side.length === 0 ? null : withBoxSide(set, mapped.from, side);
}

/** The answers that have come up since, as a key. */
export function answersKey(given: Given | null, since: Given | null): string {
  let key = '';
  for (let g = given; g && g !== since; g = g.before) key += `${g.question.key}=${g.answer};`;
  return key;
}
