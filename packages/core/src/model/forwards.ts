import type { Doubt } from '../rules/index.ts';
import { parseAddress } from '../net/index.ts';
import { rowsOf, sourcePrefixes, type ForwardRow } from '../devices/index.ts';
import { settingsOfKind } from '../case/index.ts';
import { type CaseFacts } from '../ledger/index.ts';
import { portalRows } from './devices.ts';

/**
 * The rows in force at a stop: of its settings where they have any, else of the newest table; those of the
 * carrier's portal come with them, or instead of them where the portal keeps the forwards.
 */
export function forwardRows(facts: CaseFacts, stop: string): ForwardRow[] {
  const settings = settingsOfKind(
    facts.document.path.find((s) => s.id === stop),
    'forward-table',
  );
  const portal = portalRows(facts.document, stop);
  if (settings?.keptBy === 'carrier') return portal;
  return [
    ...(settings && settings.rows.length > 0 ? rowsOf(settings.rows) : tableRows(facts, stop)),
    ...portal,
  ];
}

/** Whether anything is known of a stop's forwards, an empty table included. */
export function knowsForwards(facts: CaseFacts, stop: string): boolean {
  return (
    facts.files.some((f) => f.stop === stop && f.covers.includes('forwards')) ||
    settingsOfKind(
      facts.document.path.find((s) => s.id === stop),
      'forward-table',
    ) !== null ||
    portalRows(facts.document, stop).length > 0
  );
}

const unreadSources = (sources: readonly string[]): Doubt => ({
  doubt: 'word',
  field: 'source',
  text: sources.join(', '),
});

function tableRows(facts: CaseFacts, stop: string): ForwardRow[] {
  const tables = facts.files.filter((f) => f.stop === stop && f.covers.includes('forwards'));
  const newest = tables[tables.length - 1];
  return (newest?.facts ?? []).flatMap((f): ForwardRow[] => {
    const inside = f.kind === 'forward' ? parseAddress(f.insideAddress) : null;
    if (f.kind !== 'forward' || !inside) return [];
    const sources = f.sources === null ? null : sourcePrefixes(f.sources);
    return [
      {
        name: f.name ?? '',
        protocol: f.protocol,
        outside: { first: f.outsideFirst, last: f.outsideLast },
        insideAddress: inside,
        insideFirst: f.insideFirst,
        enabled: f.enabled,
        applied: f.applied,
        sources,
        doubt: f.doubt ?? (f.sources !== null && sources === null ? unreadSources(f.sources) : null),
        source: { file: newest!.file, ...f.at },
      },
    ];
  });
}
