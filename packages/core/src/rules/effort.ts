/** Work that grows beyond what anybody waits for. The message is one line for people. */
export class TooMuchWork extends Error {
  override readonly name = 'TooMuchWork';
  readonly code = 'too-much-work';
}

/** Rules on sets of packets that one question may cost before it is given up: some tens of seconds. */
export const MOST_EFFORT = 20_000_000;

/** Counts steps of work, so that no question runs without end; and lets it be stopped on the way. */
export class Effort {
  #left: number;
  readonly #what: string;
  readonly #pause: (() => void) | null;

  /**
   * @param what the question, as `what is open from outside`
   * @param most steps after which it is given up
   * @param pause called now and then; stops the work by throwing
   */
  constructor(what: string, most = MOST_EFFORT, pause: (() => void) | null = null) {
    this.#left = most;
    this.#what = what;
    this.#pause = pause;
  }

  /** @throws TooMuchWork once all steps are spent */
  spend(steps = 1): void {
    const before = this.#left;
    this.#left -= steps;
    if (this.#left < 0) {
      throw new TooMuchWork(`${this.#what}: the rule sets split the packets into too many parts to follow`);
    }
    if (this.#pause && before >> 14 !== this.#left >> 14) this.#pause();
  }
}
