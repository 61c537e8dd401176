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

const RECORDED: ReadonlySet<AskKind> = new Set(['drop-log', 'capture', 'counters', 'sessions']);

/** Whether it is recorded while the client tries, so that the moment of the try matters. */
export const isRecorded = (ask: AskKind): boolean => RECORDED.has(ask);

const KNOWN: ReadonlySet<string> = new Set(ASKS);

export const isAskKind = (text: string): text is AskKind => KNOWN.has(text);
