import { DASH, SPACE, ZERO } from '../byte.ts';

const digit = (b: Uint8Array, at: number): number => (b[at] ?? 0) - 48;
/** Two digits; the first one may be a blank. */
const two = (b: Uint8Array, at: number): number => (b[at] === 32 ? 0 : digit(b, at) * 10) + digit(b, at + 1);

/** Two digits `00` as bytes. */
const TWO_ZEROS = ZERO * 11;
const DAY = 86_400;
const MONTHS = 'JanFebMarAprMayJunJulAugSepOctNovDec';

/** The moment of a line: its day is worked out anew only when it changes. */
export class Clock {
  /** The bytes of the day that the midnight is of. */
  #high = 0;
  #low = 0;
  #midnight = NaN;
  #time = NaN;
  readonly #now: number;

  /** @param now milliseconds since 1970: for logs that leave the year out */
  constructor(now = 0) {
    this.#now = now;
  }

  /** `2026-11-24`, as local time of whoever wrote it. */
  date(b: Uint8Array, from: number, to: number): void {
    if (this.#isSameDay(b, from, from + 5)) return;
    const isDate = to - from === 10 && b[from + 4] === DASH && b[from + 7] === DASH;
    const year = two(b, from) * 100 + two(b, from + 2);
    this.#midnight = isDate ? Date.UTC(year, two(b, from + 5) - 1, two(b, from + 8)) / 1000 : NaN;
  }

  /** `17:02:11` */
  time(b: Uint8Array, from: number): void {
    const hours = b[from] === SPACE ? b[from + 1]! - ZERO : b[from]! * 10 + b[from + 1]! - TWO_ZEROS;
    const minutes = b[from + 3]! * 10 + b[from + 4]! - TWO_ZEROS;
    this.#time = hours * 3600 + minutes * 60 + b[from + 6]! * 10 + b[from + 7]! - TWO_ZEROS;
    if (!(this.#time >= 0 && this.#time < DAY)) this.#time = NaN;
  }

  /** The head of a line of the system log: `Nov 24 17:02:11` (RFC 3164 §4.1.2) or `2026-11-24T17:02:11`. */
  stamped(b: Uint8Array, from: number): void {
    if (b[from + 4] === DASH) {
      this.date(b, from, from + 10);
      this.time(b, from + 11);
      return;
    }
    this.#monthAndDay(b, from, null);
    this.time(b, from + 7);
  }

  /** `[Tue Nov 24 17:02:11 2026]`, or `[   12.345678]`: seconds since the start of the machine. */
  bracketed(b: Uint8Array, from: number, to: number): void {
    if (to - from >= 24 && b[from + 3] === 32) {
      this.#monthAndDay(b, from + 4, two(b, from + 20) * 100 + two(b, from + 22));
      this.time(b, from + 11);
      return;
    }
    this.#midnight = NaN;
    this.#high = this.#low = 0;
  }

  #monthAndDay(b: Uint8Array, from: number, year: number | null): void {
    if (this.#isSameDay(b, from, from + 1)) return;
    const month = MONTHS.indexOf(String.fromCharCode(b[from] ?? 0, b[from + 1] ?? 0, b[from + 2] ?? 0));
    const day = two(b, from + 4);
    if (month < 0 || month % 3 !== 0 || !(day >= 1 && day <= 31)) {
      this.#midnight = NaN;
      return;
    }
    const own = year ?? new Date(this.#now).getUTCFullYear();
    const at = Date.UTC(own, month / 3, day);
    // What would lie ahead was written the year before; clocks of other zones may be a day ahead.
    const isAhead = year === null && at > this.#now + DAY * 1000;
    this.#midnight = (isAhead ? Date.UTC(own - 1, month / 3, day) : at) / 1000;
  }

  /** Whether the eight bytes that name the day are those of the line before. */
  #isSameDay(b: Uint8Array, first: number, second: number): boolean {
    const high = (b[first]! << 24) | (b[first + 1]! << 16) | (b[first + 2]! << 8) | b[first + 3]!;
    const low = (b[second]! << 24) | (b[second + 1]! << 16) | (b[second + 3]! << 8) | b[second + 4]!;
    if (high === this.#high && low === this.#low) return true;
    this.#high = high;
    this.#low = low;
    return false;
  }

  /** Seconds since 1970, were the line's own clock set to UTC; NaN where it has none. */
  seconds(): number {
    return this.#midnight + this.#time;
  }
}
