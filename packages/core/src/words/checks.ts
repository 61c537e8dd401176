import type { Role } from '../site/index.ts';
import { PLACES, type AskKind } from '../asks/index.ts';
import { type About, ASKED, shells, type CheckWords } from './asked.ts';

/** What a stop of that role can be asked for, in the order in which practitioners ask. */
const OF_ROLE: Readonly<Record<Role, readonly AskKind[]>> = {
  client: ['configuration', 'name', 'dial', 'addresses', 'routes', 'capture'],
  carrier: ['status', 'forwards'],
  edge: ['allow-list', 'addresses', 'drop-log'],
  gateway: [
    'status',
    'forwards',
    'leases',
    'seen-address',
    'mappings',
    'rules',
    'addresses',
    'routes',
    'neighbours',
    'sockets',
    'sessions',
    'counters',
    'drop-log',
    'capture',
  ],
  relay: ['forwards', 'rules', 'addresses', 'routes', 'sessions', 'capture'],
  host: [
    'addresses',
    'sockets',
    'rules',
    'routes',
    'configuration',
    'dial',
    'neighbours',
    'allow-list',
    'counters',
    'drop-log',
    'capture',
  ],
};

export const asksOf = (role: Role): readonly AskKind[] => OF_ROLE[role];

/** What most people look up on a page, even where a command could tell. */
const BY_PAGE: ReadonlySet<AskKind> = new Set<AskKind>(['forwards', 'leases', 'status']);

/**
 * Words and commands for each kind of evidence that can be asked for. `where` is the stop's name, `name` the
 * dialled name.
 */
export function checkWords(
  ask: AskKind,
  where: string,
  name: string | null = null,
  port: number | null = null,
  role: Role | null = null,
): CheckWords {
  const about: About = { where, role, name, port: port === null ? PLACES.port : String(port) };
  const { others, ...words } = ASKED[ask](about);
  if (role === 'carrier') return { ...words, commands: others };
  const commands = BY_PAGE.has(ask) ? [...others, ...shells(ask, about)] : [...shells(ask, about), ...others];
  return { ...words, commands };
}
