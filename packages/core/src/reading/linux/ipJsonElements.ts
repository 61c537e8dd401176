import type { Coverage, Problem, Reading } from '../../facts/index.ts';
import type { Span } from '../../place/index.ts';
import { parsePlacedJson, type PlacedJson } from '../json.ts';
import { asRecord } from '../reader.ts';

type Element = { readonly record: Readonly<Record<string, unknown>>; readonly at: Span };

export const looksLikeArray = (text: string): boolean => /^\s*\[/.test(text);

/** JSON listings of ip(8) are arrays of objects; which listing it is shows in the keys of the first. */
export function elementsOf(text: string): Element[] | null {
  if (!looksLikeArray(text)) return null;
  const parsed: PlacedJson | null = parsePlacedJson(text);
  if (!parsed || !Array.isArray(parsed.value)) return null;
  return parsed.elements.flatMap(({ value, at }) => {
    const record = asRecord(value);
    return record && Object.keys(record).length > 0 ? [{ record, at }] : [];
  });
}

export const sniff =
  (...keys: readonly RegExp[]) =>
  (text: string): number =>
    looksLikeArray(text) && keys.every((key) => key.test(text.slice(0, 4000))) ? 0.9 : 0;

/** A listing that breaks off: what it `shows` is known of it, and nothing that it says. */
export function damaged(format: string, text: string, shows: readonly Coverage[] = []): Reading {
  return {
    format,
    facts: [],
    problems: [
      {
        line: 1,
        text: text.slice(0, 200),
        why: 'json-cut',
      },
    ],
    covers: shows,
    gaps: ['unread'],
  };
}

/** A row of a listing that does not say what every such row says. */
export const unreadRow = (record: unknown, at: Span, why: Problem['why']): Problem => ({
  line: at.line,
  text: JSON.stringify(record).slice(0, 200),
  why,
});
