import type { AskKind } from '../asks/index.ts';
import type { Contradiction } from '../ledger/index.ts';
import type { StopNames } from './named.ts';

interface Words {
  /** What the two sides are about. */
  readonly subject: (of: string) => string;
  /** What the program makes of it until somebody settles it. */
  readonly consequence: string;
  /** What to ask for. */
  readonly settle: AskKind;
}

const WORDS: Readonly<Record<Contradiction['about'], Words>> = {
  'outside-address': {
    subject: () => 'its outside address',
    consequence: 'The crossing takes the first: a packet to the other would go astray.',
    settle: 'status',
  },
  'server-address': {
    subject: () => 'its address',
    consequence: 'The crossing takes the first: a forward to the other would miss the server.',
    settle: 'addresses',
  },
  name: {
    subject: (of) => `what ${of} resolves to`,
    consequence: 'The crossing takes the newest answer: the client may still have the other.',
    settle: 'name',
  },
  setting: {
    subject: (of) => of,
    consequence: 'The crossing takes the newest.',
    settle: 'routes',
  },
};

export interface ContradictionWords {
  readonly text: string;
  readonly consequence: string;
  readonly settle: AskKind;
}

/** Two facts that cannot both be true: which, what follows, and what settles it. */
export function contradictionWords(c: Contradiction, names: StopNames): ContradictionWords {
  const { subject, consequence, settle } = WORDS[c.about];
  const sides = c.sides.map((s) => `${s.value}${s.typed ? ' (typed)' : ''}`).join(' against ');
  const slip = c.slip ? ` – ${c.slip}` : '';
  return { text: `${names(c.stop)}, ${subject(c.of ?? '')}: ${sides}${slip}.`, consequence, settle };
}
