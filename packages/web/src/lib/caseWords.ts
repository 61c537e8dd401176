import type { Heard } from '@bright-ferry/core/intake';
import type { Role } from '@bright-ferry/core/site';

export { SYMPTOM_WORDS } from '@bright-ferry/core/words';

/** How the choices of a case are called. */
export const KIND_WORDS: Readonly<Record<Heard['kind'], string>> = {
  game: 'a game',
  media: 'media',
  database: 'a database',
  other: 'something else',
};

export const ROLE_WORDS: Readonly<Record<Role, string>> = {
  client: 'Client',
  carrier: 'Carrier',
  edge: 'Perimeter of a rented machine',
  gateway: 'Gateway',
  relay: 'Relay',
  host: 'Server',
};

/** Keys as choices with their words, for a select. */
export const choicesOf = <K extends string>(keys: readonly K[], words: Readonly<Record<K, string>>) =>
  keys.map((value) => ({ value, label: words[value] }));
