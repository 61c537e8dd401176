import type { NotedFact, Plain, Problem } from '../facts/index.ts';
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

export const lineAt = (line: Line): Span => ({ line: line.number });

export const problemAt = (line: Line, why: string): Problem => ({
  line: line.number,
  text: line.text.trim().slice(0, 200),
  why,
});

/** Lines with something on them. */
export const written = (text: string): Line[] => linesOf(text).filter((l) => l.text.trim() !== '');
