import type { StopSettings } from '../devices/index.ts';
import type { PathStop } from './document.ts';

/** The settings of a stop, where it is a device of that kind. */
export const settingsOfKind = <K extends StopSettings['kind']>(
  stop: PathStop | undefined,
  kind: K,
): Extract<StopSettings, { kind: K }> | null => {
  const settings = stop?.settings;
  return settings?.kind === kind ? (settings as Extract<StopSettings, { kind: K }>) : null;
};
