/** Bins of a timeline; twice as wide ones take the place of more. */
const BINS = 1024;
/** What became of a packet, as a row of the timeline. */
export const ROWS = 3;

/** How many packets of each fate came when: bins of equal width, which grows with the time covered. */
export class Timeline {
  #from = NaN;
  #width = 1;
  /** The bin of the last moment: lines of one second stand together. */
  #lastSeconds = NaN;
  #lastBin = 0;
  #counts = Array.from({ length: ROWS }, () => new Uint32Array(BINS));

  /**
   * @param seconds since any fixed moment
   * @param row below `ROWS`
   */
  add(seconds: number, row: number): void {
    if (seconds !== this.#lastSeconds) {
      if (Number.isNaN(seconds)) return;
      this.#lastBin = this.#binOf(seconds);
      this.#lastSeconds = seconds;
    }
    this.#counts[row]![this.#lastBin]! += 1;
  }

  #binOf(seconds: number): number {
    if (Number.isNaN(this.#from)) this.#from = seconds;
    let bin = Math.floor((seconds - this.#from) / this.#width);
    while (bin < 0 || bin >= BINS) {
      this.#widen(bin < 0);
      bin = Math.floor((seconds - this.#from) / this.#width);
    }
    return bin;
  }

  /** Two bins become one; where earlier times come, the old ones move to the end. */
  #widen(isBefore: boolean): void {
    const shift = isBefore ? BINS / 2 : 0;
    this.#counts = this.#counts.map((old) => {
      const wide = new Uint32Array(BINS);
      for (let i = 0; i < BINS; i++) wide[shift + (i >> 1)]! += old[i] ?? 0;
      return wide;
    });
    this.#width *= 2;
    this.#from -= shift * this.#width;
  }

  /** Without the empty bins at both ends; null: no line had a time. */
  summary(): TimelineSummary | null {
    if (Number.isNaN(this.#from)) return null;
    const isEmpty = (i: number): boolean => this.#counts.every((row) => row[i] === 0);
    let first = 0;
    let last = BINS - 1;
    while (first < last && isEmpty(first)) first++;
    while (last > first && isEmpty(last)) last--;
    return {
      from: this.#from + first * this.#width,
      width: this.#width,
      counts: this.#counts.map((row) => [...row.subarray(first, last + 1)]),
    };
  }
}

export interface TimelineSummary {
  /** Seconds, where the first bin begins. */
  readonly from: number;
  /** Seconds */
  readonly width: number;
  /** By fate, then by bin. */
  readonly counts: readonly (readonly number[])[];
}
