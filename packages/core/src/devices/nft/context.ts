import type { Chain } from '../../rules/index.ts';
import { type Json, type NftFamily } from './objects.ts';

/** What a rule can refer to in its own table. */
export interface TableContext {
  readonly family: NftFamily;
  set(name: string): readonly Json[] | null;
  chain(name: string): Chain | null;
}
