import { formatAddress, parseAddress } from '../../net/index.ts';
import { LineHead } from './lineHead.ts';
import { COLON, D, DOT, EQUALS, I, L, M, N, NEWLINE, NINE, P, R, S, T, SPACE, ZERO } from '../byte.ts';
import type { Sink } from './sink.ts';
import { isPart, isSource, numberAt, shortened, wordEnd } from './lineParts.ts';

const isFields = (b: Uint8Array, at: number, end: number): boolean =>
  at + 3 < end && b[at] === I && b[at + 1] === N && b[at + 2] === EQUALS;

/** Where `PROTO=` stands in a line; -1: nowhere. `PREC=` begins with the same letter. */
function protocolAt(b: Uint8Array, from: number, lineEnd: number): number {
  for (let at = b.indexOf(P, from); at > 0 && at < lineEnd; at = b.indexOf(P, at + 9))
    if (b[at + 5] === EQUALS && b[at + 1] === R && b[at - 1] === SPACE) return at;
  return -1;
}

/** What a look at the usual fields says of a line, where it is no place in it. */
const ALL = 0;
const OTHER = -1;

/**
 * Lines that the packet filter of Linux logs (nft(8) LOG STATEMENT, iptables-extensions(8) LOG), as the
 * system log, the journal or the kernel’s own buffer print them: `… PREFIX IN=eth0 OUT= MAC=… SRC=… DST=… …
 * PROTO=TCP SPT=… DPT=…`. Other lines of the system log stand between them.
 */
export class NetfilterScanner {
  readonly #sink: Sink;
  readonly #head: LineHead;

