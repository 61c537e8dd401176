/** An IPv4 address with another last number. */
export const withLast = (address: string, other: (last: number) => number): string => {
  const at = address.lastIndexOf('.') + 1;
  return address.slice(0, at) + String(other(Number(address.slice(at))));
};

/** A draw of lots: 0 ≤ n < 1. */
export type Lots = () => number;

/** Lots that a seed decides (mulberry32). */
export function lotsOf(seed: number): Lots {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

export function pick<T>(list: readonly T[], lots: Lots): T {
  const drawn = list[Math.floor(lots() * list.length)];
  if (drawn === undefined) throw new Error('nothing to draw from');
  return drawn;
}
