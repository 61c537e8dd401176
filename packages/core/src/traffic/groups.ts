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

/** What every line looks at lies side by side: one group's numbers fit into one line of the cache. */
const WIDTH = 4;
const KEY = 1;
const COUNT = 2;
const LAST = 3;

/** Stands for no time: before any that a log has. */
const NO_TIME = -0x80000000;

/** Counts by source, port and kind, in open addressing over typed arrays. */
export class Groups {
  #capacity = 1 << 14;
  /** Source, key, count and last moment of each slot. */
  #slots = new Int32Array(this.#capacity * WIDTH);
  #first = new Int32Array(this.#capacity);
  #line = new Uint32Array(this.#capacity);
  #size = 0;
  /** Lines of groups beyond those that are kept. */
  beyond = 0;

  get size(): number {
    return this.#size;
  }

  /**
   * @param kind below 65,536
   * @param seconds whole ones since 1970; NaN where there is no time
   */
  add(source: number, port: number, kind: number, seconds: number, line: number): void {
    const key = (kind << 16) | port;
    const mask = this.#capacity - 1;
    const slots = this.#slots;
    const time = seconds === seconds ? seconds | 0 : NO_TIME;
    let slot = mixed(source, key) & mask;
    for (;;) {
      const at = slot * WIDTH;
      if (slots[at + COUNT] === 0) break;
      if (slots[at] === source && slots[at + KEY] === key) {
        slots[at + COUNT]! += 1;
        slots[at + LAST] = time;
        return;
      }
      slot = (slot + 1) & mask;
    }
    if (this.#size >= MOST) {
      this.beyond++;
      return;
    }
    const at = slot * WIDTH;
    slots[at] = source;
    slots[at + KEY] = key;
    slots[at + COUNT] = 1;
    slots[at + LAST] = time;
    this.#first[slot] = time;
    this.#line[slot] = line;
    this.#size++;
    if (this.#size * 2 > this.#capacity) this.#grow();
  }

  #grow(): void {
    const [old, first, line] = [this.#slots, this.#first, this.#line];
    const before = this.#capacity;
    this.#capacity *= 2;
    const mask = this.#capacity - 1;
    const slots = (this.#slots = new Int32Array(this.#capacity * WIDTH));
    this.#first = new Int32Array(this.#capacity);
    this.#line = new Uint32Array(this.#capacity);
    for (let i = 0; i < before; i++) {
      const from = i * WIDTH;
      if (old[from + COUNT] === 0) continue;
      let slot = mixed(old[from] ?? 0, old[from + KEY] ?? 0) & mask;
      while (slots[slot * WIDTH + COUNT] !== 0) slot = (slot + 1) & mask;
      slots.set(old.subarray(from, from + WIDTH), slot * WIDTH);
      this.#first[slot] = first[i] ?? NO_TIME;
      this.#line[slot] = line[i] ?? 0;
    }
  }

  /** All groups, in no order. */
  each(use: (group: Group) => void): void {
    const slots = this.#slots;
    for (let i = 0; i < this.#capacity; i++) {
      const at = i * WIDTH;
      const count = (slots[at + COUNT] ?? 0) >>> 0;
      if (count === 0) continue;
      const key = slots[at + KEY] ?? 0;
      use({
        source: slots[at] ?? 0,
        port: key & 0xffff,
        kind: key >>> 16,
        count,
        first: timeOf(this.#first[i]),
        last: timeOf(slots[at + LAST]),
        line: this.#line[i] ?? 0,
      });
    }
  }
}

/** Moments beyond 2038 are kept in the same 32 bits. */
const timeOf = (time: number | undefined): number =>
  time === undefined || time === NO_TIME ? NaN : time >>> 0;
