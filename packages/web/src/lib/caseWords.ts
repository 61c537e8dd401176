import type { Symptom } from '@bright-ferry/core/case';
import type { Heard } from '@bright-ferry/core/intake';
import type { Role } from '@bright-ferry/core/site';

/** How the choices of a case are called. */
export const SYMPTOM_WORDS: Readonly<Record<Symptom, string>> = {
  lost: 'waits, then times out',
  refused: 'refused at once',
  'name-unknown': 'the name is unknown',
  'connects-then-fails': 'connects, then fails',
  sometimes: 'only sometimes',
  unknown: 'not said',
};

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
