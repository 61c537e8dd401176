import {
  addressRange,
  addressSet,
  addressUnionOf,
  ALL_ADDRESSES,
  addressDifference,
  MAX_BITS,
  parseAddress,
  parsePrefix,
  type AddressSet,
  PROTOCOL_NUMBER,
  SERVICE_PORT,
  normalise,
  type Interval,
  type Line,
} from '../../net/index.ts';
import type { Field, ValueSet } from '../../rules/index.ts';
import {
  CT_STATE_NUMBER,
  CT_STATUS_NUMBER,
  DIRECTION_NUMBER,
  FAMILY_NUMBER,
  ICMP_TYPE,
  ICMPV6_TYPE,
  PACKET_TYPE_NUMBER,
  ROUTE_TYPE_NUMBER,
  TCP_FLAG_NUMBER,
} from './names.ts';
import { isObject, type Json } from './objects.ts';

/** Thrown where an expression has no counterpart here; the rule then becomes "unmodelled", never ignored. */
export class Unmodelled extends Error {}

const NUMBER_LINE: Line<number> = { first: 0, last: 0xffff_ffff, next: (n) => n + 1, previous: (n) => n - 1 };
export const numbers = (...parts: Interval<number>[]): ValueSet => numbersIn(parts);

const numbersIn = (parts: readonly Interval<number>[]): ValueSet => ({
  type: 'numbers',
  set: normalise(NUMBER_LINE, parts),
});

const ADDRESS_FIELDS = new Set(['source', 'destination', 'ct-source', 'ct-destination']);
const NAME_FIELDS = new Set(['in', 'out']);

export type Comparison = '==' | '!=' | '<' | '>' | '<=' | '>=';

/**
 * All values of one right-hand side (or set) for a field; `{ set: … }`, lists, ranges and prefixes included.
 */
export function valuesFor(field: Field, right: Json): ValueSet {
  if (ADDRESS_FIELDS.has(field.of))
    return { type: 'addresses', set: addressUnionOf(flat(right).map(addressesOf)) };
  if (NAME_FIELDS.has(field.of)) return { type: 'names', names: flat(right).map(nameOf) };
  return numbersIn(flat(right).map((part) => numbersOf(field, part)));
}

/** The values for which `field OP bound` holds. */
export function ordered(field: Field, op: Exclude<Comparison, '==' | '!='>, bound: Json): ValueSet {
  if (ADDRESS_FIELDS.has(field.of)) {
    const at = typeof bound === 'string' ? parseAddress(bound) : null;
    if (!at) throw new Unmodelled('a comparison with something that is not an address');
    const below = at.bits === 0n ? null : addressRange({ ...at, bits: 0n }, { ...at, bits: at.bits - 1n });
    const upTo = addressRange({ ...at, bits: 0n }, at);
    const family: AddressSet = {
      4: at.family === 4 ? ALL_ADDRESSES[4] : [],
      6: at.family === 6 ? ALL_ADDRESSES[6] : [],
    };
    const empty: AddressSet = { 4: [], 6: [] };
    if (op === '<') return { type: 'addresses', set: below ?? empty };
    if (op === '<=') return { type: 'addresses', set: upTo };
    if (op === '>')
      return {
        type: 'addresses',
        set: at.bits === MAX_BITS[at.family] ? empty : addressDifference(family, upTo),
      };
    return { type: 'addresses', set: below ? addressDifference(family, below) : family };
  }
  const { first } = numbersOf(field, bound);
  switch (op) {
    case '<':
      return numbers({ first: 0, last: first - 1 });
    case '<=':
      return numbers({ first: 0, last: first });
    case '>':
      return numbers({ first: first + 1, last: 0xffff_ffff });
    case '>=':
      return numbers({ first, last: 0xffff_ffff });
  }
}

/** Bits of a flag list such as `established,related`. */
export function bitsFor(field: Field, right: Json): number {
  return flat(right).reduce<number>((mask, part) => mask | numbersOf(field, part).first, 0) >>> 0;
}

/** One value, for a row of a concatenation. */
function flat(value: Json): Json[] {
  if (Array.isArray(value)) return (value as readonly Json[]).flatMap(flat);
  if (isObject(value)) {
    if ('set' in value) return flat(value['set'] as Json);
    if ('elem' in value && isObject(value['elem'])) return flat(value['elem']['val'] as Json);
    if ('|' in value) return flat(value['|'] as Json);
  }
  return [value];
}

function addressesOf(value: Json): AddressSet {
  // A raw match on the header (`@nh,96,32`) has the address as a number.
  if (typeof value === 'number') return addressSet({ family: 4, bits: BigInt(value), length: 32 });
  if (typeof value === 'string') {
    if (value === '*') return ALL_ADDRESSES;
    const p = parsePrefix(value);
    if (p) return addressSet(p);
  }
  if (isObject(value)) {
    const p = value['prefix'];
    if (isObject(p)) {
      const parsed = parsePrefix(`${String(p['addr'])}/${String(p['len'])}`);
      if (parsed) return addressSet(parsed);
    }
    const r = value['range'];
    if (Array.isArray(r)) {
      const [first, last] = (r as Json[]).map((end) => parseAddress(String(end)));
      if (first && last) return addressRange(first, last);
    }
  }
  throw new Unmodelled(`the address value ${JSON.stringify(value)}`);
}

function nameOf(value: Json): string {
  if (typeof value === 'string') return value;
  throw new Unmodelled(`the interface value ${JSON.stringify(value)}`);
}

function numbersOf(field: Field, value: Json): Interval<number> {
  if (isObject(value)) {
    const r = value['range'];
    if (Array.isArray(r))
      return { first: numberOf(field, r[0] as Json), last: numberOf(field, r[1] as Json) };
    throw new Unmodelled(`the value ${JSON.stringify(value)}`);
  }
  if (value === '*') return { first: 0, last: 0xffff_ffff };
  const n = numberOf(field, value);
  return { first: n, last: n };
}

function numberOf(field: Field, value: Json): number {
  if (typeof value === 'number' && Number.isInteger(value) && value >= 0) return value;
  if (typeof value === 'boolean') return value ? 1 : 0;
  if (typeof value === 'string') {
    // nft 1.0.6 says behind the ports of a session that it has no name for their type.
    const plain = value.replace(/ \[invalid type\]$/, '');
    if (/^0x[0-9a-f]+$/i.test(plain) || /^\d+$/.test(plain)) return Number(plain);
    const named = namesOf(field)?.[value.toLowerCase()];
    if (named !== undefined) return named;
  }
  throw new Unmodelled(`the value ${JSON.stringify(value)}`);
}

function namesOf(field: Field): Readonly<Record<string, number>> | null {
  switch (field.of) {
    case 'and':
      return namesOf(field.field);
    case 'sport':
    case 'dport':
    case 'ct-sport':
    case 'ct-dport':
      return SERVICE_PORT;
    case 'protocol':
    case 'ct-protocol':
      return PROTOCOL_NUMBER;
    case 'family':
    case 'ct-family':
      return FAMILY_NUMBER;
    case 'packet-type':
      return PACKET_TYPE_NUMBER;
    case 'tcp-flags':
      return TCP_FLAG_NUMBER;
    case 'ct-state':
      return CT_STATE_NUMBER;
    case 'ct-status':
      return CT_STATUS_NUMBER;
    case 'ct-direction':
      return DIRECTION_NUMBER;
    case 'address-type':
      return ROUTE_TYPE_NUMBER;
    case 'icmp-type':
      return field.protocol === 1 ? ICMP_TYPE : ICMPV6_TYPE;
    default:
      return null;
  }
}
