import { settingsOfKind, type PathStop } from '../case/index.ts';
import {
  rowsOf,
  type ForwardRow,
  type ForwardRowSettings,
  type ForwardTableSettings,
  type StopSettings,
} from '../devices/index.ts';
import { formatAddress, formatPrefix } from '../net/index.ts';
import type { Mend } from './mend.ts';
import type { Scene } from './scene.ts';
import { rowsWith } from './settledRows.ts';

/**
 * The settings that a technician filled in about a stop, with the mend taken into them; null where the mend
 * changes nothing that stands in them: the device was listed, or its rows are another machine's.
 */
export function settingsWith(stop: PathStop, mend: Mend, scene: Scene): StopSettings | null {
  const after = stop.settings && mend.stop === stop.id ? mend.apply?.(scene) : undefined;
  if (!after) return null;
  if (settingsOfKind(stop, 'zone-firewall')) {
    const zones = after.zones?.get(stop.id);
    return zones && zones.listing === null && zones !== scene.zones?.get(stop.id) ? zones.settings : null;
  }
  if (stop.settings?.kind !== 'forward-table') return rowsWith(stop.settings, mend.finding);
  const table = settingsOfKind(stop, 'forward-table');
  return table && tableWith(table, scene.rows.get(stop.id) ?? [], after.rows.get(stop.id) ?? []);
}

/** The table with the rows that are new or another than before; null where the rows are not its own. */
function tableWith(
  table: ForwardTableSettings,
  before: readonly ForwardRow[],
  after: readonly ForwardRow[],
): ForwardTableSettings | null {
  const isOwn =
    before.length === table.rows.length && rowsOf(table.rows).every((r, i) => isSame(r, before[i]));
  const isChanged = after.length !== before.length || after.some((r, i) => r !== before[i]);
  if (!isOwn || !isChanged) return null;
  // A row that is none of those before stands in the place of the one that is gone, or is new.
  const gone = before.filter((r) => !after.includes(r));
  const rows = after.map((row): ForwardRowSettings => {
    const old = table.rows[before.indexOf(row)];
    if (old) return old;
    const replaced = gone.shift();
    return written(row, replaced && table.rows[before.indexOf(replaced)]);
  });
  return { ...table, rows };
}

const isSame = (a: ForwardRow, b: ForwardRow | undefined): boolean => b !== undefined && text(a) === text(b);

const text = (row: ForwardRow): string =>
  JSON.stringify({ ...row, source: null }, (_, v: unknown) => (typeof v === 'bigint' ? v.toString() : v));

/** A row in the words of the form; what the old one says of other things stays. */
function written(row: ForwardRow, old: ForwardRowSettings | undefined): ForwardRowSettings {
  const { sources: _sources, toPort: _toPort, line: _line, enabled, state, ...kept } = old ?? {};
  const { first, last } = row.outside;
  return {
    ...kept,
    ...(row.name === '' ? {} : { name: row.name }),
    protocol: row.protocol,
    ports: first === last ? `${first}` : `${first}-${last}`,
    to: row.insideAddress ? formatAddress(row.insideAddress) : (old?.to ?? ''),
    ...(row.insideFirst === first ? {} : { toPort: row.insideFirst }),
    ...(row.sources ? { sources: row.sources.map(formatPrefix) } : {}),
    ...(row.line === undefined ? {} : { line: row.line }),
    ...(enabled === undefined && row.enabled ? {} : { enabled: row.enabled }),
    ...(row.applied === false && state !== undefined ? { state } : {}),
  };
}
