import type { Doubt } from '../rules/index.ts';
import { rowsOf, SettingsError, type ForwardRow, type ForwardTableSettings } from '../devices/index.ts';
import { settingsOfKind } from '../case/index.ts';
import type { CaseFacts } from '../ledger/index.ts';
import { isOutermost, portalTables, typedPortal } from './portal.ts';
import { saysPortal } from './notices.ts';
import { linesOf, type Names, namesOf, onLine, rowsOfFact } from './forwardFacts.ts';

/**
 * The rows in force at a stop: of its settings where they have any, else of the newest table; those of the
 * carrier's portal come with them, or instead of them where the portal keeps the forwards.
 */
export function forwardRows(facts: CaseFacts, stop: string): ForwardRow[] {
  const settings = settingsOfKind(
    facts.document.path.find((s) => s.id === stop),
    'forward-table',
  );
  const portal = portalRows(facts, stop);
  // What the device's own table holds has no effect where the portal keeps the forwards.
  if (settings?.keptBy === 'carrier' || (isPortal(facts, settings) && knowsPortal(facts, stop)))
    return portal;
  const own = settings && settings.rows.length > 0 ? soundRows(settings) : tableRows(facts, stop);
  // Where another page says that forwards are kept in the portal, the device's own table may do nothing.
  const held = isPortal(facts, settings) ? own.map(doubted) : own;
  return [...held, ...portal];
}

const doubted = (row: ForwardRow): ForwardRow => ({
  ...row,
  doubts: [...row.doubts, { doubt: 'portal-not-known' }],
});

/**
 * Settings with a value that cannot be are refused as a whole (`withSettings`); nothing of them counts
 * here.
 */
function soundRows({ rows }: ForwardTableSettings): ForwardRow[] {
  try {
    return rowsOf(rows);
  } catch (error) {
    if (error instanceof SettingsError) return [];
    throw error;
  }
}

/** Whether anything is known of a stop's forwards, an empty table included. */
export function knowsForwards(facts: CaseFacts, stop: string): boolean {
  return (
    tablesOf(facts, stop).length > 0 ||
    settingsOfKind(
      facts.document.path.find((s) => s.id === stop),
      'forward-table',
    ) !== null ||
    knowsPortal(facts, stop) ||
    (isOutermost(facts, stop) && saysPortal(facts))
  );
}

const tablesOf = (facts: CaseFacts, stop: string): CaseFacts['files'] =>
  facts.files.filter((f) => f.stop === stop && f.shows.includes('forwards'));

/** Said in the settings, or on a page that the settings do not speak against. */
const isPortal = (facts: CaseFacts, settings: ForwardTableSettings | null): boolean =>
  settings?.keptBy === 'carrier' || (settings?.keptBy === undefined && saysPortal(facts));

const knowsPortal = (facts: CaseFacts, stop: string): boolean =>
  typedPortal(facts, stop) !== null || portalTables(facts, stop).length > 0;

/** Whether the forwards of a stop are kept in the carrier's portal, whose list is known. */
export function isInPortal(facts: CaseFacts, stop: string): boolean {
  const settings = settingsOfKind(
    facts.document.path.find((s) => s.id === stop),
    'forward-table',
  );
  return isPortal(facts, settings) && knowsPortal(facts, stop);
}

/** The rows that the carrier's portal holds: as a person has filled them in, else as its tables show them. */
function portalRows(facts: CaseFacts, stop: string): ForwardRow[] {
  const typed = typedPortal(facts, stop);
  if (typed) return typed;
  const tables = portalTables(facts, stop);
  const newest = tables[tables.length - 1];
  return newest ? rowsIn(newest, namesOf(facts, stop), new Map()) : [];
}

const isLater = (at: string | null, than: string | null | undefined): boolean =>
  at !== null && (!than || Date.parse(at) > Date.parse(than));

