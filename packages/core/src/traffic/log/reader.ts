import { Lines } from '../lines.ts';
import type { TimelineSummary } from '../timeline.ts';
import { NetfilterScanner } from './netfilter.ts';
import { NOTHING_WANTED, Sink, type Entry, type LogGroup, type Unread, type Wanted } from './sink.ts';
import { W3cScanner } from './w3c.ts';

/** How the lines of a log are made. */
export type LogLayout = 'w3c' | 'netfilter';

/** What a log holds, at any time while it is read. */
export interface LogSummary {
  readonly layout: LogLayout;
  readonly lines: number;
  readonly packets: number;
  /** Most packets first. */
  readonly groups: readonly LogGroup[];
  /** How many groups there are, also those that are not listed. */
  readonly kinds: number;
  /** Packets of groups that are not kept apart any more: there are too many. */
  readonly beyond: number;
  readonly timeline: TimelineSummary | null;
  /** Packets that were wanted by themselves, in the order of the log. */
  readonly entries: readonly Entry[];
  /** Whether all that were wanted are there. */
  readonly hasAllEntries: boolean;
  /** The line that names the fields of a log; null: it has none. */
  readonly head: string | null;
  readonly unread: readonly Unread[];
  readonly unreadCount: number;
}

export interface LogOptions {
  readonly wanted?: Wanted;
  /** Milliseconds since 1970, when the log was got: the system log leaves the year out. */
  readonly now: number;
}

/** Lines of a W3C log without its head begin with a date, a time and the word for what was done. */
const W3C_LINE =
  /^\d{4}-\d\d-\d\d \d\d:\d\d:\d\d [A-Za-z-]+ (?:TCP|UDP|ICMP|ICMPv6|\d+) \S+ \S+ (?:\d+|-) (?:\d+|-) /;
const W3C_HEAD = /^#Fields:[^\n]*\bsrc-ip\b/m;

function isNetfilterLine(line: string): boolean {
  const at = line.indexOf('IN=');
  return at >= 0 && line.indexOf(' OUT=', at) >= 0 && /\sSRC=\S+ DST=\S+ /.test(line);
}

/** So many lines at the start tell what a text is. */
const LOOKED_AT = 40;

/** Which layout the first lines of a text have; null: it is no log that is read here. */
export function logLayout(head: string): LogLayout | null {
  if (W3C_HEAD.test(head)) return 'w3c';
  const lines = head.split('\n', LOOKED_AT + 1).filter((l) => l.trim() !== '' && !l.startsWith('#'));
  const seen = lines.slice(0, LOOKED_AT);
  const isMost = (fits: (line: string) => boolean): boolean => seen.filter(fits).length * 2 >= seen.length;
  if (seen.length === 0) return null;
  if (isMost((l) => W3C_LINE.test(l))) return 'w3c';
  return isMost(isNetfilterLine) ? 'netfilter' : null;
}

/** Reads a log as it comes, in memory that does not grow with it. */
export class LogReader {
  readonly #layout: LogLayout;
  readonly #sink: Sink;
  readonly #lines: Lines;

  constructor(layout: LogLayout, { wanted = NOTHING_WANTED, now }: LogOptions) {
    this.#layout = layout;
    this.#sink = new Sink(wanted);
    const scanner = layout === 'w3c' ? new W3cScanner(this.#sink) : new NetfilterScanner(this.#sink, now);
    this.#lines = new Lines((bytes, from, end) => scanner.scan(bytes, from, end));
  }

  push(chunk: Uint8Array): void {
    this.#lines.push(chunk);
  }

  end(): void {
    this.#lines.end();
  }

  /** @param most groups that are listed; all are counted */
  summary(most = Infinity): LogSummary {
    const sink = this.#sink;
    return {
      layout: this.#layout,
      lines: sink.lines,
      packets: sink.packets,
      groups: sink.listed(most),
      kinds: sink.groups.size,
      beyond: sink.groups.beyond,
      timeline: sink.timeline(),
      entries: [...sink.entries],
      hasAllEntries: sink.isKeptWhole,
      head: sink.head,
      unread: [...sink.unread],
      unreadCount: sink.unreadCount,
    };
  }
}
