import { settingsOfKind } from '../case/index.ts';
import { rowsOf, type CarrierSettings, type ForwardRow } from '../devices/index.ts';
import type { CaseFacts } from '../ledger/index.ts';

export const isOutermost = ({ document }: CaseFacts, gateway: string): boolean =>
  document.path.find((s) => s.role === 'gateway')?.id === gateway;

/** The rows of the carrier's portal that a person has filled in, for the outermost gateway; null: none. */
export function typedPortal(facts: CaseFacts, gateway: string): ForwardRow[] | null {
  if (!isOutermost(facts, gateway)) return null;
  const carrier = facts.document.path
    .map((s) => settingsOfKind(s, 'carrier'))
    .find((c): c is CarrierSettings => c !== null);
  return carrier?.portal ? rowsOf(carrier.portal) : null;
}

/** Tables of forwards that are the carrier's: its portal's, for the outermost gateway. */
export function portalTables(facts: CaseFacts, gateway: string): CaseFacts['files'] {
  if (!isOutermost(facts, gateway)) return [];
  const carriers = new Set(facts.document.path.filter((s) => s.role === 'carrier').map((s) => s.id));
  return facts.files.filter((f) => carriers.has(f.stop) && f.shows.includes('forwards'));
}
