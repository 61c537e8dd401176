import { settingsOfKind, type CaseDocument } from '../case/index.ts';
import { rowsOf, type CarrierSettings, type ForwardRow } from '../devices/index.ts';

/** The rows that the carrier's portal holds for the outermost gateway. */
export function portalRows(document: CaseDocument, gateway: string): ForwardRow[] {
  if (document.path.find((s) => s.role === 'gateway')?.id !== gateway) return [];
  const carrier = document.path
    .map((s) => settingsOfKind(s, 'carrier'))
    .find((c): c is CarrierSettings => c !== null);
  return carrier?.portal ? rowsOf(carrier.portal) : [];
}
