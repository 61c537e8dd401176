import { hasAddress, includes, type Address, type Family } from '../net/index.ts';
import { CT_STATE, CT_STATUS, type Field, type ValueSet } from './program.ts';
import type { Subject, Tracking } from './subject.ts';

export type FieldValue = number | string | Address;

/** What a machine knows beyond the packet: needed by the fields that look at routes. */
export interface Surroundings {
  addressType(subject: Subject, side: 'source' | 'destination', only: 'in' | 'out' | null): number | Missing;
  /** Time to live (RFC 791 §3.2) or hop limit (RFC 8200 §3) on arrival. */
  hopsLeft(subject: Subject): number | Missing;
  reversePath(subject: Subject, useMark: boolean, useInterface: boolean): number | Missing;
}

/** A value that the evidence does not hold. */
export interface Missing {
  readonly missing: string;
}

export const isMissing = (value: unknown): value is Missing => typeof value === 'object' && value !== null && 'missing' in value;

const ofFamily = (a: Address, family: Family | null): Address | null => (family === null || a.family === family ? a : null);

function ctStatus({ session }: Tracking): number {
  if (!session) return 0;
  return (
    (session.sourceTranslated ? CT_STATUS.snat : 0) | (session.destinationTranslated ? CT_STATUS.dnat : 0) |
    (session.sawReply ? CT_STATUS['seen-reply'] : 0) | (session.confirmed ? CT_STATUS.confirmed : 0)
  );
}

/**
 * The value of a field for a packet.
 * @returns null where the packet has no such field: the rule then misses, negated or not
 */
export function readField(field: Field, subject: Subject, around: Surroundings): FieldValue | Missing | null {
  switch (field.of) {
    case 'source': return ofFamily(subject.source, field.family);
    case 'destination': return ofFamily(subject.destination, field.family);
    case 'sport': return field.protocol === null || field.protocol === subject.protocol ? subject.sport : null;
    case 'dport': return field.protocol === null || field.protocol === subject.protocol ? subject.dport : null;
    case 'protocol': return subject.protocol;
    case 'family': return subject.family === 4 ? 2 : 10;
    case 'in': return subject.in;
    case 'out': return subject.out;
    case 'mark': return subject.mark;
    case 'packet-type': return 0;
    case 'tcp-flags': return subject.tcpFlags;
    case 'hops-left': return field.family === subject.family ? around.hopsLeft(subject) : null;
    case 'random': return { missing: 'the rule throws dice' };
    case 'icmp-type': return subject.protocol === field.protocol ? (subject.icmp?.type ?? null) : null;
    case 'icmp-code': return subject.protocol === field.protocol ? (subject.icmp?.code ?? null) : null;
    case 'and': {
      const value = readField(field.field, subject, around);
      return typeof value === 'number' ? (value & field.mask) >>> 0 : value;
    }
    case 'address-type': return around.addressType(subject, field.side, field.only);
    case 'reverse-path': return around.reversePath(subject, field.mark, field.interface);
    // Without tracking (before priority -200) the kernel reports the state as invalid and every other ct field breaks the rule.
    case 'ct-state': return subject.untracked ? CT_STATE.untracked : subject.tracking ? CT_STATE[subject.tracking.state] : CT_STATE.invalid;
    default: return subject.tracking ? readTracking(field, subject.tracking) : null;
  }
}

function readTracking(field: Field, tracking: Tracking): FieldValue | null {
  const { session } = tracking;
  if (!session) return null;
  switch (field.of) {
    case 'ct-status': return ctStatus(tracking);
    case 'ct-direction': return tracking.direction === 'original' ? 0 : 1;
    case 'ct-mark': return session.mark;
    case 'ct-protocol': return session.original.transport === 'tcp' ? 6 : 17;
    case 'ct-family': return session.original.source.address.family === 4 ? 2 : 10;
    case 'ct-source': return ofFamily(session[field.direction].source.address, field.family);
    case 'ct-destination': return ofFamily(session[field.direction].destination.address, field.family);
    case 'ct-sport': return session[field.direction].source.port;
    case 'ct-dport': return session[field.direction].destination.port;
    default: return null;
  }
}

/** Whether the value is one of the set's. */
export function inValues(set: ValueSet, value: FieldValue): boolean {
  switch (set.type) {
    case 'numbers': return typeof value === 'number' && includes(set.set, value);
    case 'bits': return typeof value === 'number' && (value & set.mask) !== 0;
    case 'addresses': return typeof value === 'object' && hasAddress(set.set, value);
    case 'names': return typeof value === 'string' && set.names.some((name) => matchesName(name, value));
  }
}

const matchesName = (pattern: string, name: string): boolean => (pattern.endsWith('*') ? name.startsWith(pattern.slice(0, -1)) : pattern === name);
