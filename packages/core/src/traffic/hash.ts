/** Spreads the bits of two numbers over one: neighbours end up far apart (the finaliser of MurmurHash3). */
export function mixed(a: number, b: number): number {
  let h = Math.imul(a, 0x9e3779b1) ^ b;
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return h ^ (h >>> 16);
}
