import { mixed } from './hash.ts';

/** How often one source came to one port with one protocol, and what was done with it. */
export interface Group {
  /** In the table of sources: an IPv4 address by its number, or another one by its place in the list. */
  readonly source: number;
  readonly port: number;
  /** A number that stands for protocol, action and family. */
  readonly kind: number;
  readonly count: number;
  /** Seconds; NaN where the log has no times. */
  readonly first: number;
  readonly last: number;
  /** Where it was seen first, from 1. */
  readonly line: number;
}

/** More different groups than this are counted, and not kept apart: the memory stays flat. */
const MOST = 1_000_000;

/** Counts by source, port and kind, in open addressing over typed arrays. */
export class Groups {
  #capacity = 1 << 14;
  #source = new Int32Array(this.#capacity);
  #key = new Int32Array(this.#capacity);
  #count = new Uint32Array(this.#capacity);
  #first = new Float64Array(this.#capacity);
  #last = new Float64Array(this.#capacity);
  #line = new Uint32Array(this.#capacity);
  #size = 0;
  /** Lines of groups beyond those that are kept. */
  beyond = 0;

  get size(): number {
    return this.#size;
  }

  /**
   * @param kind below 65,536
   * @param seconds NaN where there is no time
   */
  add(source: number, port: number, kind: number, seconds: number, line: number): void {
    const key = (kind << 16) | port;
    const mask = this.#capacity - 1;
    let slot = mixed(source, key) & mask;
    while (this.#count[slot] !== 0) {
      if (this.#source[slot] === source && this.#key[slot] === key) {
        this.#count[slot]! += 1;
        this.#last[slot] = seconds;
        return;
      }
      slot = (slot + 1) & mask;
    }
    if (this.#size >= MOST) {
      this.beyond++;
      return;
    }
    this.#source[slot] = source;
    this.#key[slot] = key;
    this.#count[slot] = 1;
    this.#first[slot] = seconds;
    this.#last[slot] = seconds;
    this.#line[slot] = line;
    this.#size++;
    if (this.#size * 2 > this.#capacity) this.#grow();
  }

  #grow(): void {
    const old = { source: this.#source, key: this.#key, count: this.#count, line: this.#line };
    const [first, last] = [this.#first, this.#last];
    const before = this.#capacity;
    this.#capacity *= 2;
    const mask = this.#capacity - 1;
    this.#source = new Int32Array(this.#capacity);
    this.#key = new Int32Array(this.#capacity);
    this.#count = new Uint32Array(this.#capacity);
    this.#first = new Float64Array(this.#capacity);
    this.#last = new Float64Array(this.#capacity);
    this.#line = new Uint32Array(this.#capacity);
    for (let i = 0; i < before; i++) {
      if (old.count[i] === 0) continue;
      const source = old.source[i] ?? 0;
      const key = old.key[i] ?? 0;
      let slot = mixed(source, key) & mask;
      while (this.#count[slot] !== 0) slot = (slot + 1) & mask;
      this.#source[slot] = source;
      this.#key[slot] = key;
      this.#count[slot] = old.count[i] ?? 0;
      this.#first[slot] = first[i] ?? NaN;
      this.#last[slot] = last[i] ?? NaN;
      this.#line[slot] = old.line[i] ?? 0;
    }
  }

  /** All groups, in no order. */
  each(use: (group: Group) => void): void {
    for (let i = 0; i < this.#capacity; i++) {
      const count = this.#count[i] ?? 0;
      if (count === 0) continue;
      const key = this.#key[i] ?? 0;
      use({
        source: this.#source[i] ?? 0,
        port: key & 0xffff,
        kind: key >>> 16,
        count,
        first: this.#first[i] ?? NaN,
        last: this.#last[i] ?? NaN,
        line: this.#line[i] ?? 0,
      });
    }
  }
}
