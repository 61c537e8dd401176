/** Something that a record saw at a time of its own clock. */
interface Timed {
  /** Seconds; NaN where it has no time. */
  readonly seconds: number;
}

/** What a record saw when somebody was told to try. */
export interface Watched<T extends Timed> {
  /** Seconds by which the record's clock is ahead of the moments; null: nothing in it fits them. */
  readonly ahead: number | null;
  /** By moment, in their order: what came then. */
  readonly seen: readonly (readonly T[])[];
}

/** From a word to try until the last packet of it, and how far two clocks that are set may differ. */
const SLOW = 120;
const EARLY = 10;

const QUARTER = 15 * 60;
const DAY = 86_400;
/** Time zones lie up to 14 hours from UTC; records were seen to be days off. */
const ZONES = 56;
const DAYS = 7;

/** Distances between two clocks, the likeliest first: none, time zones, whole days and both. */
function* distances(): Iterable<number> {
  yield 0;
  for (let i = 1; i <= ZONES; i++) yield* [i * QUARTER, -i * QUARTER];
  for (let d = 1; d <= DAYS; d++) yield* [d * DAY, -d * DAY];
}

/**
 * Finds what a record saw at some moments, although its clock may be another's: in a time zone, on a wrong
 * day, or off by a constant, as long as two moments tell it.
 * @param moments seconds since 1970
 */
export function watchedTries<T extends Timed>(all: readonly T[], moments: readonly number[]): Watched<T> {
  const timed = all.filter((e) => !Number.isNaN(e.seconds)).sort((a, b) => a.seconds - b.seconds);
  const at = (ahead: number): T[][] =>
    moments.map((m) => timed.filter((e) => e.seconds >= m + ahead - EARLY && e.seconds <= m + ahead + SLOW));
  const hits = (ahead: number): number => at(ahead).filter((list) => list.length > 0).length;
  const [first] = moments;
  if (first === undefined || timed.length === 0) return { ahead: null, seen: moments.map(() => []) };
  if (hits(0) > 0) return { ahead: 0, seen: at(0) };
  const fit = [...distances()].filter((d) => hits(d) === moments.length);
  // Two distances that show the same tries are one: the one at which they follow the word soonest.
  const told = soonest(fit, at, moments) ?? constantOff(timed, moments, hits);
  return told === null ? { ahead: null, seen: moments.map(() => []) } : { ahead: told, seen: at(told) };
}

/** The distance, where all that fit show the same; null: they show different tries, or there is none. */
function soonest<T extends Timed>(
  fit: readonly number[],
  at: (ahead: number) => T[][],
  moments: readonly number[],
): number | null {
  const [best] = fit;
  if (best === undefined) return null;
  const key = (ahead: number): string => JSON.stringify(at(ahead).map((list) => list.map((e) => e.seconds)));
  if (moments.length === 1 && fit.some((d) => key(d) !== key(best))) return null;
  return best;
}

/** A clock that is off by any constant: two moments at least that both fit it, and nothing else does. */
function constantOff(
  timed: readonly Timed[],
  [first = 0, ...more]: readonly number[],
  hits: (ahead: number) => number,
): number | null {
  if (more.length === 0) return null;
  const starts = timed.filter((e, i) => e.seconds - (timed[i - 1]?.seconds ?? -Infinity) > SLOW);
  const fit = starts.map((e) => e.seconds - first).filter((d) => hits(d) === more.length + 1);
  const [only] = fit;
  return fit.length === 1 && only !== undefined ? only : null;
}
