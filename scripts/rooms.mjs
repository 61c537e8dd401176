/**
 * The rooms of the core, lowest first: a file may import from its own room and from those below.
 * docs/architecture.md lists the same.
 */
export const ROOMS = [
  'net',
  'place',
  'traffic',
  'asks',
  'rules',
  'site',
  'devices',
  'crossing',
  'exposure',
  'case',
  'intake',
  'facts',
  'reading',
  'ledger',
  'model',
  'proposals',
  'faults',
  'mend',
  'words',
  'views',
  'testing',
];
