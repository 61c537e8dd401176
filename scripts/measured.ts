// What the measurements of `npm run bench` share.

/** The text with another ending each time: readers remember the text that they read last. */
let times = 0;
export const anew = (text: string): string => text + '\n'.repeat((times = (times % 9) + 1));

/** Milliseconds of the fastest of some runs. */
export function best(runs: number, work: () => void): number {
  let least = Infinity;
  for (let i = 0; i < runs; i++) {
    const start = performance.now();
    work();
    least = Math.min(least, performance.now() - start);
  }
  return least;
}

export const say = (what: string, value: string): void => console.log(`${what.padEnd(62)} ${value}`);
export const ms = (n: number): string => `${n.toFixed(n < 10 ? 2 : 0)} ms`;

export const many = (count: number, line: (i: number) => string): string =>
  Array.from({ length: count }, (_, i) => line(i)).join('');
