/** How the stops of a case are called in sentences. */
export type StopNames = (id: string | null) => string;

/**
 * A name in the middle of a sentence: `Second gateway` → `the second gateway`; names of their own keep their
 * letters.
 */
export const inSentence = (name: string): string =>
  /^[A-Z][a-z]+( [a-z’]+)*$/.test(name) ? `the ${name.charAt(0).toLowerCase()}${name.slice(1)}` : name;
