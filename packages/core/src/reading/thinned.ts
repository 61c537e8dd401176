import { linesOf } from './text.ts';

/** So many lines of each shape are looked at. */
const KEPT = 150;
/** Shorter texts are looked at as they are. */
const LONG = 3 * KEPT;

/** Stands for a word. */
const WORD = 8;
const SPACE = 32;

/** Whether a character is part of a word: a letter, a digit, a dash, an underscore, anything beyond ASCII. */
const isOfWord = (c: number): boolean =>
  (c >= 97 && c <= 122) || (c >= 48 && c <= 57) || (c >= 65 && c <= 90) || c === 45 || c === 95 || c > 127;

/**
 * What a line looks like from afar, as a number: its marks in their order, between them words, whatever they
 * say and however many stand side by side. Lines with the same number nearly always have the same shape.
 */
function shapeOf(text: string): number {
  let shape = 0;
  let isWord = false;
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    if (c === SPACE && i > 0) continue;
    const isPart = isOfWord(c);
    if (isPart && isWord) continue;
    isWord = isPart;
    shape = (Math.imul(shape, 31) + (isPart ? WORD : c)) | 0;
  }
  return shape;
}

/**
 * A long text as far as a reader has to look at it to know its format: of lines that look alike the first
 * ones. A text whose lines are of many shapes stays as it is.
 */
export function thinned(text: string): string {
  if (text.length < LONG) return text;
  const lines = linesOf(text);
  if (lines.length < LONG) return text;
  const counts = new Map<number, number>();
  const kept = lines.filter(({ text: line }) => {
    const shape = shapeOf(line);
    const count = counts.get(shape) ?? 0;
    counts.set(shape, count + 1);
    return count < KEPT;
  });
  const end = text.endsWith('\n') ? '\n' : '';
  return kept.length * 2 > lines.length ? text : kept.map((l) => l.text).join('\n') + end;
}
