import { nth } from '../../../place/index.ts';
/** One word of nft's listing language. `quoted` words are never keywords. */
export interface Token {
  readonly text: string;
  readonly quoted: boolean;
  readonly line: number;
}

const SINGLE = new Set(['{', '}', ',', ';', '(', ')', '=']);

/** What nft 1.0.6 prints behind the ports of a session (`ct original proto-dst`). */
const UNTYPED = '[invalid type]';

const RAW_PLACE = /^@(?:nh|th|ll),\d+,\d+/;
const RAW_PLACE_AT = /@(?:nh|th|ll),\d+,\d+/y;
const WORD_AT = /[^\s{},;()"]+/y;

/**
 * Splits a listing into words. Line ends are tokens of their own (`\n`), since they end rules. `:` and `.`
 * separate only where they stand alone: inside a word they belong to an address.
 */
export function tokensOf(text: string): Token[] {
  const out: Token[] = [];
  let line = 1;
  let i = 0;
  const push = (t: string, quoted = false): void => void out.push({ text: t, quoted, line });
  while (i < text.length) {
    const c = text[i]!;
    if (c === '\n') {
      push('\n');
      line++;
      i++;
    } else if (c === ' ' || c === '\t' || c === '\r') i++;
    else if (c === '#') while (i < text.length && text[i] !== '\n') i++;
    else if (c === '"') {
      const end = closingQuote(text, i + 1);
      push(text.slice(i + 1, end), true);
      i = end + 1;
    } else if (text.startsWith(UNTYPED, i)) {
      i += UNTYPED.length;
      // `0x9c40 [invalid type]-0xffff [invalid type]` is one range.
      const last = text[i] === '-' ? out.pop() : undefined;
      if (last) {
        WORD_AT.lastIndex = i;
        const rest = WORD_AT.exec(text)?.[0] ?? '';
        push(last.text + rest);
        i += rest.length;
      }
    } else if (SINGLE.has(c) && !(c === '=' && text[i + 1] === '=')) {
      push(c);
      i++;
    } else {
      // Raw header places are one word, commas and all: `@nh,72,8`.
      const pattern = c === '@' && RAW_PLACE.test(text.slice(i, i + 24)) ? RAW_PLACE_AT : WORD_AT;
      pattern.lastIndex = i;
      const word = pattern.exec(text)?.[0] ?? c;
      push(word);
      i += word.length;
    }
  }
  return out;
}

/** Strings end on their line; a missing quote ends them there. */
function closingQuote(text: string, from: number): number {
  const line = text.indexOf('\n', from);
  const quote = text.indexOf('"', from);
  if (quote < 0 || (line >= 0 && line < quote)) {
    return line < 0 ? text.length : line;
  }
  return quote;
}

/** A place in a list of tokens. */
export class Cursor {
  readonly tokens: readonly Token[];
  at = 0;

  constructor(tokens: readonly Token[]) {
    this.tokens = tokens;
  }

  get done(): boolean {
    return this.at >= this.tokens.length;
  }

  peek(ahead = 0): string | null {
    const token = this.tokens[this.at + ahead];
    return token === undefined || token.quoted ? null : token.text;
  }

  /** The next word, quoted or not. */
  value(): Token | null {
    return this.tokens[this.at++] ?? null;
  }

  /** The next word where one was peeked at already; throws RangeError where there is none. */
  next(): Token {
    return nth(this.tokens, this.at++);
  }

  take(...words: string[]): boolean {
    const hit = words.every((word, i) => this.peek(i) === word);
    if (hit) this.at += words.length;
    return hit;
  }

  skipLines(): void {
    while (this.peek() === '\n' || this.peek() === ';') this.at++;
  }
}
