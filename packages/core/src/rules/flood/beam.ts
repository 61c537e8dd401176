import { meet, moved, SIDE, sideLine, sideOfAddresses, withSide, without, type Box, type Family, type Point, type Side, type SideIndex } from '../../net/index.ts';
import type { SourceRef } from '../../site/source.ts';
import { CT_STATE, CT_STATUS, type Field, type Rule, type ValueSet } from '../program.ts';

/** A header field of a beam: the sender's own value moved by a constant, or one value whatever was sent. */
export type Mapped = { readonly from: SideIndex; readonly by: Point } | { readonly value: Point };

/** The four header fields as functions of what was sent. */
export interface Headers {
  readonly source: Mapped;
  readonly destination: Mapped;
  readonly sport: Mapped;
  readonly dport: Mapped;
}

export type HeaderName = keyof Headers;

/** Rules that let a beam pass or turned it, newest first. */
export interface Trail {
  readonly stop: string;
  readonly rule: Rule;
  readonly before: Trail | null;
}

/**
 * A set of first packets that have met the same fate so far. `box` holds what was sent; everything else is a function of it or the
 * same for all of them.
 */
export interface Beam {
  readonly family: Family;
  /** IANA protocol number: 6 or 17. */
  readonly protocol: number;
  readonly box: Box;
  readonly now: Headers;
  /** The headers as they came into the machine (what its session remembers as original). */
  readonly entry: Headers;
  readonly in: string | null;
  readonly out: string | null;
  readonly mark: number;
  readonly ctMark: number;
  readonly tracked: 'not-yet' | 'new' | 'established' | 'related' | 'invalid' | 'untracked';
  readonly destinationDone: boolean;
  readonly sourceDone: boolean;
  readonly destinationTurned: boolean;
  readonly sourceTurned: boolean;
  /** Something that is not known has to be so for the beam to come this far. */
  readonly maybe: boolean;
  readonly trail: Trail | null;
}

const zero = (family: Family, side: SideIndex): Point => (family === 6 && (side === SIDE.source || side === SIDE.destination) ? 0n : 0);

/** The headers as they were sent. */
export const sentHeaders = (family: Family): Headers => ({
  source: { from: SIDE.source, by: zero(family, SIDE.source) }, destination: { from: SIDE.destination, by: zero(family, SIDE.destination) }, sport: { from: SIDE.sport, by: 0 }, dport: { from: SIDE.dport, by: 0 },
});

export function beamOf(family: Family, protocol: number, box: Box): Beam {
  const headers = sentHeaders(family);
  return { family, protocol, box, now: headers, entry: headers, in: null, out: null, mark: 0, ctMark: 0, tracked: 'not-yet', destinationDone: false, sourceDone: false, destinationTurned: false, sourceTurned: false, maybe: false, trail: null };
}

/** A beam as it comes into the next machine: nothing of the last one's memory stays. */
export const arriving = (beam: Beam, device: string): Beam => ({ ...beam, entry: beam.now, in: device, out: null, mark: 0, ctMark: 0, tracked: 'not-yet', destinationDone: false, sourceDone: false, destinationTurned: false, sourceTurned: false });

/** What a field is for a beam: a header, one value, nothing (the rule misses), or not known. */
export type FloodField = { readonly is: 'header'; readonly header: Mapped } | { readonly is: 'value'; readonly value: number | string } | { readonly is: 'absent' } | { readonly is: 'unknown'; readonly why: string };

const header = (h: Mapped): FloodField => ({ is: 'header', header: h });
const value = (v: number | string | null): FloodField => (v === null ? { is: 'absent' } : { is: 'value', value: v });
const ABSENT: FloodField = { is: 'absent' };

/** Reads a field of a beam of first packets (RFC 9293 §3.5: a SYN; for UDP a datagram). */
export function floodField(field: Field, b: Beam): FloodField {
  switch (field.of) {
    case 'source': case 'destination': return field.family === null || field.family === b.family ? header(b.now[field.of]) : ABSENT;
    case 'sport': case 'dport': return field.protocol === null || field.protocol === b.protocol ? header(b.now[field.of]) : ABSENT;
    case 'protocol': return value(b.protocol);
    case 'family': return value(b.family === 4 ? 2 : 10);
    case 'in': return value(b.in);
    case 'out': return value(b.out);
    case 'mark': return value(b.mark);
    case 'packet-type': return value(0);
    case 'tcp-flags': return value(b.protocol === 6 ? (b.tracked === 'established' ? 0x12 : 0x02) : null);
    case 'icmp-type': case 'icmp-code': return ABSENT;
    case 'and': {
      const inner = floodField(field.field, b);
      return inner.is === 'value' && typeof inner.value === 'number' ? value((inner.value & field.mask) >>> 0) : inner.is === 'header' ? { is: 'unknown', why: 'a masked header field' } : inner;
    }
    case 'ct-state': return value(b.tracked === 'not-yet' ? CT_STATE.invalid : CT_STATE[b.tracked]);
    case 'hops-left': case 'random': return { is: 'unknown', why: field.of === 'random' ? 'the rule throws dice' : 'the time to live' };
    case 'address-type': case 'reverse-path': return { is: 'unknown', why: 'a route lookup' };
    default: return trackedField(field, b);
  }
}

