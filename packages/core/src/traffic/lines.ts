import { NEWLINE } from './byte.ts';
import { joined } from './joined.ts';

/** A line is never longer than this, bytes; what goes on beyond is another line. */
const LONGEST = 1 << 16;

/** Reads whole lines: from a place on, up to the one behind the last line break. */
export type Scan = (bytes: Uint8Array, from: number, end: number) => void;

/**
 * Whole lines of a file that comes in chunks. A chunk is read where it lies; only the line across two of them
 * is copied.
 */
export class Lines {
  readonly #scan: Scan;
  #left: Uint8Array = new Uint8Array(0);

  constructor(scan: Scan) {
    this.#scan = scan;
  }

  push(chunk: Uint8Array): void {
    const last = chunk.lastIndexOf(NEWLINE);
    if (last < 0) {
      this.#keep(chunk, 0);
      return;
    }
    let from = 0;
    if (this.#left.length > 0) {
      from = chunk.indexOf(NEWLINE) + 1;
      const line = joined(this.#left, chunk.subarray(0, from));
      this.#left = new Uint8Array(0);
      this.#scan(line, 0, line.length);
    }
    this.#scan(chunk, from, last + 1);
    this.#keep(chunk, last + 1);
  }

  /** What stands behind the last line break is a line as well. */
  end(): void {
    if (this.#left.length === 0) return;
    const line = joined(this.#left, Uint8Array.of(NEWLINE));
    this.#left = new Uint8Array(0);
    this.#scan(line, 0, line.length);
  }

  #keep(chunk: Uint8Array, from: number): void {
    if (from >= chunk.length) return;
    this.#left = joined(this.#left, chunk.subarray(from));
    if (this.#left.length > LONGEST) this.end();
  }
}
