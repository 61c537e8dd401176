import type { DeviceInterface } from '../line.ts';
import type { PortSet } from '../../net/index.ts';
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
  /** The settings leave out on which ports the router answers itself. */
  readonly ownPortsOpen?: boolean;
  /** Ports on which the router perhaps answers itself. */
  readonly perhapsOwn?: PortSet;
  /** It has an exposed host, and which machine that is is not known. */
  readonly perhapsExposed?: boolean;
  /** Why there may be further rows; missing: the rows are all that there are. */
  readonly further?: Doubt | null;
};
