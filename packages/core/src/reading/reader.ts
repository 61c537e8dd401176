import type { Reading } from '../facts/index.ts';

/** One format: whether a text looks like it, and what it says. Both are pure and must survive any text. */
export interface Reader {
  readonly format: string;
  /** For people: what the text is. */
  readonly title: string;
  /** 0: not this format. Up to 1: how sure. Looks at structure, never at file names. */
  recognise(text: string): number;
  /** The surest that it ever is, where looking is costly: not asked once another is as sure. 1 if absent. */
  readonly most?: number;
  /** @param command the command line that printed it, where it is known */
  read(text: string, command?: string): Reading;
}

export const asString = (value: unknown): string | null => (typeof value === 'string' ? value : null);
export const asNumber = (value: unknown): number | null =>
  typeof value === 'number' && Number.isFinite(value) ? value : null;
export const asRecord = (value: unknown): Readonly<Record<string, unknown>> | null =>
  typeof value === 'object' && value !== null && !Array.isArray(value)
    ? (value as Record<string, unknown>)
    : null;
export const asList = (value: unknown): readonly unknown[] => (Array.isArray(value) ? value : []);
