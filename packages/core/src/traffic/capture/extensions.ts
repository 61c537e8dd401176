/** The transport protocol of an IPv6 packet and where its header begins (RFC 8200 §4). */
export function behindExtensions(b: Uint8Array, at: number, end: number): [number, number] {
  let next = b[at + 6]!;
  let from = at + 40;
  while ((next === 0 || next === 43 || next === 44 || next === 60) && from + 8 <= end) {
    const isFragment = next === 44;
    if (isFragment && (((b[from + 2]! << 8) | b[from + 3]!) & 0xfff8) !== 0) return [-1, from];
    next = b[from]!;
    from += isFragment ? 8 : (b[from + 1]! + 1) * 8;
  }
  return [next, from];
}
