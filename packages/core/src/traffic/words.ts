/** More different words than this are one word, the last. */
const MOST = 255;

/** A word is never longer than this, bytes. */
const LONGEST = 64;

/** So many are compared one by one before they are looked up. */
const QUICK = 4;

/** Words of a log (actions, protocols, words of a rule) as small numbers, told apart by their bytes. */
export class Words {
  readonly #decoder = new TextDecoder();
  readonly #slots = new Int16Array(1024).fill(-1);
  readonly #bytes = new Uint8Array((MOST + 1) * LONGEST);
  readonly #lengths = new Uint8Array(MOST + 1);
  readonly list: string[] = [];

  /** Where the word ends that `next` found. */
  end = 0;

  /** The number of the word that begins here and ends before a blank; the words met first are tried first. */
  next(b: Uint8Array, from: number): number {
    const tried = Math.min(this.list.length, QUICK);
    for (let id = 0; id < tried; id++) {
      const length = this.#lengths[id] ?? 0;
      if (b[from + length] === 32 && this.#isSame(b, from, length, id * LONGEST)) {
        this.end = from + length;
        return id;
      }
    }
    let at = from;
    while ((b[at] ?? 0) > 32) at++;
    this.end = at;
    return this.of(b, from, at);
  }

  /** The number of the word between two places. */
  of(b: Uint8Array, from: number, to: number): number {
    const length = Math.min(to - from, LONGEST);
    const tried = Math.min(this.list.length, QUICK);
    for (let id = 0; id < tried; id++)
      if (this.#lengths[id] === length && this.#isSame(b, from, length, id * LONGEST)) return id;
    // Few words, all different in length or at their ends: their hash is taken from there alone.
    const hash =
      length * 61 + (b[from] ?? 0) * 7 + (b[from + length - 1] ?? 0) * 31 + (b[from + (length >> 1)] ?? 0);
    for (let slot = hash & 1023; ; slot = (slot + 1) & 1023) {
      const id = this.#slots[slot] ?? -1;
      if (id < 0) return this.#added(b, from, length, slot);
      if (this.#lengths[id] === length && this.#isSame(b, from, length, id * LONGEST)) return id;
    }
  }

  #isSame(b: Uint8Array, from: number, length: number, at: number): boolean {
    const own = this.#bytes;
    // Words differ at their ends, if they do.
    for (let i = length - 1; i >= 0; i--) if (own[at + i] !== b[from + i]) return false;
    return true;
  }

  #added(b: Uint8Array, from: number, length: number, slot: number): number {
    if (this.list.length >= MOST) {
      this.list[MOST] = '(other)';
      return MOST;
    }
    const id = this.list.length;
    this.#slots[slot] = id;
    this.#lengths[id] = length;
    this.#bytes.set(b.subarray(from, from + length), id * LONGEST);
    this.list.push(this.#decoder.decode(b.subarray(from, from + length)));
    return id;
  }
}
