import { NEWLINE } from '../byte.ts';
import { NETFILTER_LINES } from './netfilterLines.wasm.ts';

interface Exports {
  readonly memory: { readonly buffer: ArrayBuffer };
  readonly TEXT: Constant;
  readonly ROOM: Constant;
  readonly RECORDS: Constant;
  readonly RECORD: Constant;
  readonly MOST: Constant;
  readonly rest: Constant;
  /** @returns how many records there are */
  readonly scan: (from: number, end: number) => number;
}

interface Constant {
  readonly value: number;
}

/** What stands at each place of a record; all places in a text are those of `text`. */
export const LINE = 0;
/** Where the line break stands. */
export const END = 1;
/** Where `IN=` stands; 0: nowhere. */
export const FIELDS = 2;
/** One of the four below. */
export const SOURCE_KIND = 3;
/** The address as a signed number, or where it stands. */
export const SOURCE = 4;
/** Where the address stands; 0: nowhere. */
export const DESTINATION = 5;
/** Where the word begins; 0: nowhere. */
export const PROTOCOL = 6;
export const PROTOCOL_END = 7;
/** 0: none; -1: one that cannot be read. */
export const SOURCE_PORT = 8;
export const PORT = 9;
/** 1: the line begins with the same moment as the one before it. */
export const IS_SAME_MOMENT = 10;

export const IPV4 = 1;
export const OTHER_SOURCE = 2;
/** A line with a packet’s fields whose beginning is missing. */
export const PART = 3;

/** What is used of the WebAssembly JavaScript Interface (W3C): the types of the language leave it out. */
interface MachineCode {
  readonly Module: new (bytes: Uint8Array) => object;
  readonly Instance: new (compiled: object) => { readonly exports: unknown };
}

const { Module, Instance } = (globalThis as unknown as { readonly WebAssembly: MachineCode }).WebAssembly;

let compiled: object | null = null;

/**
 * Finds the fields in the lines of a system log: the loop over their bytes is machine code
 * (`packages/core/wasm/netfilterLines.ts`), sixteen bytes at a time.
 */
export class NetfilterLines {
  readonly #exports: Exports;
  /** The memory that places in a record are of. */
  readonly text: Uint8Array;
  /** One record behind the other, `width` numbers each. */
  readonly records: Int32Array;
  readonly width: number;
  #at = 0;
  #end = 0;

  constructor() {
    compiled ??= new Module(Uint8Array.from(atob(NETFILTER_LINES), (c) => c.charCodeAt(0)));
    this.#exports = new Instance(compiled).exports as Exports;
    const { memory, RECORDS, RECORD, MOST } = this.#exports;
    this.text = new Uint8Array(memory.buffer);
    this.width = RECORD.value / 4;
    this.records = new Int32Array(memory.buffer, RECORDS.value, this.width * MOST.value);
  }

  /**
   * Takes in as many whole lines as there is room for. A line that is longer than all of it is cut.
   * @returns where the text goes on that was not taken
   */
  load(b: Uint8Array, from: number, end: number): number {
    const [start, room] = [this.#exports.TEXT.value, this.#exports.ROOM.value];
    this.#at = start;
    let to = end;
    if (end - from > room) {
      to = b.lastIndexOf(NEWLINE, from + room - 1) + 1;
      if (to <= from) {
        this.text.set(b.subarray(from, from + room - 1), start);
        this.text[start + room - 1] = NEWLINE;
        this.#end = start + room;
        return b.indexOf(NEWLINE, from) + 1;
      }
    }
    this.text.set(b.subarray(from, to), start);
    this.#end = start + to - from;
    return to;
  }

  /** @returns how many records of the lines that follow there are; 0 once there are none */
  next(): number {
    if (this.#at >= this.#end) return 0;
    const count = this.#exports.scan(this.#at, this.#end);
    this.#at = this.#exports.rest.value;
    return count;
  }
}
