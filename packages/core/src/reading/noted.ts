import {
  GROUPS,
  type NotedFact,
  type Plain,
  type Problem,
  type ToldFactOf,
  type ToldKind,
  type ToldValues,
} from '../facts/index.ts';
import type { Span } from '../place/index.ts';
import { linesOf, type Line } from './text.ts';

/** One of a list of things that a text says. */
export const listed = (topic: string, at: Span, value: Plain, text: string): NotedFact => ({
  kind: 'noted',
  topic,
  once: false,
  at,
  value,
  text,
});

/** Something that a text says once. */
export const once = (
  topic: string,
  at: Span,
  value: Plain,
  text = typeof value === 'string' ? value : JSON.stringify(value),
): NotedFact => ({ kind: 'noted', topic, once: true, at, value, text });

/**
 * Something that other parts of the program consume.
 * @param group the program's own word for it, where `read --json` prints that instead of the kind's
 */
export const told = <K extends ToldKind>(
  kind: K,
  at: Span,
  value: ToldValues[K],
  text = typeof value === 'string' ? value : JSON.stringify(value),
  group: string = GROUPS[kind].group,
): ToldFactOf<K> => ({ kind, at, group, value, text });

export const lineAt = (line: Line): Span => ({ line: line.number });

export const problemAt = (line: Line, why: Problem['why']): Problem => ({
  line: line.number,
  text: line.text.trim().slice(0, 200),
  why,
});

/** The first line with something on it; an empty one where there is none. */
export const firstLine = (text: string): Line => written(text)[0] ?? { number: 1, text: '' };

/** Lines with something on them. */
export const written = (text: string): Line[] => linesOf(text).filter((l) => l.text.trim() !== '');
