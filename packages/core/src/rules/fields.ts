import type { Need } from './needs.ts';
import { hasAddress, includes, type Address, type Family } from '../net/index.ts';
import { CT_STATE, CT_STATUS, PACKET_TYPE, type Field, type ValueSet } from './program.ts';
import type { Direction, SessionView, Subject, View } from './subject.ts';

export type FieldValue = number | string | Address;

/** A value that the evidence does not hold. */
export interface Missing {
  readonly missing: Need;
}

export const isMissing = (value: unknown): value is Missing =>
  typeof value === 'object' && value !== null && 'missing' in value;

/** The four header fields in which the packets of one set may differ. */
export type HeaderName = 'source' | 'destination' | 'sport' | 'dport';

/** A header field, of the packet itself or as its session remembers it. */
export interface HeaderRef {
  readonly header: HeaderName;
  readonly of: 'packet' | Direction;
  /** Ports only: these bits of it. */
  readonly mask: number | null;
}

/** Fields that the machine has to look up: in its routes, or in what the packet has left of its hops. */
export type LookupField = Extract<Field, { of: 'address-type' | 'reverse-path' | 'hops-left' }>;

/**
 * What a field is for whatever moves: a header field, one value, a lookup, a value nobody knows, or null:
 * nothing, the rule misses.
 */
export type Reading = HeaderRef | LookupField | number | string | Missing | null;

export const isHeader = (reading: Reading): reading is HeaderRef =>
  typeof reading === 'object' && reading !== null && 'header' in reading;

export const isLookup = (reading: Reading): reading is LookupField =>
  typeof reading === 'object' && reading !== null && 'of' in reading && !('header' in reading);

const ref = (header: HeaderName, of: HeaderRef['of']): HeaderRef => ({ header, of, mask: null });
const refs = (of: HeaderRef['of']): Readonly<Record<HeaderName, HeaderRef>> => ({
  source: ref('source', of),
  destination: ref('destination', of),
  sport: ref('sport', of),
  dport: ref('dport', of),
});
const HEADERS = { packet: refs('packet'), original: refs('original'), reply: refs('reply') };

/** Numbers of the address families as `meta nfproto` compares them (linux/socket.h). */
const FAMILY_NUMBER: Readonly<Record<Family, number>> = { 4: 2, 6: 10 };
const RANDOM: Missing = { missing: { need: 'dice' } };

/** What a session is for a field; null where tracking knows none. */
const ofSession = (view: View, read: (session: SessionView) => Reading): Reading =>
  view.untracked || !view.tracking?.session ? null : read(view.tracking.session);

/**
 * IPS_SRC_NAT_DONE and IPS_DST_NAT_DONE (nf_conntrack_common.h): no rule can name them, and they keep a whole
 * status from being equal to a word.
 */
const SOURCE_DONE = 0x80;
const DESTINATION_DONE = 0x100;

const statusOf = (session: SessionView): number =>
  (session.sourceTranslated ? CT_STATUS.snat : 0) |
  (session.destinationTranslated ? CT_STATUS.dnat : 0) |
  (session.sourceDone ? SOURCE_DONE : 0) |
  (session.destinationDone ? DESTINATION_DONE : 0) |
  (session.assured ? CT_STATUS.assured : 0) |
  (session.sawReply ? CT_STATUS['seen-reply'] : 0) |
  (session.confirmed ? CT_STATUS.confirmed : 0);

/**
 * Without tracking (before priority -200) the kernel reports the state as invalid, and every other ct field
 * breaks the rule.
 */
function stateOf(view: View): number {
  if (view.untracked) return CT_STATE.untracked;
  return view.tracking ? CT_STATE[view.tracking.state] : CT_STATE.invalid;
}

function masked(reading: Reading, mask: number): Reading {
  if (typeof reading === 'number') return (reading & mask) >>> 0;
  return isHeader(reading) && (reading.header === 'sport' || reading.header === 'dport')
    ? { ...reading, mask }
    : reading;
}

/** The members of the union that have this name among theirs. */
type FieldOf<K extends Field['of'], F = Field> = F extends { readonly of: infer O }
  ? K extends O
    ? F
    : never
  : never;
type Reader<K extends Field['of']> = (field: FieldOf<K>, view: View) => Reading;

const addressReader =
  (name: 'source' | 'destination'): Reader<'source' | 'destination'> =>
  (field, view) =>
    field.family === null || field.family === view.family ? HEADERS.packet[name] : null;

const portReader =
  (name: 'sport' | 'dport'): Reader<'sport' | 'dport'> =>
  (field, view) =>
    field.protocol === null || field.protocol === view.protocol ? HEADERS.packet[name] : null;