  /** @param now milliseconds since 1970: the system log leaves the year out */
  constructor(sink: Sink, now: number) {
    this.#sink = sink;
    this.#head = new LineHead(now);
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

  // What the fields of a line say; kept here, since several are found at once.
  #source = 0;
  #isOther = false;
  #hasSource = false;
  /** Where the destination's address begins; 0: nowhere. */
  #destination = 0;
  /** Below 0: none. */
  #protocol = -1;
  #sourcePort = 0;
  #port = 0;

  /** Where a line had no protocol, the next one is not searched for it: the search may go far beyond. */
  #hasProtocols = true;

  /** @returns where the next line begins */
  #line(b: Uint8Array, from: number): number {
    const lineEnd = b.indexOf(NEWLINE, from);
    const fieldsFrom = this.#fieldsAt(b, from, lineEnd);
    const sink = this.#sink;
    if (fieldsFrom < 0) {
      if (isPart(b, from, lineEnd)) sink.miss(b, from, lineEnd, 'cut');
      return lineEnd + 1;
    }
    const usual = fieldsFrom + this.#sourceOffset;
    const isUsual = usual <= lineEnd - 8 && isSource(b, usual) && b[usual - 1] === SPACE;
    const rest = isUsual && this.#hasProtocols ? this.#usualFields(b, usual, lineEnd) : OTHER;
    if (rest > 0) this.#fields(b, rest, fieldsFrom);
    else if (rest === OTHER) this.#anew(b, isUsual ? usual - 1 : fieldsFrom, fieldsFrom);
    const destination = this.#destination;
    const protocol = this.#protocol;
    const port = this.#port;
    if (!this.#hasSource || destination === 0 || protocol < 0 || !(port <= 65535)) {
      sink.miss(b, from, lineEnd, this.#hasSource ? 'cut' : 'no-address');
      return lineEnd + 1;
    }
    const wordsFrom = this.#head.read(b, from, fieldsFrom);
    let wordsTo = fieldsFrom;
    while (wordsTo > wordsFrom && b[wordsTo - 1] === SPACE) wordsTo--;
    const action = sink.actions.of(b, wordsFrom, wordsTo);
    const seconds = this.#head.seconds();
    const source = this.#source;
    const isOther = this.#isOther;
    if (sink.add(action, protocol, source, isOther, port, seconds))
      sink.keep({
        seconds,
        action,
        protocol,
        source,
        isOther,
        sourcePort: this.#sourcePort,
        destination: shortened(sink.text(b, destination, wordEnd(b, destination))),
        port,
        text: sink.text(b, from, lineEnd).trimEnd(),
      });
    return lineEnd + 1;
  }

  /**
   * The fields of nearly every line: `SRC=` and `DST=` of IPv4 side by side, and both ports right behind the
   * protocol. What stands between is passed over. @returns from where on the rest is to be looked at; `ALL`:
   * all is said; `OTHER`: it is another line, and nothing is said
   */
  #usualFields(b: Uint8Array, from: number, lineEnd: number): number {
    if (!this.#dotted(b, from + 4)) return OTHER;
    // ` DST=`
    let at = this.#addressEnd;
    if (b[at + 1] !== D || b[at + 2] !== S || b[at + 4] !== EQUALS) return OTHER;
    const destination = at + 5;
    const protocolFrom = protocolAt(b, destination, lineEnd);
    if (protocolFrom < 0) {
      this.#hasProtocols = false;
      return OTHER;
    }
    const { protocols } = this.#sink;
    this.#source = this.#address;
    this.#isOther = false;
    this.#hasSource = true;
    this.#destination = destination;
    this.#protocol = protocols.next(b, protocolFrom + 6);
    this.#sourcePort = this.#port = 0;
    // ` SPT=`
    at = protocols.end;
    if (b[at + 1] !== S || b[at + 2] !== P || b[at + 4] !== EQUALS) return at;
    at += 5;
    let sourcePort = 0;
    for (let c = b[at]!; c >= ZERO && c <= NINE; c = b[++at]!) sourcePort = sourcePort * 10 + c - ZERO;
    this.#sourcePort = sourcePort;
    // ` DPT=`
    if (b[at + 1] !== D || b[at + 2] !== P || b[at + 4] !== EQUALS) return at;
    at += 5;
    let port = 0;
    for (let c = b[at]!; c >= ZERO && c <= NINE; c = b[++at]!) port = port * 10 + c - ZERO;
    this.#port = b[at - 1] === EQUALS ? NaN : port;
    return ALL;
  }

  #anew(b: Uint8Array, from: number, fieldsFrom: number): void {
    this.#hasSource = this.#isOther = false;
    this.#destination = this.#sourcePort = this.#port = 0;
    this.#protocol = -1;
    this.#fields(b, from, fieldsFrom);
    if (this.#protocol >= 0) this.#hasProtocols = true;
  }

  /** The fields of any line that are not known yet, in any order, from a blank before them on. */
  #fields(b: Uint8Array, from: number, fieldsFrom: number): void {
    const sink = this.#sink;
    let at = from;
    let hasPort = false;
    for (let c = b[at]!; !hasPort; c = b[at]!) {
      while (c > SPACE) c = b[++at]!;
      if (c === NEWLINE) return;
      c = b[++at]!;
      switch (c) {
        case M:
          // `MAC=` and fourteen bytes, always as long.
          if (b[at + 3] === EQUALS && b[at + 45] === SPACE && b[at + 42] === COLON) at += 45;
          break;
        case S:
          if (b[at + 3] !== EQUALS) break;
          if (b[at + 1] === P) this.#sourcePort ||= numberAt(b, at + 4);
          else if (b[at + 1] === R && !this.#hasSource) {
            this.#sourceOffset = at - fieldsFrom;
            at += 4;
            this.#sender(b, at);
          }
          break;
        case D:
          if (b[at + 3] !== EQUALS) break;
          if (b[at + 1] === S) {
            this.#destination ||= at + 4;
            at += 3;
          } else if (b[at + 1] === P) {
            hasPort = true;
            this.#port = numberAt(b, at + 4);
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
          else if (b[at + 5] === EQUALS && b[at + 1] === R && this.#protocol < 0) {
            this.#protocol = sink.protocols.next(b, at + 6);
            at = sink.protocols.end;
          }
      }
    }
  }

  #sender(b: Uint8Array, from: number): void {
    if (this.#dotted(b, from)) {
      this.#source = this.#address;
      this.#hasSource = true;
      return;
    }
    const parsed = parseAddress(this.#sink.text(b, from, wordEnd(b, from)));
    this.#hasSource = parsed !== null;
    this.#isOther = true;
    if (parsed) this.#source = this.#sink.other(formatAddress(parsed));
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
  #addressEnd = 0;

  /** An IPv4 address before a blank, in `#address`; the blank's place in `#addressEnd`. */
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
    this.#addressEnd = at - 1;
    return true;
  }
}
