import type { AskKind } from '../../asks/index.ts';
import type { CaseFacts } from '../../ledger/index.ts';
import type { Check } from './check.ts';

/** When a check's turn is. */
export type Turn = 'the entry' | 'its address' | 'the way' | 'the name' | 'the server' | 'the rest';

/**
 * What most often is wrong, and can be told wrong by itself, comes first: the outermost forward or allow
 * list, and whether the server is where it leads. Then what stands on the way, the name, and the server's own
 * filter and listeners; what only makes known things surer comes last. (Counted over recorded and made-up
 * networks: the order from outside in takes one answer more.)
 */
const TURNS: readonly Turn[] = ['the entry', 'its address', 'the way', 'the name', 'the server', 'the rest'];

/** What shows a router's own part of the way, or what is dialled. */
const ON_THE_WAY: ReadonlySet<AskKind> = new Set([
  'configuration',
  'dial',
  'status',
  'seen-address',
  'forwards',
  'allow-list',
]);

/** What shows whether the server would take it. */
export const OF_SERVER: ReadonlySet<AskKind> = new Set(['addresses', 'rules', 'sockets', 'routes']);

/** What was changed, what is dialled at all, and what settles a suspicion that is there already. */
const FIRST: ReadonlySet<Check['reason']['why']> = new Set(['changed', 'dials', 'outside-not-public']);

export function turnOf({ stop, yields, reason }: Check, { document: { path } }: CaseFacts): Turn {
  const outermost = path.find((s) => s.role === 'gateway')?.id;
  if (FIRST.has(reason.why) || yields === 'allow-list') return 'the entry';
  if (yields === 'forwards' && stop === outermost) return 'the entry';
  if (yields === 'name') return 'the name';
  if (path.find((s) => s.id === stop)?.role !== 'host')
    return ON_THE_WAY.has(yields) ? 'the way' : 'the rest';
  if (reason.why === 'addresses') return 'its address';
  return OF_SERVER.has(yields) ? 'the server' : 'the way';
}

/** Checks in their turns, within one as they come. */
export const inTurn = (checks: readonly Check[], facts: CaseFacts): Check[] =>
  checks
    .map((check) => ({ check, turn: TURNS.indexOf(turnOf(check, facts)) }))
    .sort((a, b) => a.turn - b.turn)
    .map(({ check }) => check);
