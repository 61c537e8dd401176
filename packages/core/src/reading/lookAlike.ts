import { parseAddress } from '../net/index.ts';

/** Characters that were misread for others: what stands in the text, and what it looks like. */
export interface LookAlike {
  readonly line: number;
  readonly from: string;
  readonly to: string;
  /** Which characters, for people: `O for 0, l for 1`. */
  readonly why: string;
}

/** Letters that retyping and text recognition put for digits. */
const DIGIT_OF: Readonly<Record<string, string>> = {
  O: '0',
  o: '0',
  Q: '0',
  D: '0',
  I: '1',
  l: '1',
  '|': '1',
  Z: '2',
  S: '5',
  s: '5',
  B: '8',
  ',': '.',
};
const LETTERS = 'OoQDIl|ZSsB';
/** Four groups of digits and such letters; a comma may stand for one of the dots. */
const ADDRESS = new RegExp(`(?<![\\w.,])[\\d${LETTERS}]{1,3}(?:[.,][\\d${LETTERS}]{1,3}){3}(?![\\w])`, 'g');
/** A port behind a colon, a protocol or the word itself. */
const PORT = new RegExp(
  '(?<=(?:\\b(?:ports?|tcp|udp)[ ' +
    `:=\\t]{1,3}|\\d{1,3}\\.\\d{1,3}\\.\\d{1,3}\\.\\d{1,3}:))[\\d${LETTERS}]{3,5}(?![\\w.])`,
  'gi',
);
/** Longer texts were not retyped. */
const MOST_TEXT = 200_000;

const MISREAD = new RegExp(`[${LETTERS},]`, 'i');
/** Whatever was misread in an address or a port has a digit, a dot or a comma beside it. */
const NEAR_DIGITS = new RegExp(`[${LETTERS}][\\d.,]|[\\d.,][${LETTERS}]|\\d,\\d`, 'i');
const asDigits = (text: string): string => [...text].map((c) => DIGIT_OF[c] ?? c).join('');
const whyOf = (text: string): string =>
  [...new Set([...text].filter((c) => c in DIGIT_OF))]
    .map((c) => `“${c}” for ${DIGIT_OF[c] === '.' ? 'a dot' : DIGIT_OF[c]}`)
    .join(', ');

/** Addresses and ports that hold letters where digits belong. They are for asking, never for assuming. */
export function lookAlikes(text: string): LookAlike[] {
  if (text.length > MOST_TEXT || !NEAR_DIGITS.test(text)) return [];
  const out: LookAlike[] = [];
  text.split(/\r\n|\n|\r/).forEach((line, i) => {
    if (!NEAR_DIGITS.test(line)) return;
    for (const [token] of line.matchAll(ADDRESS)) {
      if (!MISREAD.test(token)) continue;
      const to = asDigits(token);
      if (to === token || (token.match(/\d/g)?.length ?? 0) < 4 || !token.includes('.') || !parseAddress(to))
        continue;
      out.push({ line: i + 1, from: token, to, why: whyOf(token) });
    }
    for (const [token] of line.matchAll(PORT)) {
      if (!MISREAD.test(token)) continue;
      const to = asDigits(token);
      if (to === token || (token.match(/\d/g)?.length ?? 0) < 2 || !/^\d+$/.test(to) || Number(to) > 65535)
        continue;
      out.push({ line: i + 1, from: token, to, why: whyOf(token) });
    }
  });
  return out;
}

/** The text with corrections that a person has confirmed; lines and columns stay where they are. */
export function corrected(
  text: string,
  corrections: readonly Pick<LookAlike, 'line' | 'from' | 'to'>[],
): string {
  if (corrections.length === 0) return text;
  const lines = text.split('\n');
  for (const { line, from, to } of corrections) {
    const at = lines[line - 1];
    if (at !== undefined) lines[line - 1] = at.split(from).join(to);
  }
  return lines.join('\n');
}
