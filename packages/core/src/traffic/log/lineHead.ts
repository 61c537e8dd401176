import { CLOSED, OPENED, SPACE } from '../byte.ts';
import { Clock } from './clock.ts';
import { behindBracket, isKernel, isUptime, KERNEL, kernelAt, lastWord } from './lineParts.ts';

/** Where the bracket behind `[12345.678901` usually closes. */
const UPTIME = 13;

/** What stands before the words of a rule: the time, the machine's name, the seconds since it started. */
export class LineHead {
  readonly #clock: Clock;
  /** Lines of one machine are alike: where `kernel:` stood in the last one is looked at first. */
  #kernelOffset = 0;

  /** @param now milliseconds since 1970: the system log leaves the year out */
  constructor(now: number) {
    this.#clock = new Clock(now);
  }

  /** Seconds since 1970 of the line that was read last; NaN: it has no time. */
  seconds(): number {
    return this.#clock.seconds();
  }

  /**
   * Reads the time at the head of a line.
   * @param isSameMoment whether it is that of the line read before
   * @returns where the words of the rule begin
   */
  read(b: Uint8Array, from: number, to: number, isSameMoment: boolean): number {
    let at = from;
    if (b[from] === OPENED) {
      at = behindBracket(b, from, to);
      this.#clock.bracketed(b, from + 1, at - 1);
    } else {
      if (!isSameMoment) this.#clock.stamped(b, from);
      const usual = from + this.#kernelOffset;
      const kernel = usual < to && isKernel(b, usual) ? usual : kernelAt(b, from, to);
      // Without it, the words of the rule cannot be told from the head: the last word is theirs.
      if (kernel < 0) return lastWord(b, from, to);
      this.#kernelOffset = kernel - from;
      at = kernel + KERNEL.length;
    }
    while (at < to && b[at] === SPACE) at++;
    if (b[at] === OPENED && isUptime(b, at + 1)) {
      at = b[at + UPTIME] === CLOSED ? at + UPTIME + 1 : behindBracket(b, at, to);
      while (at < to && b[at] === SPACE) at++;
    }
    return at;
  }
}
