/** One captured packet, as its file holds it. */
export interface CapturedPacket {
  /** Number in the file, from 1. */
  readonly frame: number;
  /** Nanoseconds since 1970; null where the file does not say. */
  readonly time: bigint | null;
  /** Seconds of a clock whose day is not said; for distances alone. */
  readonly clock?: number;
  /** Link-layer type (LINKTYPE_ values of the pcap registry). */
  readonly link: number;
  /** Interface of a pcapng file, in the order of its description blocks. */
  readonly interface: number;
  readonly bytes: Uint8Array;
  /** Length on the wire; more than `bytes` where the capture cut it. */
  readonly length: number;
}

export interface CaptureFile {
  readonly type: 'pcap' | 'pcapng';
  readonly byteOrder: 'little-endian' | 'big-endian';
  readonly resolution: 'microseconds' | 'nanoseconds' | 'other';
  readonly interfaces: readonly { readonly link: number; readonly name: string | null }[];
  readonly packets: readonly CapturedPacket[];
  /** Where the file breaks off, bytes; null: it is whole. */
  readonly brokenAt: number | null;
}

/** Magic numbers of pcap files (draft-ietf-opsawg-pcap §4): microseconds and nanoseconds. */
const MICRO = 0xa1b2c3d4;
const NANO = 0xa1b23c4d;
/** Block types of pcapng files (draft-ietf-opsawg-pcapng §4). */
const SECTION = 0x0a0d0d0a;
const INTERFACE = 1;
const PACKET = 2;
const SIMPLE = 3;
const ENHANCED = 6;
const BYTE_ORDER_MAGIC = 0x1a2b3c4d;
/** More packets than this are not looked at one by one. */
const MOST_PACKETS = 2_000_000;

const view = (bytes: Uint8Array): DataView => new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);

export function isCapture(bytes: Uint8Array): boolean {
  if (bytes.length < 24) return false;
  const magic = view(bytes).getUint32(0);
  const swapped = view(bytes).getUint32(0, true);
  return magic === SECTION || [magic, swapped].some((m) => m === MICRO || m === NANO);
}

/**
 * Takes a capture file apart; null where it is none. A file that breaks off gives the packets before that.
 */
export function readCaptureFile(bytes: Uint8Array): CaptureFile | null {
  if (!isCapture(bytes)) return null;
  return view(bytes).getUint32(0) === SECTION ? readPcapng(bytes) : readPcap(bytes);
}

/**
 *     magic | major minor | zone | accuracy | snap length | link      then for each packet:
 *     seconds | fraction | captured length | original length | bytes
 */
function readPcap(bytes: Uint8Array): CaptureFile {
  const data = view(bytes);
  const little = [MICRO, NANO].includes(data.getUint32(0, true));
  const nano = data.getUint32(0, little) === NANO;
  const link = data.getUint32(20, little) & 0x0fff_ffff;
  const packets: CapturedPacket[] = [];
  let at = 24;
  let broken: number | null = null;
  while (at < bytes.length && packets.length < MOST_PACKETS) {
    const captured = at + 16 <= bytes.length ? data.getUint32(at + 8, little) : -1;
    if (captured < 0 || at + 16 + captured > bytes.length) {
      broken = at;
      break;
    }
    const time =
      BigInt(data.getUint32(at, little)) * 1_000_000_000n +
      BigInt(data.getUint32(at + 4, little)) * (nano ? 1n : 1000n);
    packets.push({
      frame: packets.length + 1,
      time,
      link,
      interface: 0,
      bytes: bytes.subarray(at + 16, at + 16 + captured),
      length: data.getUint32(at + 12, little),
    });
    at += 16 + captured;
  }
  return {
    type: 'pcap',
    byteOrder: little ? 'little-endian' : 'big-endian',
    resolution: nano ? 'nanoseconds' : 'microseconds',
    interfaces: [{ link, name: null }],
    packets,
    brokenAt: broken,
  };
}

interface Described {
  readonly link: number;
  readonly name: string | null;
  /** Ticks in a second. */
  readonly ticks: bigint;
}