function trackedField(field: Field, b: Beam): FloodField {
  if (b.tracked === 'not-yet' || b.tracked === 'untracked' || b.tracked === 'invalid') return ABSENT;
  switch (field.of) {
    case 'ct-status': return value((b.sourceTurned ? CT_STATUS.snat : 0) | (b.destinationTurned ? CT_STATUS.dnat : 0) | (b.tracked === 'established' ? CT_STATUS['seen-reply'] | CT_STATUS.confirmed : 0));
    case 'ct-direction': return value(0);
    case 'ct-mark': return value(b.ctMark);
    case 'ct-protocol': return value(b.protocol);
    case 'ct-family': return value(b.family === 4 ? 2 : 10);
    // The answer's source is where the question goes to now.
    case 'ct-source': return field.family === null || field.family === b.family ? header(field.direction === 'original' ? b.entry.source : b.now.destination) : ABSENT;
    case 'ct-destination': return field.family === null || field.family === b.family ? header(field.direction === 'original' ? b.entry.destination : b.now.source) : ABSENT;
    case 'ct-sport': return header(field.direction === 'original' ? b.entry.sport : b.now.dport);
    case 'ct-dport': return header(field.direction === 'original' ? b.entry.dport : b.now.sport);
    default: return ABSENT;
  }
}

const sides = new WeakMap<ValueSet, Partial<Record<Family, Side>>>();

/** A value set as a side of a box; null for sets that headers cannot be compared with. */
export function sideOf(set: ValueSet, family: Family): Side | null {
  if (set.type !== 'addresses' && set.type !== 'numbers') return null;
  let cached = sides.get(set);
  if (!cached) sides.set(set, (cached = {}));
  return (cached[family] ??= set.type === 'addresses' ? sideOfAddresses(family, set.set[family]) : set.set);
}

/** Values of a header that fulfil a condition, in terms of what was sent. */
export function sentSide(family: Family, mapped: Extract<Mapped, { from: SideIndex }>, set: Side): Side {
  return moved(sideLine(family, mapped.from), set, typeof mapped.by === 'bigint' ? -mapped.by : -mapped.by);
}

/** Whether a header of the beam has any of the values. */
export function touches(b: Beam, mapped: Mapped, set: Side): boolean {
  if ('value' in mapped) return holds(set, mapped.value);
  return overlaps(b.box[mapped.from], set, mapped.by);
}

function holds(set: Side, value: Point): boolean {
  let low = 0;
  let high = set.length - 1;
  while (low <= high) {
    const middle = (low + high) >> 1;
    const part = set[middle]!;
    if (value < part.first) high = middle - 1;
    else if (value > part.last) low = middle + 1;
    else return true;
  }
  return false;
}

/** Whether the side, moved by a constant, meets the set. Nearly all of these questions are answered by the ends or a short walk. */
function overlaps(side: Side, set: Side, by: Point): boolean {
  const sent = by === 0 || by === 0n ? set : set.map((i) => ({ first: typeof i.first === 'bigint' ? i.first - BigInt(by) : i.first - Number(by), last: typeof i.last === 'bigint' ? i.last - BigInt(by) : i.last - Number(by) }));
  const [few, many] = sent.length <= side.length ? [sent, side] : [side, sent];
  return few.some((part) => meetsAny(many, part.first, part.last));
}

function meetsAny(many: Side, first: Point, last: Point): boolean {
  let low = 0;
  let high = many.length - 1;
  while (low <= high) {
    const middle = (low + high) >> 1;
    const part = many[middle]!;
    if (last < part.first) high = middle - 1;
    else if (first > part.last) low = middle + 1;
    else return true;
  }
  return false;
}

/** Splits a beam by a header's values: those in the set, and the rest. */
export function splitByHeader(b: Beam, mapped: Mapped, set: Side): { hit: Beam | null; miss: Beam | null } {
  if ('value' in mapped) return set.some((i) => mapped.value >= i.first && mapped.value <= i.last) ? { hit: b, miss: null } : { hit: null, miss: b };
  const sent = sentSide(b.family, mapped, set);
  const inside = meet(b.box[mapped.from], sent);
  if (inside.length === 0) return { hit: null, miss: b };
  const rest = without(sideLine(b.family, mapped.from), b.box[mapped.from], sent);
  return { hit: rest.length === 0 ? b : { ...b, box: withSide(b.box, mapped.from, inside) }, miss: rest.length === 0 ? null : { ...b, box: withSide(b.box, mapped.from, rest) } };
}

/** The values that a header has in a beam. */
export function headerValues(b: Beam, mapped: Mapped): Side {
  return 'value' in mapped ? [{ first: mapped.value, last: mapped.value }] : moved(sideLine(b.family, mapped.from), b.box[mapped.from], mapped.by);
}

export const withTrail = (b: Beam, stop: string, rule: Rule): Beam => ({ ...b, trail: { stop, rule, before: b.trail } });

/** The rules of a trail, oldest first. */
export function trailOf(b: Beam): { stop: string; rule: Rule; source: SourceRef | null }[] {
  const out: { stop: string; rule: Rule; source: SourceRef | null }[] = [];
  for (let t = b.trail; t; t = t.before) out.unshift({ stop: t.stop, rule: t.rule, source: t.rule.source });
  return out;
}
