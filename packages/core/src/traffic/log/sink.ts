import { Groups, type Group } from '../groups.ts';
import { Timeline, type TimelineSummary } from '../timeline.ts';
import { Words } from '../words.ts';
import { fateOf, type Fate } from './fate.ts';

/** What is kept line by line while the rest is counted. */
export interface Wanted {
  /** IPv4 addresses as signed 32-bit numbers. */
  readonly sources: readonly number[];
  /** Addresses of other families, as they are written in short. */
  readonly others: readonly string[];
  /** Destination ports, of any protocol. */
  readonly ports: readonly number[];
  readonly isAll?: true;
}

export const NOTHING_WANTED: Wanted = { sources: [], others: [], ports: [] };
/** Every line is kept, up to the most that are. */
export const EVERYTHING: Wanted = { ...NOTHING_WANTED, isAll: true };

/** One packet of a log, as far as its line tells. */
export interface Entry {
  readonly line: number;
  readonly seconds: number;
  readonly action: string;
  readonly protocol: string;
  readonly source: string;
  readonly sourcePort: number;
  readonly destination: string;
  readonly port: number;
  /** The line as it stands in the log. */
  readonly text: string;
}

/** What a scanner knows of a packet whose line is kept. */
interface Kept extends Omit<Entry, 'line' | 'action' | 'protocol' | 'source'> {
  readonly action: number;
  readonly protocol: number;
  readonly source: number;
  readonly isOther: boolean;
}

/** A group in words. */
export interface LogGroup extends Omit<Group, 'source' | 'kind'> {
  readonly source: string;
  readonly action: string;
  readonly protocol: string;
  readonly fate: Fate;
}

/** A line that was not understood. */
export interface Unread {
  readonly line: number;
  readonly text: string;
  readonly why: UnreadWhy;
}

export type UnreadWhy = 'no-line-of-this-log' | 'cut' | 'no-address' | 'no-port';

const FATES: readonly Fate[] = ['kept-out', 'let-in', 'not-said'];
/** In the kind of a group: its source is no IPv4 address. */
const OTHER_FAMILY = 0x8000;
/** Entries that are kept line by line. */
const MOST_ENTRIES = 500_000;
/** Lines not understood that are shown; all are counted. */
const MOST_UNREAD = 20;

const dotted = (n: number): string => `${n >>> 24}.${(n >>> 16) & 255}.${(n >>> 8) & 255}.${n & 255}`;

/** Takes what a scanner finds in each line, and counts it. */
export class Sink {
  readonly actions = new Words();
  readonly protocols = new Words();
  readonly groups = new Groups();
  readonly #timeline = new Timeline();
  readonly #others = new Map<string, number>();
  readonly #otherList: string[] = [];
  readonly entries: Entry[] = [];
  readonly unread: Unread[] = [];
  readonly #decoder = new TextDecoder();
  /** The number of a pair of action and protocol. */
  readonly #pairs = new Int16Array(1 << 16).fill(-1);
  readonly #pairList: { readonly action: number; readonly protocol: number }[] = [];
  readonly #fates = new Uint8Array(256).fill(255);
  readonly #isWantedPort = new Uint8Array(1 << 16);
  readonly #wanted: Set<number>;
  readonly #wantedOthers: Set<string>;
  readonly #isWanting: boolean;
  readonly #wantsAll: boolean;
  /** Lines read, also those that were not understood. */
  lines = 0;
  packets = 0;
  unreadCount = 0;
  isKeptWhole = true;
  /** The line that names the fields; null: the log has none. */
  head: string | null = null;

  constructor(wanted: Wanted) {
    for (const port of wanted.ports) this.#isWantedPort[port] = 1;
    this.#wanted = new Set(wanted.sources);
    this.#wantedOthers = new Set(wanted.others);
    this.#wantsAll = wanted.isAll === true;
    this.#isWanting =
      this.#wantsAll || wanted.ports.length + wanted.sources.length + wanted.others.length > 0;
  }

