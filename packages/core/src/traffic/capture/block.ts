export interface Described {
  readonly link: number;
  readonly name: string | null;
  /** Seconds of one tick. */
  readonly tick: number;
}

/** `link | reserved | snap length | options`; option 2: the interface's name, 9: the unit of its times. */
export function described(
  b: Uint8Array,
  data: DataView,
  body: number,
  end: number,
  little: boolean,
): Described {
  let name: string | null = null;
  let tick = 1e-6;
  for (let at = body + 8; at + 4 <= end;) {
    const code = data.getUint16(at, little);
    const length = data.getUint16(at + 2, little);
    if (code === 0 || at + 4 + length > end) break;
    if (code === 2) name = new TextDecoder().decode(b.subarray(at + 4, at + 4 + Math.min(length, 64)));
    if (code === 9 && length >= 1) {
      const value = b[at + 4]!;
      // The highest bit says: a power of two instead of ten.
      tick = (value & 0x80) !== 0 ? 2 ** -(value & 0x7f) : 10 ** -value;
    }
    at += 4 + length + ((4 - (length % 4)) % 4);
  }
  return { link: data.getUint16(body, little), name, tick };
}
