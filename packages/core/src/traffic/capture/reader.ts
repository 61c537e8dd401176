import { behindExtensions } from './extensions.ts';
import type { Ends, Told } from './flow.ts';
import { Flows } from './flows.ts';
import { joined } from '../joined.ts';
import { ipAt } from './link.ts';
import { payloadHash } from './payload.ts';
import { described, type Described } from './block.ts';
import type { CaptureSummary } from './summary.ts';

/** Magic numbers of pcap files (draft-ietf-opsawg-pcap §4), block types of pcapng ones (…-pcapng §4). */
const MICRO = 0xa1b2c3d4;
const NANO = 0xa1b23c4d;
const SECTION = 0x0a0d0d0a;
const BYTE_ORDER_MAGIC = 0x1a2b3c4d;
const INTERFACE_BLOCK = 1;
const PACKET_BLOCK = 2;
const SIMPLE_BLOCK = 3;
const ENHANCED_BLOCK = 6;

/** No packet and no block is longer than this, bytes: the length is wrong, and the file damaged. */
const LONGEST = 16 << 20;

const TCP = 6;
const UDP = 17;
const ICMP = 1;
const ICMP6 = 58;

const NONE = new Uint8Array(0);

/** Reads a capture as it comes, in memory that does not grow with it. */
export class CaptureReader {
  readonly #flows = new Flows();
  #left: Uint8Array = NONE;
  /** Where `#left` begins in the file. */
  #passed = 0;
  #type: 'pcap' | 'pcapng' | null = null;
  #little = true;
  #interfaces: Described[] = [];
  /** Interfaces of the current section begin here. */
  #section = 0;
  #packets = 0;
  #understood = 0;
  #cut = 0;
  #first = NaN;
  #last = NaN;
  #broken: number | null = null;

  push(chunk: Uint8Array): void {
    if (this.#broken !== null) return;
    const bytes = this.#left.length === 0 ? chunk : joined(this.#left, chunk);
    const used = this.#read(bytes, new DataView(bytes.buffer, bytes.byteOffset, bytes.length));
    // A copy: whoever reads a file may use the same chunk again, and a Buffer's slice is none.
    this.#left = new Uint8Array(bytes.subarray(used));
    this.#passed += used;
  }

  /** Nothing more comes: what is left over is a packet that breaks off. */
  end(): void {
    if (this.#left.length > 0 && this.#broken === null) this.#broken = this.#passed;
  }

  #read(b: Uint8Array, data: DataView): number {
    let at = 0;
    if (this.#type === null) {
      if (b.length < 24) return 0;
      at = this.#begin(data);
    }
    return this.#type === 'pcap' ? this.#records(b, data, at) : this.#blocks(b, data, at);
  }

  #begin(data: DataView): number {
    if (data.getUint32(0) === SECTION) {
      this.#type = 'pcapng';
      return 0;
    }
    this.#type = 'pcap';
    this.#little = [MICRO, NANO].includes(data.getUint32(0, true));
    const magic = data.getUint32(0, this.#little);
    if (magic !== MICRO && magic !== NANO) this.#broken = 0;
    const link = data.getUint32(20, this.#little) & 0x0fff_ffff;
    this.#interfaces = [{ link, name: null, tick: magic === NANO ? 1e-9 : 1e-6 }];
    return 24;
  }

  /** `seconds | fraction | captured length | original length | bytes` */
  #records(b: Uint8Array, data: DataView, from: number): number {
    const little = this.#little;
    const of = this.#interfaces[0]!;
    let at = from;
    while (at + 16 <= b.length && this.#broken === null) {
      const captured = data.getUint32(at + 8, little);
      if (captured > LONGEST) {
        this.#broken = this.#passed + at;
        break;
      }
      const end = at + 16 + captured;
      if (end > b.length) break;
      const seconds = data.getUint32(at, little) + data.getUint32(at + 4, little) * of.tick;
      this.#packet(of.link, b, at + 16, end, data.getUint32(at + 12, little), seconds);
      at = end;
    }
    return at;
  }

  /** Blocks: `type | length | body | length`; lengths are multiples of four. */
  #blocks(b: Uint8Array, data: DataView, from: number): number {
    let at = from;
    while (at + 12 <= b.length && this.#broken === null) {
      if (data.getUint32(at) === SECTION) {
        this.#little = data.getUint32(at + 8, true) === BYTE_ORDER_MAGIC;
        this.#section = this.#interfaces.length;
      }
      const little = this.#little;
      const length = data.getUint32(at + 4, little);
      if (length < 12 || length % 4 !== 0 || length > LONGEST) {
        this.#broken = this.#passed + at;
        break;
      }
      if (at + length > b.length) break;
      this.#block(b, data, at, length);
      at += length;
    }
    return at;
  }

