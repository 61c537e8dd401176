import type { Site } from '../site/index.ts';
import { formatPorts } from '../net/index.ts';
import { beyondKey, exposures, type Exposure } from './exposure.ts';

/** What an edit opens and what it closes, as rows of exposure that stand on one side only. */
export interface ExposureChange {
  readonly opened: readonly Exposure[];
  readonly closed: readonly Exposure[];
}

const keyOf = (e: Exposure): string =>
  [
    e.stop,
    e.transport,
    e.family,
    e.socket?.port ?? '?',
    e.socket?.address?.bits ?? '*',
    beyondKey(e.beyond),
    e.outsideAddresses.join(),
    formatPorts(e.outsidePorts),
    e.sources.join(),
    e.maybe,
  ].join('|');

/** The exact difference in what the outside can reach between two models of one case. */
export function exposureChange(before: Site, after: Site): ExposureChange {
  const [old, fresh] = [exposures(before), exposures(after)];
  const [oldKeys, freshKeys] = [new Set(old.map(keyOf)), new Set(fresh.map(keyOf))];
  return {
    opened: fresh.filter((e) => !oldKeys.has(keyOf(e))),
    closed: old.filter((e) => !freshKeys.has(keyOf(e))),
  };
}
