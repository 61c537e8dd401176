/** LINKTYPE_ values (draft-ietf-opsawg-pcaplinktype). */
const ETHERNET = 1;
const PPP = 9;
const COOKED = 113;
const COOKED2 = 276;
const LOOPBACK: ReadonlySet<number> = new Set([0, 108]);
const RAW: ReadonlySet<number> = new Set([12, 14, 101, 228, 229]);

const IPV4 = 0x0800;
const IPV6 = 0x86dd;
const PPPOE = 0x8864;

const u16 = (b: Uint8Array, at: number): number => (b[at]! << 8) | b[at + 1]!;

/**
 * Where the IP header of a packet begins; -1 where it is not IP, or is cut before it.
 * @param link link-layer type of the packet's interface
 */
export function ipAt(link: number, b: Uint8Array, from: number, end: number): number {
  if (link === ETHERNET) return end - from < 14 ? -1 : behindType(b, from + 12, end);
  if (link === COOKED) return end - from < 16 ? -1 : behindType(b, from + 14, end);
  if (link === COOKED2) return end - from < 20 ? -1 : ofType(u16(b, from), b, from + 20, end);
  if (RAW.has(link)) return from;
  if (LOOPBACK.has(link)) return from + 4;
  if (link === PPP) return b[from] === 0xff && b[from + 1] === 0x03 ? from + 4 : from + 2;
  return -1;
}

const behindType = (b: Uint8Array, at: number, end: number): number => ofType(u16(b, at), b, at + 2, end);

function ofType(type: number, b: Uint8Array, at: number, end: number): number {
  if (type === IPV4 || type === IPV6) return at;
  // Tags of virtual networks, one inside the other (IEEE 802.1Q §9).
  if ((type === 0x8100 || type === 0x88a8) && at + 4 <= end) return ofType(u16(b, at + 2), b, at + 4, end);
  // Six bytes of header, two of PPP protocol (RFC 2516 §4).
  return type === PPPOE ? at + 8 : -1;
}
