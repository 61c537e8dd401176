/** A small seeded generator (mulberry32): the same seed gives the same site everywhere. */
export interface Random {
  /** 0 ≤ n < limit */
  below(limit: number): number;
  pick<T>(list: readonly T[]): T;
  chance(probability: number): boolean;
}

export function random(seed: number): Random {
  let state = seed >>> 0;
  const next = (): number => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
  return {
    below: (limit) => Math.floor(next() * limit),
    pick: (list) => list[Math.floor(next() * list.length)]!,
    chance: (probability) => next() < probability,
  };
}