const sessionAddressReader =
  (name: 'source' | 'destination'): Reader<'ct-source' | 'ct-destination'> =>
  (field, view) =>
    ofSession(view, (s) =>
      field.family === null || field.family === s.family ? HEADERS[field.direction][name] : null,
    );

const sessionPortReader =
  (name: 'sport' | 'dport'): Reader<'ct-sport' | 'ct-dport'> =>
  (field, view) =>
    ofSession(view, () => HEADERS[field.direction][name]);

/** Every field once, for single packets and for sets of packets alike. */
const READERS: { readonly [K in Field['of']]: Reader<K> } = {
  source: addressReader('source'),
  destination: addressReader('destination'),
  sport: portReader('sport'),
  dport: portReader('dport'),
  protocol: (field, view) =>
    field.family === undefined || field.family === view.family ? view.protocol : null,
  family: (_, view) => FAMILY_NUMBER[view.family],
  in: (_, view) => view.in,
  out: (_, view) => view.out,
  mark: (_, view) => view.mark,
  'packet-type': () => PACKET_TYPE.host,
  'tcp-flags': (_, view) => view.tcpFlags,
  random: () => RANDOM,
  'hops-left': (field, view) => (field.family === view.family ? field : null),
  'icmp-type': (field, view) => (view.protocol === field.protocol ? (view.icmp?.type ?? null) : null),
  'icmp-code': (field, view) => (view.protocol === field.protocol ? (view.icmp?.code ?? null) : null),
  and: (field, view) => masked(readField(field.field, view), field.mask),
  'address-type': (field) => field,
  'reverse-path': (field) => field,
  'ct-state': (_, view) => stateOf(view),
  'ct-status': (_, view) => ofSession(view, statusOf),
  'ct-direction': (_, view) => ofSession(view, () => (view.tracking?.direction === 'original' ? 0 : 1)),
  'ct-mark': (_, view) => ofSession(view, (s) => s.mark),
  'ct-protocol': (_, view) => ofSession(view, (s) => s.protocol),
  'ct-family': (_, view) => ofSession(view, (s) => FAMILY_NUMBER[s.family]),
  'ct-source': sessionAddressReader('source'),
  'ct-destination': sessionAddressReader('destination'),
  'ct-sport': sessionPortReader('sport'),
  'ct-dport': sessionPortReader('dport'),
};

/** What a field is for whatever moves. */
export const readField = (field: Field, view: View): Reading =>
  (READERS[field.of] as (field: Field, view: View) => Reading)(field, view);

/** What a machine knows beyond the packet. */
export interface Surroundings {
  /** The value of a field that looks at routes or hops. */
  lookUp(field: LookupField, subject: Subject): number | Missing;
}

/**
 * The value of a field for one packet.
 * @returns null where the packet has no such field: the rule then misses, negated or not
 */
export function valueOf(field: Field, subject: Subject, around: Surroundings): FieldValue | Missing | null {
  const reading = readField(field, subject);
  if (typeof reading !== 'object' || reading === null) return reading;
  if ('header' in reading) return headerValue(reading, subject);
  return 'of' in reading ? around.lookUp(reading, subject) : reading;
}

function headerValue({ header, of, mask }: HeaderRef, subject: Subject): FieldValue | null {
  const value = of === 'packet' ? subject[header] : sessionHeader(subject, of, header);
  return mask === null || typeof value !== 'number' ? value : (value & mask) >>> 0;
}

function sessionHeader(subject: Subject, of: Direction, header: HeaderName): FieldValue | null {
  const remembered = subject.tracking?.session?.[of];
  if (!remembered) return null;
  switch (header) {
    case 'source':
      return remembered.source.address;
    case 'destination':
      return remembered.destination.address;
    case 'sport':
      return remembered.source.port;
    case 'dport':
      return remembered.destination.port;
  }
}

/** Whether the value is one of the set's. */
export function inValues(set: ValueSet, value: FieldValue): boolean {
  switch (set.type) {
    case 'numbers':
      return typeof value === 'number' && includes(set.set, value);
    case 'bits':
      return typeof value === 'number' && (value & set.mask) !== 0;
    case 'addresses':
      return typeof value === 'object' && hasAddress(set.set, value);
    case 'names':
      return typeof value === 'string' && set.names.some((name) => matchesName(name, value));
  }
}

const matchesName = (pattern: string, name: string): boolean =>
  pattern.endsWith('*') ? name.startsWith(pattern.slice(0, -1)) : pattern === name;
