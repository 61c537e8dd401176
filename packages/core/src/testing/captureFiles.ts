import fc from 'fast-check';

/** Captures drawn by lot, written as the two containers have them. */

export interface Sent {
  readonly protocol: 6 | 17;
  readonly isSix: boolean;
  /** Which of the two ends sends. */
  readonly isBack: boolean;
  readonly port: number;
  readonly flags: number;
}

/** Flags (RFC 9293 §3.1). */
export const [SYN, RESET, ACK] = [2, 4, 16];

export const sent: fc.Arbitrary<Sent> = fc.record({
  protocol: fc.constantFrom(6, 17),
  isSix: fc.boolean(),
  isBack: fc.boolean(),
  port: fc.constantFrom(1, 8211, 65535),
  flags: fc.constantFrom(SYN, SYN | ACK, ACK, RESET | ACK),
});

export const FOUR = { client: [198, 51, 100, 23], server: [192, 168, 50, 20] } as const;
const six = (last: number): number[] => [0x20, 1, 0xd, 0xb8, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, last];
export const CLIENT_PORT = 40_001;

export const u16 = (n: number): number[] => [n >> 8, n & 255];

/** A packet from its IP header on (RFC 791 §3.1, RFC 8200 §3, RFC 9293 §3.1, RFC 768). */
export function ipPacket({ protocol, isSix, isBack, port, flags }: Sent): number[] {
  const ends = isSix ? [six(23), six(20)] : [[...FOUR.client], [...FOUR.server]];
  const addresses = isBack ? [...(ends[1] ?? []), ...(ends[0] ?? [])] : ends.flat();
  const ports = isBack ? [...u16(port), ...u16(CLIENT_PORT)] : [...u16(CLIENT_PORT), ...u16(port)];
  const transport =
    protocol === 6
      ? [...ports, 0, 0, 0, 1, 0, 0, 0, 0, 0x50, flags, 250, 0, 0, 0, 0, 0]
      : [...ports, 0, 8, 0, 0];
  return isSix
    ? [0x60, 0, 0, 0, ...u16(transport.length), protocol, 64, ...addresses, ...transport]
    : [0x45, 0, ...u16(20 + transport.length), 0, 0, 0x40, 0, 64, protocol, 0, 0, ...addresses, ...transport];
}

const ether = (sentOne: Sent): number[] => [
  ...new Array<number>(12).fill(2),
  ...(sentOne.isSix ? [0x86, 0xdd] : [8, 0]),
  ...ipPacket(sentOne),
];

export type Order = 'little' | 'big';

export class Writer {
  readonly out: number[] = [];
  readonly #order: Order;

  constructor(order: Order) {
    this.#order = order;
  }

  u32(...values: number[]): this {
    for (const v of values) {
      const b = [v >>> 24, (v >>> 16) & 255, (v >>> 8) & 255, v & 255];
      this.out.push(...(this.#order === 'big' ? b : b.reverse()));
    }
    return this;
  }

  u16(...values: number[]): this {
    for (const v of values) this.out.push(...(this.#order === 'big' ? u16(v) : u16(v).reverse()));
    return this;
  }

  raw(values: readonly number[]): this {
    this.out.push(...values);
    return this;
  }
}

/** draft-ietf-opsawg-pcap §4 and §5 */
export function pcap(packets: readonly Sent[], order: Order): { file: Uint8Array; ends: number[] } {
  const w = new Writer(order).u32(0xa1b2c3d4).u16(2, 4).u32(0, 0, 65535, 1);
  const ends = packets.map((p, i) => {
    const bytes = ether(p);
    w.u32(1000 + i, 500_000, bytes.length, bytes.length).raw(bytes);
    return w.out.length;
  });
  return { file: Uint8Array.from(w.out), ends };
}

/** draft-ietf-opsawg-pcapng §4: a section, one interface, enhanced packet blocks */
export function pcapng(packets: readonly Sent[], order: Order): { file: Uint8Array; ends: number[] } {
  const w = new Writer(order).u32(0x0a0d0d0a, 28, 0x1a2b3c4d).u16(1, 0).u32(0xffffffff, 0xffffffff, 28);
  w.u32(1, 20).u16(1, 0).u32(65535, 20);
  const ends = packets.map((p, i) => {
    const bytes = ether(p);
    const padded = [...bytes, ...new Array<number>((4 - (bytes.length % 4)) % 4).fill(0)];
    const micro = (1000 + i) * 1_000_000 + 500_000;
    const length = 32 + padded.length;
    w.u32(6, length, 0, Math.floor(micro / 2 ** 32), micro >>> 0, bytes.length, bytes.length);
    w.raw(padded).u32(length);
    return w.out.length;
  });
  return { file: Uint8Array.from(w.out), ends };
}

/** What anybody would count by hand: packets, first questions and resets of each conversation, both ways. */
export function byHand(packets: readonly Sent[]): string[] {
  const flows = new Map<string, number[]>();
  for (const p of packets) {
    const key = `${p.protocol === 6 ? 'tcp' : 'udp'} ${p.isSix ? 6 : 4} ${p.port}`;
    const n = flows.get(key) ?? [0, 0, 0, 0];
    flows.set(key, n);
    const side = p.isBack ? 1 : 0;
    n[side] = (n[side] ?? 0) + 1;
    if (p.protocol === 6 && p.flags === SYN) n[2] = (n[2] ?? 0) + 1;
    if (p.protocol === 6 && p.flags === (RESET | ACK)) n[3] = (n[3] ?? 0) + 1;
  }
  return [...flows].map(([key, n]) => `${key}: ${n.join(' ')}`).sort();
}

export const container = fc.constantFrom(pcap, pcapng);
export const order: fc.Arbitrary<Order> = fc.constantFrom('little', 'big');
