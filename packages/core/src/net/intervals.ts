/** A closed interval of a discrete line: both ends belong to it. */
export interface Interval<T extends number | bigint> {
  readonly first: T;
  readonly last: T;
}

/**
 * A set of points: intervals in ascending order, disjoint and not adjacent. Every set has exactly one such
 * form.
 */
export type IntervalSet<T extends number | bigint> = readonly Interval<T>[];

/** The discrete line that a set lives on: ports are numbers, addresses are bigints. */
export interface Line<T extends number | bigint> {
  readonly first: T;
  readonly last: T;
  /** The neighbour above; only asked for points below `last`. */
  next(point: T): T;
  /** The neighbour below; only asked for points above `first`. */
  previous(point: T): T;
}

/** The normal form of any collection of intervals; empty ones (`first > last`) vanish. */
export function normalise<T extends number | bigint>(
  line: Line<T>,
  parts: Iterable<Interval<T>>,
): IntervalSet<T> {
  const sorted = [...parts]
    .filter((p) => p.first <= p.last)
    .sort((a, b) => {
      if (a.first < b.first) return -1;
      return a.first > b.first ? 1 : 0;
    });
  const out: Interval<T>[] = [];
  for (const part of sorted) {
    const top = out[out.length - 1];
    if (top && (top.last === line.last || part.first <= line.next(top.last))) {
      if (part.last > top.last) out[out.length - 1] = { first: top.first, last: part.last };
    } else out.push(part);
  }
  return out;
}

/** Whether the point belongs to the set; logarithmic in the number of intervals. */
export function includes<T extends number | bigint>(set: IntervalSet<T>, point: T): boolean {
  let low = 0;
  let high = set.length - 1;
  while (low <= high) {
    const middle = (low + high) >> 1;
    const part = set[middle]!;
    if (point < part.first) high = middle - 1;
    else if (point > part.last) low = middle + 1;
    else return true;
  }
  return false;
}

export function union<T extends number | bigint>(line: Line<T>, ...sets: IntervalSet<T>[]): IntervalSet<T> {
  return normalise(line, sets.flat());
}

export function intersection<T extends number | bigint>(
  a: IntervalSet<T>,
  b: IntervalSet<T>,
): IntervalSet<T> {
  const out: Interval<T>[] = [];
  for (let i = 0, j = 0; i < a.length && j < b.length;) {
    const x = a[i]!;
    const y = b[j]!;
    const first = x.first > y.first ? x.first : y.first;
    const last = x.last < y.last ? x.last : y.last;
    if (first <= last) out.push({ first, last });
    if (x.last < y.last) i++;
    else j++;
  }
  return out;
}

/** Everything on the line that is not in the set. */
export function complement<T extends number | bigint>(line: Line<T>, set: IntervalSet<T>): IntervalSet<T> {
  const out: Interval<T>[] = [];
  let from: T | null = line.first;
  for (const part of set) {
    if (from !== null && part.first > from) out.push({ first: from, last: line.previous(part.first) });
    from = part.last === line.last ? null : line.next(part.last);
  }
  if (from !== null) out.push({ first: from, last: line.last });
  return out;
}

export function difference<T extends number | bigint>(
  line: Line<T>,
  a: IntervalSet<T>,
  b: IntervalSet<T>,
): IntervalSet<T> {
  return intersection(a, complement(line, b));
}

export function sameSet<T extends number | bigint>(a: IntervalSet<T>, b: IntervalSet<T>): boolean {
  return (
    a.length === b.length && a.every((part, i) => part.first === b[i]!.first && part.last === b[i]!.last)
  );
}
