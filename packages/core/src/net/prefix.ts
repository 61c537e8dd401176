import {
  ADDRESS_LENGTH,
  formatAddress,
  MAX_BITS,
  parseAddress,
  type Address,
  type Family,
} from './address.ts';
import type { Interval } from './intervals.ts';

/** An address prefix (RFC 4632 §3.1, RFC 4291 §2.3). `bits` has no bit set beyond `length`. */
export interface Prefix {
  readonly family: Family;
  readonly bits: bigint;
  /** 0…32 or 0…128 */
  readonly length: number;
}

/** The prefix of `length` bits that the address lies in. */
export function prefixOf({ family, bits }: Address, length: number): Prefix {
  const host = BigInt(ADDRESS_LENGTH[family] - length);
  return { family, bits: (bits >> host) << host, length };
}

/**
 * Reads `192.0.2.0/24`, `2001:db8::/32`, `192.0.2.0/255.255.255.0` or a plain address (a full-length prefix).
 * Bits beyond the length are cleared, as the kernel does.
 * @returns null where the text is none of these
 */
export function parsePrefix(text: string): Prefix | null {
  const slash = text.indexOf('/');
  const base = parseAddress(slash < 0 ? text : text.slice(0, slash));
  if (!base) return null;
  if (slash < 0) return prefixOf(base, ADDRESS_LENGTH[base.family]);
  const tail = text.slice(slash + 1);
  const length = /^\d{1,3}$/.test(tail) ? Number(tail) : maskLength(tail);
  return length === null || length > ADDRESS_LENGTH[base.family] ? null : prefixOf(base, length);
}

/** Reads a prefix that the caller knows to be well formed; throws a RangeError otherwise. */
export function prefix(text: string): Prefix {
  const parsed = parsePrefix(text);
  if (!parsed) throw new RangeError(`not an address prefix: ${text}`);
  return parsed;
}

/**
 * Length of a contiguous netmask such as 255.255.255.0 or ffff:ffff::; null where it has holes or is no mask.
 */
export function maskLength(text: string): number | null {
  const mask = parseAddress(text);
  if (!mask) return null;
  const inverted = mask.bits ^ MAX_BITS[mask.family];
  if ((inverted & (inverted + 1n)) !== 0n) return null;
  return ADDRESS_LENGTH[mask.family] - inverted.toString(2).replace(/^0$/, '').length;
}

export function prefixContains(p: Prefix, a: Address): boolean {
  if (p.family !== a.family) return false;
  const host = BigInt(ADDRESS_LENGTH[p.family] - p.length);
  return a.bits >> host === p.bits >> host;
}

/** First and last address of the prefix as numbers. */
export function prefixInterval(p: Prefix): Interval<bigint> {
  return { first: p.bits, last: p.bits | ((1n << BigInt(ADDRESS_LENGTH[p.family] - p.length)) - 1n) };
}

/** `192.0.2.0/24`; a full-length prefix is written as its address. */
export function formatPrefix(p: Prefix): string {
  const text = formatAddress(p);
  return p.length === ADDRESS_LENGTH[p.family] ? text : `${text}/${p.length}`;
}
