import ipaddr from 'ipaddr.js';

/** IP version of an address: 4 (RFC 791) or 6 (RFC 8200). */
export type Family = 4 | 6;

/** One IP address. `bits` is the unsigned 32- or 128-bit number in network order. */
export interface Address {
  readonly family: Family;
  readonly bits: bigint;
}

/** Highest value of `Address.bits` in each family. */
export const MAX_BITS: Readonly<Record<Family, bigint>> = { 4: 0xffff_ffffn, 6: (1n << 128n) - 1n };

/** Number of bits in an address of each family. */
export const ADDRESS_LENGTH: Readonly<Record<Family, number>> = { 4: 32, 6: 128 };

const FOUR_PARTS = /^(?:0|[1-9]\d{0,2})(?:\.(?:0|[1-9]\d{0,2})){3}$/;

/**
 * Reads an address in the dotted (RFC 6943 §3.1.1 strict form) or colon (RFC 4291 §2.2) notation.
 * A zone index (`%eth0`, RFC 4007 §11) is not part of an address and makes it unreadable here.
 * Octal, hexadecimal and short IPv4 forms are refused: two programs would read them differently.
 * @returns null where the text is not exactly one address
 */
export function parseAddress(text: string): Address | null {
  if (isDigit(text.charCodeAt(0)) && FOUR_PARTS.test(text)) return fourParts(text);
  if (!text.includes(':') || text.includes('%') || !ipaddr.IPv6.isValid(text)) return null;
  let bits = 0n;
  for (const byte of ipaddr.IPv6.parse(text).toByteArray()) bits = (bits << 8n) | BigInt(byte);
  return { family: 6, bits };
}

const ZERO = 48;
const isDigit = (code: number): boolean => code >= ZERO && code < ZERO + 10;

/** Listings of thousands of lines are read by this: one pass over the digits, and one bigint at the end. */
function fourParts(text: string): Address | null {
  let value = 0;
  let octet = 0;
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i);
    if (isDigit(code)) {
      octet = octet * 10 + code - ZERO;
      continue;
    }
    if (octet > 255) return null;
    value = value * 256 + octet;
    octet = 0;
  }
  return octet > 255 ? null : { family: 4, bits: BigInt(value * 256 + octet) };
}

/** Reads an address that the caller knows to be well formed; throws a RangeError otherwise. */
export function address(text: string): Address {
  const parsed = parseAddress(text);
  if (!parsed) throw new RangeError(`not an IP address: ${text}`);
  return parsed;
}

/** Canonical text of an address: dotted quad, or RFC 5952 for IPv6. */
export function formatAddress({ family, bits }: Address): string {
  if (family === 4) {
    const n = Number(bits);
    return `${n >>> 24}.${(n >>> 16) & 255}.${(n >>> 8) & 255}.${n & 255}`;
  }
  const bytes: number[] = [];
  for (let shift = 120n; shift >= 0n; shift -= 8n) bytes.push(Number((bits >> shift) & 255n));
  return new ipaddr.IPv6(bytes).toRFC5952String();
}

export function sameAddress(a: Address, b: Address): boolean {
  return a.bits === b.bits && a.family === b.family;
}

/**
 * An IPv4-mapped IPv6 address (RFC 4291 §2.5.5.2) as the IPv4 address that it stands for; others unchanged.
 */
export function unmapped(a: Address): Address {
  return a.family === 6 && a.bits >> 32n === 0xffffn ? { family: 4, bits: a.bits & MAX_BITS[4] } : a;
}