/** Blocks: `type | length | body | length`; lengths are multiples of four. */
function readPcapng(bytes: Uint8Array): CaptureFile {
  const data = view(bytes);
  let little = true;
  const interfaces: Described[] = [];
  /** Interfaces of the current section begin here. */
  let first = 0;
  const packets: CapturedPacket[] = [];
  let at = 0;
  let broken: number | null = null;
  while (at < bytes.length && packets.length < MOST_PACKETS) {
    if (at + 12 > bytes.length) {
      broken = at;
      break;
    }
    if (data.getUint32(at) === SECTION) {
      little = data.getUint32(at + 8, true) === BYTE_ORDER_MAGIC;
      first = interfaces.length;
    }
    const type = data.getUint32(at, little);
    const length = data.getUint32(at + 4, little);
    if (length < 12 || length % 4 !== 0 || at + length > bytes.length) {
      broken = at;
      break;
    }
    const body = at + 8;
    const end = at + length - 4;
    if (type === INTERFACE && length >= 20) interfaces.push(describedAt(bytes, data, body, end, little));
    else if ((type === ENHANCED || type === PACKET) && length >= 32) {
      const id = first + (type === ENHANCED ? data.getUint32(body, little) : data.getUint16(body, little));
      const captured = data.getUint32(body + 12, little);
      const ticks =
        (BigInt(data.getUint32(body + 4, little)) << 32n) | BigInt(data.getUint32(body + 8, little));
      const of = interfaces[id];
      if (body + 20 + captured > end) broken = at;
      else
        packets.push({
          frame: packets.length + 1,
          time: of ? (ticks * 1_000_000_000n) / of.ticks : null,
          link: of?.link ?? -1,
          interface: id,
          bytes: bytes.subarray(body + 20, body + 20 + captured),
          length: data.getUint32(body + 16, little),
        });
    } else if (type === SIMPLE) {
      const original = data.getUint32(body, little);
      packets.push({
        frame: packets.length + 1,
        time: null,
        link: interfaces[first]?.link ?? -1,
        interface: first,
        bytes: bytes.subarray(body + 4, Math.min(end, body + 4 + original)),
        length: original,
      });
    }
    at += length;
  }
  const ticks = new Set(interfaces.map((i) => i.ticks));
  const [only] = ticks;
  return {
    type: 'pcapng',
    byteOrder: little ? 'little-endian' : 'big-endian',
    resolution: (ticks.size === 1 && only !== undefined && RESOLUTION.get(only)) || 'other',
    interfaces: interfaces.map(({ link, name }) => ({ link, name })),
    packets,
    brokenAt: broken,
  };
}

/**
 * `link | reserved | snap length | options`; options: 2 the interface's name, 9 the resolution of its times.
 */
function describedAt(
  bytes: Uint8Array,
  data: DataView,
  body: number,
  end: number,
  little: boolean,
): Described {
  let name: string | null = null;
  let ticks = 1_000_000n;
  for (let at = body + 8; at + 4 <= end;) {
    const code = data.getUint16(at, little);
    const length = data.getUint16(at + 2, little);
    if (code === 0 || at + 4 + length > end) break;
    if (code === 2) name = String.fromCharCode(...bytes.subarray(at + 4, at + 4 + Math.min(length, 64)));
    if (code === 9 && length >= 1) {
      const value = bytes[at + 4]!;
      // The highest bit says: a power of two instead of ten.
      ticks =
        (value & 0x80) !== 0 ? 1n << BigInt(Math.min(value & 0x7f, 63)) : 10n ** BigInt(Math.min(value, 18));
    }
    at += 4 + length + ((4 - (length % 4)) % 4);
  }
  return { link: data.getUint16(body, little), name, ticks };
}

/** Ticks a second by name; other resolutions are rare. */
const RESOLUTION: ReadonlyMap<bigint, 'nanoseconds' | 'microseconds'> = new Map([
  [1_000_000_000n, 'nanoseconds'],
  [1_000_000n, 'microseconds'],
]);
