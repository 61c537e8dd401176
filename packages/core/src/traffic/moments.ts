/** Something that a record saw at a time of its own clock. */
interface Timed {
  /** Seconds; NaN where it has no time. */
  readonly seconds: number;
}

/** What a record saw when somebody was told to try. */
export type Watched<T extends Timed> =
  | {
      readonly is: 'found';
      /** Seconds by which the record's clock is ahead of the moments. */
      readonly ahead: number;
      /** By moment, in their order: what came then. */
      readonly seen: readonly (readonly T[])[];
    }
  /** Nothing fits the moments; or different things do, by different clocks. */
  | { readonly is: 'none' | 'several' };

/** From a word to try until the last packet of it, and how far two clocks that are set may differ. */
const SLOW = 120;
const EARLY = 10;

const HOUR = 3600;
const DAY = 24 * HOUR;
/** Clocks of time zones are whole hours from UTC, or one of these (IANA time zone database). */
const ODD_ZONES = [-9.5, -3.5, -2.5, 3.5, 4.5, 5.5, 5.75, 6.5, 8.75, 9.5, 10.5, 12.75, 13.75];
/** Records were seen to be days off. */
const DAYS = 7;

/** Distances between two clocks, the likeliest first: none, time zones, whole days. */
const DISTANCES: readonly number[] = [
  0,
  ...Array.from({ length: 14 }, (_, i) => (i + 1) * HOUR),
  ...Array.from({ length: 12 }, (_, i) => -(i + 1) * HOUR),
  ...ODD_ZONES.map((h) => h * HOUR),
  ...Array.from({ length: DAYS }, (_, i) => [(i + 1) * DAY, -(i + 1) * DAY]).flat(),
];

/**
 * Finds what a record saw at some moments, although its clock may be another's: in a time zone, on a wrong
 * day, or off by a constant, as long as two moments tell it. Where several clocks would fit and show
 * different things, the one that shows `isOwn` is taken; else none is.
 * @param moments seconds since 1970
 */
export function watchedTries<T extends Timed>(
  all: readonly T[],
  moments: readonly number[],
  isOwn: (item: T) => boolean = () => false,
): Watched<T> {
  const timed = all.filter((e) => !Number.isNaN(e.seconds)).sort((a, b) => a.seconds - b.seconds);
  const at = (ahead: number): T[][] =>
    moments.map((m) => timed.filter((e) => e.seconds >= m + ahead - EARLY && e.seconds <= m + ahead + SLOW));
  const fits = (ahead: number): boolean => at(ahead).every((list) => list.length > 0);
  if (moments.length === 0) return { is: 'none' };
  const usual = DISTANCES.filter(fits);
  const fit = usual.length > 0 ? usual : constants(timed, moments).filter(fits);
  const seen = (ahead: number): string => JSON.stringify(at(ahead).map((list) => list.map((e) => e.seconds)));
  const [first] = fit;
  if (first === undefined) return { is: 'none' };
  const found = (ahead: number): Watched<T> => ({ is: 'found', ahead, seen: at(ahead) });
  if (fit.every((d) => seen(d) === seen(first))) return found(first);
  const own = fit.filter((d) => at(d).every((list) => list.some(isOwn)));
  const [mine] = own;
  return mine !== undefined && own.every((d) => seen(d) === seen(mine)) ? found(mine) : { is: 'several' };
}

/** A clock that is off by any constant: it takes two moments to tell it. */
function constants(timed: readonly Timed[], [first = 0, ...more]: readonly number[]): number[] {
  if (more.length === 0) return [];
  const starts = timed.filter((e, i) => e.seconds - (timed[i - 1]?.seconds ?? -Infinity) > SLOW);
  return starts.map((e) => e.seconds - first);
}
