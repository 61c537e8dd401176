import crc32 from 'crc-32';

/** An entry as the directory of a zip file names it (PKWARE APPNOTE 4.3.12). */
export interface ZipEntry {
  readonly name: string;
  /** CRC-32 of the unpacked bytes, unsigned. */
  readonly crc: number;
  /** Unpacked, bytes. */
  readonly size: number;
}

const END = 0x06054b50;
const ENTRY = 0x02014b50;
/** The end record without its comment, and the longest comment (APPNOTE 4.3.16), bytes. */
const END_LENGTH = 22;
const MOST_COMMENT = 0xffff;

/** What the directory at the end of a zip file names, in its order; null: there is none, or it is cut. */
export function zipDirectory(bytes: Uint8Array): ZipEntry[] | null {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const end = endRecord(view);
  if (end === null) return null;
  const out: ZipEntry[] = [];
  let at = view.getUint32(end + 16, true);
  for (let n = view.getUint16(end + 10, true); n > 0; n--) {
    if (at + 46 > end || view.getUint32(at, true) !== ENTRY) return null;
    const length = view.getUint16(at + 28, true);
    const name = new TextDecoder().decode(bytes.subarray(at + 46, at + 46 + length));
    out.push({ name, crc: view.getUint32(at + 16, true), size: view.getUint32(at + 24, true) });
    at += 46 + length + view.getUint16(at + 30, true) + view.getUint16(at + 32, true);
  }
  return out;
}

function endRecord(view: DataView): number | null {
  const last = view.byteLength - END_LENGTH;
  for (let at = last; at >= 0 && at >= last - MOST_COMMENT; at--)
    if (view.getUint32(at, true) === END) return at;
  return null;
}

/** What of an unpacked entry is not as the directory says: the entry is damaged. */
export const isDamaged = (entry: ZipEntry, unpacked: Uint8Array): boolean =>
  entry.size !== unpacked.length || entry.crc !== crc32.buf(unpacked) >>> 0;
