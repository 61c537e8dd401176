import { ON_MACHINES } from './situations/machines.ts';
import { BY_PROGRAMS } from './situations/programs.ts';
import { RENTED_OUT } from './situations/portals.ts';
import type { Situation } from './situations/situation.ts';
import { TRANSLATED } from './situations/translations.ts';

export { openedBy, type Situation } from './situations/situation.ts';

/** Every situation that is walked through: in the stores, in the browser and by the doubt run. */
export const SITUATIONS: readonly Situation[] = [
  ...RENTED_OUT,
  ...TRANSLATED,
  ...ON_MACHINES,
  ...BY_PROGRAMS,
];
