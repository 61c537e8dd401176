import { formatAddress, parseAddress } from '../../net/index.ts';
import { DASH, DOT, HASH, NEWLINE, NINE, RETURN, SPACE, ZERO } from '../byte.ts';
import type { Sink, UnreadWhy } from './sink.ts';
import { Clock } from './clock.ts';

/** What a field of a line is for, by the name that the heading gives it; 0: it is not needed. */
const ROLES = {
  date: 1,
  time: 2,
  action: 3,
  protocol: 4,
  'src-ip': 5,
  'dst-ip': 6,
  'src-port': 7,
  'dst-port': 8,
} as const;

const BY_NAME: ReadonlyMap<string, number> = new Map(Object.entries(ROLES));

/** The fields where a text holds only the last lines, without the ones that name them. */
const USUAL = 'date time action protocol src-ip dst-ip src-port dst-port';

/**
 * Lines of the W3C extended log file format (W3C WD-logfile-960323): `#Fields:` names the columns, which are
 * parted by blanks; a value that does not apply is `-`.
 */
export class W3cScanner {
  readonly #sink: Sink;
  readonly #clock = new Clock();
  #roles: Uint8Array;
  /** Fields up to the last one that is needed. */
  #needed: number;
  #isUsual = true;

  constructor(sink: Sink) {
    this.#sink = sink;
    [this.#roles, this.#needed] = rolesOf(USUAL);
  }

  #setFields(fields: string): void {
    [this.#roles, this.#needed] = rolesOf(fields);
    this.#isUsual = fields.trim().toLowerCase().startsWith(USUAL);
  }

  /** Reads whole lines: the byte before `end` ends one. */
  scan(b: Uint8Array, from: number, end: number): void {
    for (let at = from; at < end;) {
      this.#sink.lines++;
      const first = b[at] ?? 0;
      if (first === HASH || first <= SPACE) at = this.#aside(b, at, end);
      else at = (this.#isUsual ? this.#usualLine(b, at) : 0) || this.#line(b, at);
    }
  }

  /**
   * A line in the order in which the fields usually stand, with IPv4 addresses: the commonest one by far,
   * read in one pass. @returns where the next line begins; 0 where it is not such a line
   */
  #usualLine(b: Uint8Array, from: number): number {
    // `2026-11-24 17:02:11 `
    if (b[from + 10] !== SPACE || b[from + 19] !== SPACE) return 0;
    const sink = this.#sink;
    const action = sink.actions.next(b, from + 20);
    let at = sink.actions.end;
    if (b[at] !== SPACE) return 0;
    const protocol = sink.protocols.next(b, at + 1);
    at = sink.protocols.end;
    if (b[at] !== SPACE) return 0;
    at++;
    let source = 0;
    for (let i = 0; i < 4; i++) {
      let octet = b[at]! - 48;
      if (octet < 0 || octet > 9) return 0;
      let c = b[++at]!;
      if (c >= ZERO && c <= NINE) {
        octet = octet * 10 + c - 48;
        c = b[++at]!;
        if (c >= ZERO && c <= NINE) {
          octet = octet * 10 + c - 48;
          c = b[++at]!;
        }
      }
      if (octet > 255 || c !== (i < 3 ? DOT : SPACE)) return 0;
      source = (source << 8) | octet;
      at++;
    }
    const destination = at;
    while (b[at]! > SPACE) at++;
    const destinationEnd = at++;
    let sourcePort = 0;
    let c = b[at]!;
    if (c === DASH) c = b[++at]!;
    while (c >= ZERO && c <= NINE) {
      sourcePort = sourcePort * 10 + c - 48;
      c = b[++at]!;
    }
    if (c !== SPACE) return 0;
    let port = 0;
    c = b[++at]!;
    if (c === DASH) c = b[++at]!;
    while (c >= ZERO && c <= NINE) {
      port = port * 10 + c - 48;
      c = b[++at]!;
    }
    if (c > SPACE || port > 65535) return 0;
    const clock = this.#clock;
    clock.date(b, from, from + 10);
    clock.time(b, from + 11);
    if (sink.add(action, protocol, source, false, port, clock.seconds()))
      sink.keep({
        seconds: clock.seconds(),
        action,
        protocol,
        source,
        isOther: false,
        sourcePort,
        destination: sink.text(b, destination, destinationEnd),
        port,
        text: sink.text(b, from, b.indexOf(NEWLINE, at)).trimEnd(),
      });
    return b.indexOf(NEWLINE, at) + 1;
  }

  /** A line in any order of fields. @returns where the next line begins */
  #line(b: Uint8Array, from: number): number {
    const sink = this.#sink;
    const clock = this.#clock;
    const roles = this.#roles;
    const needed = this.#needed;
    let at = from;
    let action = -1;
    let protocol = -1;
    let source = 0;
    let isOther = false;
    let hasSource = false;
    let port = 0;
    let sourcePort = 0;
    let isPort = true;
    let destination = '';
    let field = 0;
    for (; field < needed; field++) {
      const begin = at;
      while ((b[at] ?? 0) > SPACE) at++;
      switch (roles[field]) {
        case ROLES['src-ip']: {
          const parsed = parseAddress(sink.text(b, begin, at));
          hasSource = parsed !== null;
          isOther = parsed?.family === 6;
          if (parsed)
            source = isOther ? sink.other(formatAddress(parsed)) : Number(BigInt.asIntN(32, parsed.bits));
          break;
        }
        case ROLES['dst-port']:
        case ROLES['src-port']: {
          const text = sink.text(b, begin, at);
          const value = text === '-' ? 0 : Number(text);
          if (!(value >= 0 && value <= 65535)) isPort = false;
          else if (roles[field] === ROLES['dst-port']) port = value;
          else sourcePort = value;
          break;
        }
        case ROLES.time:
          clock.time(b, begin);
          break;
        case ROLES.date:
          clock.date(b, begin, at);
          break;
        case ROLES.action:
          action = sink.actions.of(b, begin, at);
          break;
        case ROLES.protocol:
          protocol = sink.protocols.of(b, begin, at);
          break;
        case ROLES['dst-ip']:
          destination = sink.text(b, begin, at);
          break;
        default:
      }
      if (b[at] !== SPACE) {
        field++;
        break;
      }
      at++;
    }
    const lineEnd = b.indexOf(NEWLINE, at > from ? at - 1 : at);
    if (field < needed || !hasSource || !isPort || action < 0) {
      let why: UnreadWhy = isPort ? 'no-address' : 'no-port';
      if (field < needed) why = 'cut';
      sink.miss(b, from, lineEnd, why);
      return lineEnd + 1;
    }
    if (sink.add(action, protocol, source, isOther, port, clock.seconds()))
      sink.keep({
        seconds: clock.seconds(),
        action,
        protocol,
        source,
        isOther,
        sourcePort,
        destination,
        port,
        text: sink.text(b, from, lineEnd).trimEnd(),
      });
    return lineEnd + 1;
  }

  /** A line of the header, or one with nothing on it. @returns where the next line begins */
  #aside(b: Uint8Array, from: number, end: number): number {
    let at = from;
    while (at < end && b[at] !== NEWLINE) at++;
    const text = this.#sink.text(b, from, b[at - 1] === RETURN ? at - 1 : at).trim();
    if (text.startsWith('#Fields:')) {
      this.#sink.head ??= text;
      this.#setFields(text.slice('#Fields:'.length));
    } else if (text !== '' && !text.startsWith('#')) this.#sink.miss(b, from, at, 'no-line-of-this-log');
    return at + 1;
  }
}

function rolesOf(fields: string): [Uint8Array, number] {
  const roles = fields
    .trim()
    .split(/\s+/)
    .map((f) => BY_NAME.get(f.toLowerCase()) ?? 0);
  return [new Uint8Array(roles), roles.findLastIndex((r) => r !== 0) + 1];
}