  /** The number that stands for an address which is no IPv4 address. */
  other(text: string): number {
    const known = this.#others.get(text);
    if (known !== undefined) return known;
    const number = this.#otherList.length;
    this.#others.set(text, number);
    this.#otherList.push(text);
    return number;
  }

  /**
   * One packet.
   * @param source an IPv4 address as a signed 32-bit number, or the number of another one
   * @param port 0 where the protocol has none
   * @returns whether its line is wanted by itself
   */
  add(
    action: number,
    protocol: number,
    source: number,
    isOther: boolean,
    port: number,
    seconds: number,
  ): boolean {
    this.packets++;
    const pair = this.#pair(action, protocol);
    this.groups.add(source, port, isOther ? pair | OTHER_FAMILY : pair, seconds, this.lines);
    let fate = this.#fates[action] ?? 255;
    if (fate === 255) fate = this.#fates[action] = FATES.indexOf(fateOf(this.actions.list[action] ?? ''));
    this.#timeline.add(seconds, fate);
    if (!this.#isWanting || this.#wantsAll) return this.#wantsAll;
    if (this.#isWantedPort[port] === 1 && port !== 0) return true;
    return isOther
      ? this.#wantedOthers.has(this.#otherList[source] ?? '')
      : this.#wanted.size > 0 && this.#wanted.has(source);
  }

  /** Keeps one packet line by line. @param told numbers as `add` takes them, and what only this line says */
  keep(told: Kept): void {
    if (this.entries.length >= MOST_ENTRIES) {
      this.isKeptWhole = false;
      return;
    }
    const { action, protocol, source, isOther, ...rest } = told;
    this.entries.push({
      line: this.lines,
      action: this.actions.list[action] ?? '',
      protocol: (this.protocols.list[protocol] ?? '').toLowerCase(),
      source: this.sourceText(source, isOther),
      ...rest,
    });
  }

  /** A line that is none of this log. */
  miss(b: Uint8Array, from: number, to: number, why: UnreadWhy): void {
    this.unreadCount++;
    if (this.unread.length >= MOST_UNREAD) return;
    const text = this.#decoder.decode(b.subarray(from, Math.min(to, from + 200))).trimEnd();
    this.unread.push({ line: this.lines, text, why });
  }

  text(b: Uint8Array, from: number, to: number): string {
    return this.#decoder.decode(b.subarray(from, to));
  }

  sourceText(source: number, isOther: boolean): string {
    return isOther ? (this.#otherList[source] ?? '') : dotted(source);
  }

  #pair(action: number, protocol: number): number {
    const key = (action << 8) | protocol;
    const known = this.#pairs[key] ?? -1;
    if (known >= 0) return known;
    const number = Math.min(this.#pairList.length, OTHER_FAMILY - 1);
    this.#pairs[key] = number;
    this.#pairList.push({ action, protocol });
    return number;
  }

  /** The groups, those with most packets first; the first `most` of them. */
  listed(most = Infinity): LogGroup[] {
    const protocols = this.protocols.list.map((p) => p.toLowerCase());
    const fates = this.actions.list.map(fateOf);
    const out: LogGroup[] = [];
    this.groups.each((g) => {
      const pair = this.#pairList[g.kind & (OTHER_FAMILY - 1)];
      out.push({
        source: this.sourceText(g.source, g.kind >= OTHER_FAMILY),
        protocol: protocols[pair?.protocol ?? 0] ?? '',
        port: g.port,
        action: this.actions.list[pair?.action ?? 0] ?? '',
        fate: fates[pair?.action ?? 0] ?? 'not-said',
        count: g.count,
        first: g.first,
        last: g.last,
        line: g.line,
      });
    });
    out.sort((a, b) => b.count - a.count || a.line - b.line);
    return out.length > most ? out.slice(0, most) : out;
  }

  timeline(): TimelineSummary | null {
    return this.#timeline.summary();
  }
}
