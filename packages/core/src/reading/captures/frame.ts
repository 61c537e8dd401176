import { formatAddress, type Address } from '../../net/index.ts';
import { payloadHash } from '../../traffic/index.ts';

/** What a captured packet says about who speaks to whom. */
export interface Frame {
  readonly family: 4 | 6;
  readonly source: string;
  readonly destination: string;
  readonly protocol: 'tcp' | 'udp' | 'icmp' | 'icmpv6' | 'other';
  readonly sourcePort?: number;
  readonly destinationPort?: number;
  /** TCP flags (RFC 9293 §3.1): FIN 1, SYN 2, RST 4, ACK 16. */
  readonly flags?: number;
  /** Of a TCP segment, 32 bits. */
  readonly sequence?: number;
  /** What a UDP datagram says, as a hash of 32 bits; null: too little of it is there. */
  readonly payload?: number | null;
  readonly icmp?: { readonly type: number; readonly code: number };
  /** The packet that an ICMP error answers. */
  readonly quote?: Frame;
  readonly vlan?: number;
  /** Index of the interface on the capturing machine, where each packet says it (cooked v2). */
  readonly interfaceIndex?: number;
  /** Its name, where a listing says it in each line. */
  readonly interfaceName?: string;
}

const IPV4 = 0x0800;
const IPV6 = 0x86dd;
const VLAN = new Set([0x8100, 0x88a8]);
const PPPOE = 0x8864;
/** LINKTYPE_ values: https://www.ietf.org/archive/id/draft-ietf-opsawg-pcaplinktype-00.html */
export const LINK_NAMES: Readonly<Record<number, string>> = {
  0: 'null',
  1: 'ether',
  9: 'ppp',
  12: 'rawip',
  14: 'rawip',
  101: 'rawip',
  108: 'loop',
  113: 'linux-sll',
  228: 'rawip4',
  229: 'rawip6',
  276: 'linux-sll2',
};

const u16 = (b: Uint8Array, at: number): number => (b[at]! << 8) | b[at + 1]!;

/**
 * Takes the headers of a packet apart; null for what is not IP (ARP and the like) or is cut before its
 * addresses.
 */
export function frameOf(link: number, b: Uint8Array): Frame | null {
  switch (link) {
    case 1:
      return b.length < 14 ? null : ether(b, 12);
    case 113:
      return b.length < 16 ? null : ether(b, 14);
    case 276:
      return b.length < 20 ? null : withIndex(ethertype(b, 20, u16(b, 0)), (u16(b, 4) << 16) | u16(b, 6));
    case 0:
    case 108:
      return ip(b, 4);
    case 9:
      return b[0] === 0xff && b[1] === 0x03 ? ip(b, 4) : ip(b, 2);
    case 12:
    case 14:
    case 101:
    case 228:
    case 229:
      return ip(b, 0);
    default:
      return null;
  }
}

const withIndex = (frame: Frame | null, interfaceIndex: number): Frame | null =>
  frame && { ...frame, interfaceIndex };
const ether = (b: Uint8Array, at: number): Frame | null => ethertype(b, at + 2, u16(b, at));

function ethertype(b: Uint8Array, at: number, type: number): Frame | null {
  if (VLAN.has(type)) {
    if (b.length < at + 4) return null;
    const inner = ethertype(b, at + 4, u16(b, at + 2));
    return inner && { ...inner, vlan: u16(b, at) & 0x0fff };
  }
  // PPPoE (RFC 2516 §4): six bytes of header, two of PPP protocol.
  if (type === PPPOE) return ip(b, at + 8);
  return type === IPV4 || type === IPV6 ? ip(b, at) : null;
}

function ip(b: Uint8Array, at: number): Frame | null {
  const version = (b[at] ?? 0) >> 4;
  if (version === 4) return ipv4(b, at);
  return version === 6 ? ipv6(b, at) : null;
}

const address = (family: 4 | 6, b: Uint8Array, at: number): string => {
  let bits = 0n;
  for (let i = 0; i < (family === 4 ? 4 : 16); i++) bits = (bits << 8n) | BigInt(b[at + i]!);
  return formatAddress({ family, bits } as Address);
};

/** RFC 791 §3.1 */
function ipv4(b: Uint8Array, at: number): Frame | null {
  const header = (b[at]! & 0x0f) * 4;
  if (header < 20 || b.length < at + 20) return null;
  const base = { family: 4 as const, source: address(4, b, at + 12), destination: address(4, b, at + 16) };
  // Later fragments have no transport header.
  return transport(base, (u16(b, at + 6) & 0x1fff) !== 0 ? -1 : b[at + 9]!, b, at + header);
}

const EXTENSIONS = new Set([0, 43, 60]);

/** RFC 8200 §3 and §4 */
function ipv6(b: Uint8Array, at: number): Frame | null {
  if (b.length < at + 40) return null;
  const base = { family: 6 as const, source: address(6, b, at + 8), destination: address(6, b, at + 24) };
  let next = b[at + 6]!;
  let from = at + 40;
  while ((EXTENSIONS.has(next) || next === 44) && from + 8 <= b.length) {
    const fragment = next === 44;
    if (fragment && (u16(b, from + 2) & 0xfff8) !== 0) return transport(base, -1, b, from);
    next = b[from]!;
    from += fragment ? 8 : (b[from + 1]! + 1) * 8;
  }
  return transport(base, next, b, from);
}

function transport(
  base: Pick<Frame, 'family' | 'source' | 'destination'>,
  protocol: number,
  b: Uint8Array,
  at: number,
): Frame {
  const ports = b.length >= at + 4 ? { sourcePort: u16(b, at), destinationPort: u16(b, at + 2) } : {};
  if (protocol === 6)
    return {
      ...base,
      protocol: 'tcp',
      ...ports,
      ...(b.length > at + 13
        ? { flags: b[at + 13]!, sequence: u16(b, at + 4) * 0x10000 + u16(b, at + 6) }
        : {}),
    };
  if (protocol === 17) return { ...base, protocol: 'udp', ...ports, payload: payloadHash(b, at, b.length) };
  if (protocol === 1 || protocol === 58) {
    const icmp = { type: b[at] ?? 0, code: b[at + 1] ?? 0 };
    // Errors quote the packet that they answer (RFC 792; RFC 4443 §2.4).
    const isError = protocol === 1 ? [3, 4, 5, 11, 12].includes(icmp.type) : icmp.type < 128;
    const quote = isError ? ip(b, at + 8) : null;
    return { ...base, protocol: protocol === 1 ? 'icmp' : 'icmpv6', icmp, ...(quote ? { quote } : {}) };
  }
  return { ...base, protocol: 'other' };
}
