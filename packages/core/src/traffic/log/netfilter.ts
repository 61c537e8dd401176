import { formatAddress, parseAddress } from '../../net/index.ts';
import { SPACE } from '../byte.ts';
import { LineHead } from './lineHead.ts';
import { shortened, wordEnd } from './lineParts.ts';
import * as at from './netfilterLines.ts';
import type { Sink } from './sink.ts';

/**
 * Lines that the packet filter of Linux logs (nft(8) LOG STATEMENT, iptables-extensions(8) LOG), as the
 * system log, the journal or the kernel’s own buffer print them: `… PREFIX IN=eth0 OUT= MAC=… SRC=… DST=… …
 * PROTO=TCP SPT=… DPT=…`. Other lines of the system log stand between them.
 */
export class NetfilterScanner {
  readonly #sink: Sink;
  readonly #head: LineHead;
  readonly #lines = new at.NetfilterLines();
  /** Whether the head of the line before was read: only then its moment may be this line's as well. */
  #isHeadRead = false;

  /** @param now milliseconds since 1970: the system log leaves the year out */
  constructor(sink: Sink, now: number) {
    this.#sink = sink;
    this.#head = new LineHead(now);
  }

  /** Reads whole lines: the byte before `end` ends one. */
  scan(b: Uint8Array, from: number, end: number): void {
    const lines = this.#lines;
    for (let rest = from; rest < end;) {
      rest = lines.load(b, rest, end);
      for (let count = lines.next(); count > 0; count = lines.next())
        for (let i = 0; i < count; i++) this.#line(lines.text, lines.records, i * lines.width);
    }
  }

  /** @param record where the record of the line begins in `records` */
  #line(b: Uint8Array, records: Int32Array, record: number): void {
    const sink = this.#sink;
    sink.lines++;
    const isSameMoment = this.#isHeadRead && records[record + at.IS_SAME_MOMENT] === 1;
    this.#isHeadRead = false;
    const from = records[record + at.LINE]!;
    const end = records[record + at.END]!;
    const fields = records[record + at.FIELDS]!;
    const kind = records[record + at.SOURCE_KIND]!;
    if (fields === 0) {
      if (kind === at.PART) sink.miss(b, from, end, 'cut');
      return;
    }
    const isOther = kind !== at.IPV4;
    const source = isOther
      ? this.#other(b, kind, records[record + at.SOURCE]!)
      : records[record + at.SOURCE]!;
    const destination = records[record + at.DESTINATION]!;
    const protocolFrom = records[record + at.PROTOCOL]!;
    const port = records[record + at.PORT]!;
    if (source === null || destination === 0 || protocolFrom === 0 || port < 0) {
      sink.miss(b, from, end, source === null ? 'no-address' : 'cut');
      return;
    }
    const wordsFrom = this.#head.read(b, from, fields, isSameMoment);
    this.#isHeadRead = true;
    let wordsTo = fields;
    while (wordsTo > wordsFrom && b[wordsTo - 1] === SPACE) wordsTo--;
    const action = sink.actions.of(b, wordsFrom, wordsTo);
    const protocol = sink.protocols.of(b, protocolFrom, records[record + at.PROTOCOL_END]!);
    const seconds = this.#head.seconds();
    if (sink.add(action, protocol, source, isOther, port, seconds))
      sink.keep({
        seconds,
        action,
        protocol,
        source,
        isOther,
        sourcePort: Math.max(0, records[record + at.SOURCE_PORT]!),
        destination: shortened(sink.text(b, destination, wordEnd(b, destination))),
        port,
        text: sink.text(b, from, end).trimEnd(),
      });
  }

  /** The number of an address that is none of IPv4; null: there is none. */
  #other(b: Uint8Array, kind: number, from: number): number | null {
    if (kind !== at.OTHER_SOURCE) return null;
    const parsed = parseAddress(this.#sink.text(b, from, wordEnd(b, from)));
    return parsed && this.#sink.other(formatAddress(parsed));
  }
}
