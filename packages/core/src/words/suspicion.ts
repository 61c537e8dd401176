import type { FaultPlace } from '../faults/index.ts';

/** How likely something is to be wrong, in steps that people tell apart; no number pretends to more. */
export type Grade = 'found' | 'likely' | 'even' | 'possible';

const GRADES: Readonly<Record<Grade, string>> = {
  found: 'found',
  likely: 'most likely',
  even: 'as likely as not',
  possible: 'possible',
};

export const gradeText = (grade: Grade): string => GRADES[grade];

/** The line beside a verdict that leaves open what is wrong. */
export const leadingText = (grade: Grade, at: string, text: string): string => {
  const how = { found: 'Found already', likely: 'Most likely', even: 'Perhaps', possible: 'Possibly' }[grade];
  return `${how}, ${at}: ${text}`;
};

/**
 * The line beside a verdict where nothing stands out.
 * @param kinds how many kinds of fault are possible
 * @param ask what would show the most of them, and how many
 */
export const unnamedText = (kinds: number, ask: { title: string; kinds: number } | null): string =>
  `${kinds} kinds of fault are possible still` +
  (ask ? `; ${lowered(ask.title)} shows ${ask.kinds} of them` : '');

/** The first word in the middle of a sentence; names and abbreviations keep their capitals. */
export const lowered = (text: string): string =>
  /^[A-Z][a-z]*(?: [a-z]|$)/.test(text) ? text.charAt(0).toLowerCase() + text.slice(1) : text;

/** Where something may still be wrong. */
export const placeText = (place: FaultPlace, at: string): string => {
  switch (place) {
    case 'dialled':
      return 'What is dialled';
    case 'program':
      return `The program on ${at}`;
    case 'test':
      return 'The test itself';
    case 'anywhere':
      return 'Elsewhere';
    case 'carrier':
    case 'gateway':
    case 'perimeter':
    case 'host':
      return at;
  }
};
