import type { StopNames } from './endings.ts';

/** A name in the middle of a sentence: `Second gateway` → `the second gateway`; names of their own keep their letters. */
export const inSentence = (name: string): string =>
  /^[A-Z][a-z]+( [a-z’]+)*$/.test(name) ? `the ${name.charAt(0).toLowerCase()}${name.slice(1)}` : name;

/** A sentence of the engine, which calls stops by their ids, with the names that people gave them. */
export function named(text: string, ids: readonly string[], names: StopNames): string {
  const known = ids
    .filter((id) => id.length > 1)
    .sort((a, b) => b.length - a.length)
    .map((id) => id.replace(/[.*+?^${}()|[\]\\-]/g, '\\$&'));
  if (known.length === 0) return text;
  return text.replace(new RegExp(`(?<![\\w.-]|the )(?:${known.join('|')})(?![\\w-]|\\.\\w|’s)`, 'g'), (id) =>
    inSentence(names(id)),
  );
}
