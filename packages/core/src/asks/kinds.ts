/** Every kind of evidence that can be asked for. */
export const ASKS = [
  'dial',
  'configuration',
  'name',
  'seen-address',
  'status',
  'forwards',
  'leases',
  'mappings',
  'addresses',
  'routes',
  'neighbours',
  'sockets',
  'rules',
  'allow-list',
  'sessions',
  'counters',
  'drop-log',
  'capture',
] as const;

export type AskKind = (typeof ASKS)[number];

const KNOWN: ReadonlySet<string> = new Set(ASKS);

export const isAskKind = (text: string): text is AskKind => KNOWN.has(text);
