import { nth } from '../place/index.ts';
/** One line of a text with its number (from 1). */
export interface Line {
  readonly number: number;
  readonly text: string;
}

/** Parts rows that stood on one line of a page's source: a line end that does not count (U+2028). */
export const SOFT_BREAK = '\u2028';

/** Splits a text into lines; CRLF and lone CR count as line ends, a last empty line is left out. */
export function linesOf(text: string): Line[] {
  const parts = text.includes('\r') ? text.split(/\r\n|\n|\r/) : text.split('\n');
  if (parts[parts.length - 1] === '') parts.pop();
  if (!text.includes(SOFT_BREAK)) return parts.map((t, i) => ({ number: i + 1, text: t }));
  return parts.flatMap((t, i) => {
    const rows = t.split(SOFT_BREAK);
    return rows
      .filter((row, at) => row.trim() !== '' || rows.length === 1 || at === 0)
      .map((row) => ({ number: i + 1, text: row }));
  });
}

/** The text's last line is ended (blanks may follow): it was not cut inside a line. */
export function isLastLineEnded(text: string): boolean {
  return text.slice(text.trimEnd().length).includes('\n');
}

/** The place of a word in its line, for provenance; the whole line where it is not found. */
export function spanOf(
  line: Line,
  word: string,
  from = 0,
): { line: number; column?: number; endColumn?: number } {
  const at = line.text.indexOf(word, from);
  return at < 0 || word === ''
    ? { line: line.number }
    : { line: line.number, column: at, endColumn: at + word.length };
}

/** Start of line number for each offset: binary search over line starts. */
export function lineIndex(text: string): (offset: number) => { line: number; column: number } {
  const starts = [0];
  for (let i = text.indexOf('\n'); i >= 0; i = text.indexOf('\n', i + 1)) starts.push(i + 1);
  return (offset) => {
    let low = 0;
    let high = starts.length - 1;
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (nth(starts, middle) <= offset) low = middle;
      else high = middle - 1;
    }
    return { line: low + 1, column: offset - nth(starts, low) };
  };
}

/** A text up to the first mark; the whole text where it holds none. */
export function before(text: string, mark: string): string {
  const at = text.indexOf(mark);
  return at < 0 ? text : text.slice(0, at);
}
