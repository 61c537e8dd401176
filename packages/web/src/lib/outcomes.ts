/** What a try shows, in the words of who tried; the keys 1 to 4 say the same. */
export const OUTCOMES = [
  { key: 'works', outcome: 'answered', other: false, label: 'works now' },
  { key: 'waits', outcome: 'lost', other: false, label: 'still waits' },
  { key: 'refused', outcome: 'refused', other: false, label: 'refused at once' },
  { key: 'other', outcome: 'answered', other: true, label: 'something else answers' },
] as const;
