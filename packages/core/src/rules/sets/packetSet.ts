import {
  meet,
  moved,
  SIDE,
  sideLine,
  withSide,
  without,
  type Address,
  type Box,
  type Family,
  type Point,
  type Side,
  type SideIndex,
} from '../../net/index.ts';
import type { SourceRef } from '../../place/index.ts';
import type { HeaderName } from '../fields.ts';
import type { Given } from '../given.ts';
import type { Rule } from '../program.ts';
import type { SessionView, Tracked, View } from '../subject.ts';

/** A header field of a set: the sender's own value moved by a constant, or one value whatever was sent. */
export type Mapped = { readonly from: SideIndex; readonly by: Point } | { readonly value: Point };

/** The four header fields as functions of what was sent. */
export type Headers = Readonly<Record<HeaderName, Mapped>>;

/** What a machine's connection tracking remembers of all packets of a set. */
export interface SetSession extends SessionView {
  /** The headers as they came into the machine. */
  readonly entry: Headers;
  readonly destinationDone: boolean;
  readonly sourceDone: boolean;
}

/** Rules that let a set pass or translated it, newest first. */
export interface Trail {
  readonly stop: string;
  readonly rule: Rule;
  readonly before: Trail | null;
}

/**
 * A set of first packets (a SYN, RFC 9293 §3.5; a datagram) that have met the same fate so far. `box` holds
 * what was sent; everything else is a function of it or the same for all of them.
 */
export interface PacketSet extends View {
  readonly box: Box;
  readonly now: Headers;
  readonly tracking: Tracked<SetSession> | null;
  /** The next router; null where the packets go to their destinations directly, or are not routed yet. */
  readonly nextHop: Address | null;
  /** What has to be so, of all that is not known, for the packets to come this far. */
  readonly given: Given | null;
  readonly trail: Trail | null;
}

const zero = (family: Family, side: SideIndex): Point =>
  family === 6 && (side === SIDE.source || side === SIDE.destination) ? 0n : 0;

const sent = (family: Family, side: SideIndex): Mapped => ({ from: side, by: zero(family, side) });

/** The headers as they were sent. */
const sentHeaders = (family: Family): Headers => ({
  source: sent(family, SIDE.source),
  destination: sent(family, SIDE.destination),
  sport: sent(family, SIDE.sport),
  dport: sent(family, SIDE.dport),
});

/** Flags of a first packet and of a later one (RFC 9293 §3.1). */
export const TCP_FLAGS = { first: 0x02, later: 0x12 } as const;

/** All packets of a box, as they are sent. */
export const packetSet = (family: Family, protocol: number, box: Box): PacketSet => ({
  family,
  protocol,
  icmp: null,
  tcpFlags: protocol === 6 ? TCP_FLAGS.first : null,
  in: null,
  out: null,
  mark: 0,
  tracking: null,
  untracked: false,
  box,
  now: sentHeaders(family),
  nextHop: null,
  given: null,
  trail: null,
});

/** A set as it comes into the next machine: nothing of the last one's memory stays. */
export const arriving = (set: PacketSet, device: string | null): PacketSet => ({
  ...set,
  in: device,
  out: null,
  mark: 0,
  tracking: null,
  untracked: false,
  nextHop: null,
});

/** The session of new packets, before anything has translated them. */
export const newSetSession = (set: PacketSet): SetSession => ({
  protocol: set.protocol,
  family: set.family,
  entry: set.now,
  mark: 0,
  destinationDone: false,
  sourceDone: false,
  destinationTranslated: false,
  sourceTranslated: false,
  sawReply: false,
  assured: false,
  confirmed: false,
});

export const withSession = (set: PacketSet, change: Partial<SetSession>): PacketSet =>
  set.tracking?.session
    ? { ...set, tracking: { ...set.tracking, session: { ...set.tracking.session, ...change } } }
    : set;

export const withTrail = (set: PacketSet, stop: string, rule: Rule): PacketSet => ({
  ...set,
  trail: { stop, rule, before: set.trail },
});

/** The rules of a trail, oldest first. */
export function trailOf(set: PacketSet): { stop: string; rule: Rule; source: SourceRef | null }[] {
  const out: { stop: string; rule: Rule; source: SourceRef | null }[] = [];
  for (let t = set.trail; t; t = t.before) out.unshift({ stop: t.stop, rule: t.rule, source: t.rule.source });
  return out;
}

const negated = (by: Point): Point => -by;

/** Values of a header that fulfil a condition, in terms of what was sent. */
export const sentSide = (family: Family, mapped: Extract<Mapped, { from: SideIndex }>, values: Side): Side =>
  moved(sideLine(family, mapped.from), values, negated(mapped.by));

/** The values that a header has in a set. */
export const headerValues = (set: PacketSet, mapped: Mapped): Side =>
  'value' in mapped
    ? [{ first: mapped.value, last: mapped.value }]
    : moved(sideLine(set.family, mapped.from), set.box[mapped.from], mapped.by);

/** Whether a header of the set has any of the values. */
export function touches(set: PacketSet, mapped: Mapped, values: Side): boolean {
  if ('value' in mapped) return meetsAny(values, mapped.value, mapped.value);
  const side = set.box[mapped.from];
  const wanted = isZero(mapped.by) ? values : shifted(values, mapped.by);
  const [few, many] = wanted.length <= side.length ? [wanted, side] : [side, wanted];
  return few.some((part) => meetsAny(many, part.first, part.last));
}

const isZero = (by: Point): boolean => by === 0 || by === 0n;

const shifted = (side: Side, by: Point): Side => {
  const back = (p: Point): Point => (typeof p === 'bigint' ? p - BigInt(by) : p - Number(by));
  return side.map((i) => ({ first: back(i.first), last: back(i.last) }));
};

/** Whether any part of a side has a point from `first` to `last`; logarithmic in the number of its parts. */
export function meetsAny(side: Side, first: Point, last: Point): boolean {
  let low = 0;
  let high = side.length - 1;
  while (low <= high) {
    const middle = (low + high) >> 1;
    const part = side[middle] as Side[number];
    if (last < part.first) high = middle - 1;
    else if (first > part.last) low = middle + 1;
    else return true;
  }
  return false;
}

/** The two parts of a set: packets that fulfil a condition, and the others. */
export interface Parted {
  readonly hit: PacketSet | null;
  readonly miss: PacketSet | null;
}

/** Splits a set by a header's values: those among the wanted ones, and the rest. */
export function splitByHeader(set: PacketSet, mapped: Mapped, values: Side): Parted {
  if ('value' in mapped)
    return meetsAny(values, mapped.value, mapped.value) ? { hit: set, miss: null } : { hit: null, miss: set };
  const wanted = sentSide(set.family, mapped, values);
  const inside = meet(set.box[mapped.from], wanted);
  if (inside.length === 0) return { hit: null, miss: set };
  const rest = without(sideLine(set.family, mapped.from), set.box[mapped.from], wanted);
  return rest.length === 0
    ? { hit: set, miss: null }
    : { hit: withBoxSide(set, mapped.from, inside), miss: withBoxSide(set, mapped.from, rest) };
}

export const withBoxSide = (set: PacketSet, index: SideIndex, side: Side): PacketSet => ({
  ...set,
  box: withSide(set.box, index, side),
});
