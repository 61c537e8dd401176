import { formatAddress, parseAddress } from '../../net/index.ts';
import { Clock } from './clock.ts';
import {
  CLOSED,
  COLON,
  D,
  DOT,
  EQUALS,
  I,
  L,
  M,
  N,
  NEWLINE,
  NINE,
  OPENED,
  P,
  R,
  S,
  T,
  SPACE,
  ZERO,
} from '../byte.ts';
import type { Sink } from './sink.ts';
import {
  behindBracket,
  isKernel,
  isPart,
  isSource,
  isUptime,
  KERNEL,
  kernelAt,
  lastWord,
  numberAt,
  shortened,
  wordEnd,
} from './lineParts.ts';

const isFields = (b: Uint8Array, at: number, end: number): boolean =>
  at + 3 < end && b[at] === I && b[at + 1] === N && b[at + 2] === EQUALS;

/** Where the bracket behind `[12345.678901` usually closes. */
const UPTIME = 13;

/**
 * Lines that the packet filter of Linux logs (nft(8) LOG STATEMENT, iptables-extensions(8) LOG), as the
 * system log, the journal or the kernel’s own buffer print them: `… PREFIX IN=eth0 OUT= MAC=… SRC=… DST=… …
 * PROTO=TCP SPT=… DPT=…`. Other lines of the system log stand between them.
 */
export class NetfilterScanner {
  readonly #sink: Sink;
  readonly #clock: Clock;

  /** @param now milliseconds since 1970: the system log leaves the year out */
  constructor(sink: Sink, now: number) {
    this.#sink = sink;
    this.#clock = new Clock(now);
  }

  /** Reads whole lines: the byte before `end` ends one. */
  scan(b: Uint8Array, from: number, end: number): void {
    for (let at = from; at < end;) {
      this.#sink.lines++;
      at = this.#line(b, at);
    }
  }

  /** Lines of one machine are alike: where fields stood in the last one is looked at first. */
  #fieldsOffset = 0;
  #fieldsBefore = 0;
  #sourceOffset = 0;
  #kernelOffset = 0;

  /** @returns where the next line begins */
  #line(b: Uint8Array, from: number): number {
    const lineEnd = b.indexOf(NEWLINE, from);
    const fieldsFrom = this.#fieldsAt(b, from, lineEnd);
    if (fieldsFrom < 0) {
      if (isPart(b, from, lineEnd)) this.#sink.miss(b, from, lineEnd, 'cut');
      return lineEnd + 1;
    }
    let at = fieldsFrom + this.#sourceOffset;
    if (at > lineEnd - 8 || !isSource(b, at) || b[at - 1] !== SPACE) at = fieldsFrom;
    else at--;
    let c = b[at]!;
    const sink = this.#sink;
    let source = 0;
    let isOther = false;
    let hasSource = false;
    let destinationFrom = 0;
    let hasPort = false;
    let protocol = -1;
    let sourcePort = 0;
    let port = 0;
    for (;;) {
      while (c > SPACE) c = b[++at]!;
      if (c === NEWLINE) break;
      c = b[++at]!;
      switch (c) {
        case M:
          // `MAC=` and fourteen bytes, always as long.
          if (b[at + 3] === EQUALS && b[at + 45] === SPACE && b[at + 42] === COLON) at += 45;
          break;
        case S:
          if (b[at + 3] !== EQUALS) break;
          if (b[at + 1] === P) sourcePort ||= numberAt(b, at + 4);
          else if (b[at + 1] === R && !hasSource) {
            this.#sourceOffset = at - fieldsFrom;
            at += 4;
            hasSource = true;
            if (this.#dotted(b, at)) source = this.#address;
            else {
              const parsed = parseAddress(sink.text(b, at, wordEnd(b, at)));
              hasSource = parsed !== null;
              isOther = true;
              if (parsed) source = sink.other(formatAddress(parsed));
            }
          }
          break;
        case D:
          if (b[at + 3] !== EQUALS) break;
          if (b[at + 1] === S) {
            destinationFrom ||= at + 4;
            at += 3;
          } else if (b[at + 1] === P && !hasPort) {
            hasPort = true;
            port = numberAt(b, at + 4);
          }
          break;
        case T:
          // `TOS=0x00`, `TTL=64`
          if (b[at + 3] === EQUALS) at += b[at + 8] === SPACE ? 8 : 3;
          break;
        case L:
          if (b[at + 3] === EQUALS) at += 3;
          break;
        case P:
          // `PREC=0x00`
          if (b[at + 4] === EQUALS && b[at + 9] === SPACE) at += 9;
          else if (b[at + 5] === EQUALS && b[at + 1] === R && protocol < 0) {
            protocol = sink.protocols.next(b, at + 6);
            at = sink.protocols.end;
          }
      }
      if (hasPort) break;
      c = b[at]!;
    }
    if (!hasSource || destinationFrom === 0 || protocol < 0 || !(port <= 65535)) {
      sink.miss(b, from, lineEnd, hasSource ? 'cut' : 'no-address');
      return lineEnd + 1;
    }
    const wordsFrom = this.#head(b, from, fieldsFrom);
    let wordsTo = fieldsFrom;
    while (wordsTo > wordsFrom && b[wordsTo - 1] === SPACE) wordsTo--;
    const action = sink.actions.of(b, wordsFrom, wordsTo);
    const seconds = this.#clock.seconds();
    if (sink.add(action, protocol, source, isOther, port, seconds))
      sink.keep({
        seconds,
        action,
        protocol,
        source,
        isOther,
        sourcePort,
        destination: shortened(sink.text(b, destinationFrom, wordEnd(b, destinationFrom))),
        port,
        text: sink.text(b, from, lineEnd).trimEnd(),
      });
    return lineEnd + 1;
  }

  /** Where `IN=` stands first, behind the head of the line and the words of the rule; -1: nowhere. */
  #fieldsAt(b: Uint8Array, from: number, end: number): number {
    const usual = from + this.#fieldsOffset;
    if (isFields(b, usual, end)) return usual;
    // Two rules with words of their own take turns.
    const before = from + this.#fieldsBefore;
    if (isFields(b, before, end)) return before;
    for (let at = from + 2; at < end; at++)
      if (b[at] === EQUALS && b[at - 1] === N && b[at - 2] === I) {
        this.#fieldsBefore = this.#fieldsOffset;
        this.#fieldsOffset = at - 2 - from;
        return at - 2;
      }
    return -1;
  }

  #address = 0;

  /** An IPv4 address before a blank, in `#address`. */
  #dotted(b: Uint8Array, from: number): boolean {
    let at = from;
    let value = 0;
    for (let i = 0; i < 4; i++) {
      let octet = b[at]! - 48;
      if (octet < 0 || octet > 9) return false;
      let c = b[++at]!;
      while (c >= ZERO && c <= NINE) {
        octet = octet * 10 + c - 48;
        c = b[++at]!;
      }
      if (octet > 255 || c !== (i < 3 ? DOT : SPACE)) return false;
      value = (value << 8) | octet;
      at++;
    }
    this.#address = value;
    return true;
  }

  /** Reads the time at the head of a line. @returns where the words of the rule begin */
  #head(b: Uint8Array, from: number, to: number): number {
    let at = from;
    if (b[from] === OPENED) {
      at = behindBracket(b, from, to);
      this.#clock.bracketed(b, from + 1, at - 1);
    } else {
      this.#clock.stamped(b, from);
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