  #block(b: Uint8Array, data: DataView, at: number, length: number): void {
    const little = this.#little;
    const type = data.getUint32(at, little);
    const body = at + 8;
    const end = at + length - 4;
    if (type === INTERFACE_BLOCK && length >= 20) {
      this.#interfaces.push(described(b, data, body, end, little));
      return;
    }
    if ((type === ENHANCED_BLOCK || type === PACKET_BLOCK) && length >= 32) {
      const id =
        this.#section +
        (type === ENHANCED_BLOCK ? data.getUint32(body, little) : data.getUint16(body, little));
      const of = this.#interfaces[id];
      const captured = data.getUint32(body + 12, little);
      if (body + 20 + captured > end) {
        this.#broken = this.#passed + at;
        return;
      }
      const ticks = data.getUint32(body + 4, little) * 2 ** 32 + data.getUint32(body + 8, little);
      const seconds = of ? ticks * of.tick : NaN;
      this.#packet(
        of?.link ?? -1,
        b,
        body + 20,
        body + 20 + captured,
        data.getUint32(body + 16, little),
        seconds,
      );
    } else if (type === SIMPLE_BLOCK) {
      const original = data.getUint32(body, little);
      const until = Math.min(end, body + 4 + original);
      this.#packet(this.#interfaces[this.#section]?.link ?? -1, b, body + 4, until, original, NaN);
    }
  }

  #packet(link: number, b: Uint8Array, from: number, end: number, length: number, seconds: number): void {
    this.#packets++;
    if (end - from < length) this.#cut++;
    if (!Number.isNaN(seconds)) {
      if (Number.isNaN(this.#first)) this.#first = seconds;
      this.#last = seconds;
    }
    const ip = ipAt(link, b, from, end);
    if (ip >= 0 && ip + 20 <= end && this.#ip(b, ip, end, length, seconds, null)) this.#understood++;
  }

  /** @param teller who sent the ICMP error that quotes this packet; null: it is itself one on the wire */
  #ip(b: Uint8Array, at: number, end: number, length: number, seconds: number, teller: Told | null): boolean {
    const version = b[at]! >> 4;
    let protocol = 0;
    let next = 0;
    let source = 0;
    let destination = 0;
    const isOther = version === 6;
    if (version === 4) {
      // RFC 791 §3.1; later fragments have no transport header.
      const header = (b[at]! & 15) * 4;
      if (header < 20) return false;
      protocol = (((b[at + 6]! & 0x1f) << 8) | b[at + 7]!) !== 0 ? -1 : b[at + 9]!;
      next = at + header;
      source = (b[at + 12]! << 24) | (b[at + 13]! << 16) | (b[at + 14]! << 8) | b[at + 15]!;
      destination = (b[at + 16]! << 24) | (b[at + 17]! << 16) | (b[at + 18]! << 8) | b[at + 19]!;
    } else if (isOther && at + 40 <= end) {
      [protocol, next] = behindExtensions(b, at, end);
      source = this.#flows.other(b, at + 8);
      destination = this.#flows.other(b, at + 24);
    } else return false;
    if ((protocol === TCP || protocol === UDP) && next + 4 <= end) {
      const ends: Ends = {
        protocol,
        isOther,
        source,
        sourcePort: (b[next]! << 8) | b[next + 1]!,
        destination,
        port: (b[next + 2]! << 8) | b[next + 3]!,
      };
      const isWhole = protocol === TCP && next + 13 < end;
      const flags = isWhole ? b[next + 13]! : 0;
      const sequence = isWhole
        ? ((b[next + 4]! << 24) | (b[next + 5]! << 16) | (b[next + 6]! << 8) | b[next + 7]!) >>> 0
        : 0;
      if (teller) this.#flows.error(ends, teller);
      else {
        const isNew = this.#flows.add(ends, {
          flags,
          sequence,
          bytes: length,
          seconds,
          frame: this.#packets,
        });
        if (isNew && protocol === UDP) {
          const said = payloadHash(b, next, end);
          if (said !== null) this.#flows.says(ends, said);
        }
      }
    } else if ((protocol === ICMP || protocol === ICMP6) && next + 8 <= end && teller === null) {
      const type = b[next]!;
      // Errors quote the packet that they answer (RFC 792; RFC 4443 §2.4).
      const isError = protocol === ICMP ? [3, 4, 5, 11, 12].includes(type) : type < 128;
      if (isError && next + 28 <= end) {
        const from = this.#flows.addressText(source, isOther);
        this.#ip(b, next + 8, end, 0, seconds, { from, type, code: b[next + 1]! });
      }
    }
    return true;
  }

  summary(): CaptureSummary {
    return {
      type: this.#type ?? 'pcap',
      packets: this.#packets,
      understood: this.#understood,
      cut: this.#cut,
      links: [...new Set(this.#interfaces.map((i) => i.link))],
      names: this.#interfaces.flatMap((i) => i.name ?? []),
      first: this.#first,
      last: this.#last,
      flows: this.#flows.listed(),
      beyond: this.#flows.beyond,
      brokenAt: this.#broken,
    };
  }
}
