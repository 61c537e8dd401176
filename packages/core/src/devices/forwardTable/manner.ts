import type { DeviceInterface } from '../line.ts';
import type { Doubt } from '../../rules/index.ts';
import type { ForwardTableSettings } from './settings.ts';

/** The plain router that has such a table: its lines outward, its lines inward. */
export interface BoxLines {
  readonly wan: readonly string[];
  readonly lan: readonly string[];
}

/** How the device treats its table, as far as it is known. */
export type ForwardManner = Pick<
  ForwardTableSettings,
  'exposedHost' | 'ownPorts' | 'clash' | 'hairpin' | 'answersBy' | 'mappings' | 'at'
> & {
  readonly interfaces?: readonly DeviceInterface[];
  /** Why there may be further rows; missing: the rows are all that there are. */
  readonly further?: Doubt | null;
};