/** Why the carrier's portal may hold more forwards than are known. */
function portalDoubt(facts: CaseFacts, stop: string): Doubt | null {
  if (typedPortal(facts, stop) !== null) return null;
  const tables = portalTables(facts, stop);
  if (tables.length === 0) return { doubt: 'portal-not-known' };
  const isWhole = tables.length === 1 && tables.every((t) => t.covers.includes('forwards'));
  return isWhole ? null : { doubt: 'forwards-perhaps-not-whole' };
}

/** A text at the stop that nobody could read: it may be about forwards. */
const hasUnread = (facts: CaseFacts, stop: string): boolean =>
  facts.files.some((f) => f.stop === stop && f.format === null && f.lines > 0 && !f.typed);

/**
 * Why there may be forwards that no table of a stop shows: none of them is known to be whole. Null where the
 * settings or a whole table tell them all.
 */
export function furtherForwards(facts: CaseFacts, stop: string): Doubt | null {
  const settings = settingsOfKind(
    facts.document.path.find((s) => s.id === stop),
    'forward-table',
  );
  const tables = tablesOf(facts, stop);
  if (isPortal(facts, settings)) return portalDoubt(facts, stop);
  const listed = facts.files.filter((f) => f.stop === stop && f.shows.includes('mappings'));
  if (listed.some((f) => !f.covers.includes('mappings'))) return { doubt: 'forwards-perhaps-not-whole' };
  if (settings && settings.rows.length > 0) return null;
  // No rows in the settings, and a text beside them that nobody could read: it may be the table.
  if (tables.length === 0) return hasUnread(facts, stop) ? { doubt: 'forwards-perhaps-not-whole' } : null;
  const whole = tables.filter((t) => t.covers.includes('forwards'));
  const newest = whole[whole.length - 1];
  // A later table of which only a part is known has taken the place of the whole one.
  const isOutdated = tables.some((t) => !whole.includes(t) && isLater(t.at, newest?.at));
  return newest && !isOutdated && !hasUnread(facts, stop) ? null : { doubt: 'forwards-perhaps-not-whole' };
}

/**
 * The rows of the newest whole table, and what others show beside it. Of tables whose age is not known
 * nobody can say which is the newer one, or whether they are pages of one list: what stands in some of
 * them only is open.
 */
function tableRows(facts: CaseFacts, stop: string): ForwardRow[] {
  const tables = tablesOf(facts, stop);
  const whole = tables.filter((t) => t.covers.includes('forwards'));
  const newest = whole[whole.length - 1];
  const rivals = newest ? whole.filter((t) => t.at === newest.at) : [];
  const parts = tables.filter((t) => !whole.includes(t) && (t.at ?? '') >= (newest?.at ?? ''));
  const named = namesOf(facts, stop);
  const lines = linesOf(facts, stop);
  const rows = rivals.map((t) => rowsIn(t, named, lines));
  const all = rows.map((list) => new Set(list.map(keyOf)));
  const outdated = parts.some((t) => isLater(t.at, newest?.at));
  const still = new Set(parts.flatMap((t) => rowsIn(t, named, lines)).map(keyOf));
  const seen = new Set<string>();
  return [...rows.flat(), ...parts.flatMap((t) => rowsIn(t, named, lines))].flatMap((row): ForwardRow[] => {
    const key = keyOf(row);
    if (rivals.length + parts.length > 1 && seen.has(key)) return [];
    seen.add(key);
    const isKept = !outdated || still.has(key);
    return isKept && (all.every((keys) => keys.has(key)) || all.length < 2 || still.has(key))
      ? [row]
      : [{ ...row, doubts: [...row.doubts, { doubt: 'which-table' }] }];
  });
}

const keyOf = ({ name: _name, source: _source, ...row }: ForwardRow): string =>
  JSON.stringify(row, (_key, value: unknown) => (typeof value === 'bigint' ? `${value}` : value));

const rowsIn = (table: CaseFacts['files'][number], names: Names, lines: Names): ForwardRow[] =>
  table.facts.flatMap((f) =>
    f.kind === 'forward' ? rowsOfFact(onLine(f, lines), { file: table.file, ...f.at }, names) : [],
  );
