/** What a filter did with a packet that it logged. */
export type Fate = 'kept-out' | 'let-in' | 'not-said';

const KEPT_OUT = /drop|den(?:y|ied)|block|reject|refus|discard/i;
const LET_IN = /allow|accept|pass|permit|\bok\b/i;

/** As the word for the action, or the words of the rule, say it. */
export function fateOf(action: string): Fate {
  if (KEPT_OUT.test(action)) return 'kept-out';
  return LET_IN.test(action) ? 'let-in' : 'not-said';
}
