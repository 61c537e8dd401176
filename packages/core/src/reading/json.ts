import type { Span } from '../place/index.ts';
import { lineIndex } from './text.ts';

/** A JSON value of a listing with the place where each element of its outermost array stands. */
export interface PlacedJson {
  readonly value: unknown;
  readonly elements: readonly { readonly value: unknown; readonly at: Span }[];
}

/**
 * Parses JSON and finds where the elements of its main array stand: the top array itself, or the array under
 * `key`.
 * @returns null where the text is not JSON
 */
export function parsePlacedJson(text: string, key: string | null = null): PlacedJson | null {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    return null;
  }
  let list;
  if (key === null) list = value;
  else if (typeof value === 'object' && value !== null) list = (value as Record<string, unknown>)[key];
  else list = undefined;
  if (!Array.isArray(list)) return { value, elements: [] };
  const place = lineIndex(text);
  const offsets = elementOffsets(
    text,
    key === null ? 0 : text.indexOf('[', text.indexOf(JSON.stringify(key)) + key.length),
  );
  return {
    value,
    elements: list.map((element: unknown, i) => {
      const range = offsets[i];
      if (!range) return { value: element, at: { line: 1 } };
      const start = place(range.start);
      const end = place(range.end);
      return {
        value: element,
        at: {
          line: start.line,
          column: start.column,
          ...(end.line === start.line ? { endColumn: end.column } : {}),
        },
      };
    }),
  };
}

/** Offsets of the elements of the array that opens at or after `from`. The text is known to be valid JSON. */
function elementOffsets(text: string, from: number): { start: number; end: number }[] {
  const out: { start: number; end: number }[] = [];
  let i = text.indexOf('[', from) + 1;
  let depth = 0;
  let start = -1;
  for (; i < text.length; i++) {
    const c = text[i]!;
    if (c === '"') {
      if (start < 0) start = i;
      for (i++; text[i] !== '"'; i++) if (text[i] === '\\') i++;
    } else if (c === '{' || c === '[') {
      if (depth++ === 0 && start < 0) start = i;
    } else if (c === ']' && depth === 0) {
      if (start >= 0) out.push({ start, end: i });
      break;
    } else if (c === '}' || c === ']') depth--;
    else if (c === ',' && depth === 0) {
      if (start >= 0) out.push({ start, end: i });
      start = -1;
    } else if (start < 0 && !/\s/.test(c)) start = i;
  }
  return out;
}
