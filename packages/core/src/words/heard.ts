import type { Symptom } from '../case/index.ts';

/** What the client sees, as people say it. */
export const SYMPTOM_WORDS: Readonly<Record<Symptom, string>> = {
  lost: 'waits, then times out',
  refused: 'refused at once',
  'name-unknown': 'the name is unknown',
  'connects-then-fails': 'connects, then fails',
  sometimes: 'only sometimes',
  unknown: 'not said',
};
