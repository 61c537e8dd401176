import type { Reading } from './facts.ts';
import { READERS } from './readers/index.ts';
import type { Reader } from './readers/reader.ts';

/** Sureness below which a text counts as not recognised. */
const LEAST_SURE = 0.4;

/** The reader that fits a text best; null where none does. Content decides, never a file's name. */
export function recognise(text: string): Reader | null {
  let best: Reader | null = null;
  let sureness = LEAST_SURE;
  for (const reader of READERS) {
    const score = reader.recognise(text);
    if (score > sureness) {
      sureness = score;
      best = reader;
    }
  }
  return best;
}

/** Reads a text with the reader that fits; null where nothing does. */
export function readText(text: string): Reading | null {
  return recognise(text)?.read(text) ?? null;
}
