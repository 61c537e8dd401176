import type { Doubt } from '../rules/index.ts';
import { known, saidOr, type ForwardFact } from '../facts/index.ts';
import {
  addressRange,
  formatAddress,
  parseAddress,
  toPrefixes,
  type Address,
  type PortSet,
  type Prefix,
} from '../net/index.ts';
import type { SourceRef } from '../place/index.ts';
import {
  rowsOf,
  SettingsError,
  sourcePrefixes,
  type ForwardRow,
  type ForwardTableSettings,
} from '../devices/index.ts';
import { settingsOfKind } from '../case/index.ts';
import { factsOf, type CaseFacts } from '../ledger/index.ts';
import { isOutermost, portalTables, typedPortal } from './portal.ts';
import { saysPortal } from './notices.ts';

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

type Names = ReadonlyMap<string, Address>;

/** Addresses by the names and link addresses that leases and lists of devices of a stop give. */
function namesOf(facts: CaseFacts, stop: string): Names {
  const out = new Map<string, Address>();
  for (const { fact } of factsOf(facts, 'lease').filter((l) => l.stop === stop)) {
    const address = parseAddress(fact.address);
    if (!address) continue;
    if (fact.name) out.set(fact.name.toLowerCase(), address);
    if (fact.mac) out.set(fact.mac.toLowerCase(), address);
  }
  return out;
}

const rowsIn = (table: CaseFacts['files'][number], names: Names, lines: Names): ForwardRow[] =>
  table.facts.flatMap((f) =>
    f.kind === 'forward' ? rowsOfFact(onLine(f, lines), { file: table.file, ...f.at }, names) : [],
  );

/** Outside addresses of a stop by the names of its lines, where it has several. */
function linesOf(facts: CaseFacts, stop: string): Names {
  const out = new Map<string, Address>();
  for (const { fact } of factsOf(facts, 'labelled').filter((l) => l.stop === stop)) {
    const address = fact.what === 'wan-address' ? parseAddress(fact.value) : null;
    if (address) out.set(fact.label.toLowerCase(), address);
  }
  return out.size > 1 ? out : new Map();
}

/** A row that is bound to a line takes what is dialled by that line's address. */
function onLine(f: ForwardFact, lines: Names): ForwardFact {
  const bound = f.narrowed.find((n) => n.doubt === 'narrowed' && lines.has(n.text.toLowerCase()));
  const address = bound?.doubt === 'narrowed' ? lines.get(bound.text.toLowerCase()) : undefined;
  return address && 'is' in f.outsideAddress && f.outsideAddress.is === null
    ? {
        ...f,
        narrowed: f.narrowed.filter((n) => n !== bound),
        outsideAddress: known(formatAddress(address)),
      }
    : f;
}

const EVERY_PORT = [{ first: 0, last: 65535 }];

/** The rows that a fact is: one for each range of its outside ports, with all that is open about it. */
function rowsOfFact(f: ForwardFact, source: SourceRef, names: Names): ForwardRow[] {
  const protocol = saidOr(f.protocol, 'both');
  if (protocol === 'other') return [];
  const sources = sourcesOf(f);
  const bound =
    'is' in f.outsideAddress && f.outsideAddress.is !== null ? parseAddress(f.outsideAddress.is) : null;
  const doubts = [
    ...[f.protocol, f.outside, f.enabled, f.sources, f.outsideAddress].flatMap((x) =>
      'open' in x ? [x.open] : [],
    ),
    ...sources.doubts,
    ...f.narrowed,
  ];
  const target = targetOf(f, names);
  const outside = 'is' in f.outside ? f.outside.is : (f.outsideWithin ?? EVERY_PORT);
  const inside = 'is' in f.outside ? insideOf(f, outside) : outside.map(() => null);
  return outside.map((ports, i): ForwardRow => {
    const first = inside[i] ?? null;
    const unsure = target.unsure ?? (first === null ? openPorts(f) : null);
    return {
      name: f.name ?? '',
      protocol,
      outside: ports,
      insideAddress: target.address,
      insideFirst: first ?? ports.first,
      enabled: saidOr(f.enabled, true),
      applied: f.applied,
      ...(f.waitsFor ? { waitsFor: f.waitsFor } : {}),
      sources: sources.prefixes,
      ...(bound ? { outsideAddress: bound } : {}),
      doubts,
      ...(unsure ? { unsure } : {}),
      source,
    };
  });
}

const openPorts = (f: ForwardFact): Doubt =>
  'open' in f.inside ? f.inside.open : { doubt: 'range-lengths' };

function targetOf(f: ForwardFact, names: Names): { address: Address | null; unsure: Doubt | null } {
  const named = [f.device, 'open' in f.target && f.target.open.doubt === 'word' ? f.target.open.text : null]
    .map((n) =>
      n === null
        ? undefined
        : (names.get(n.toLowerCase().replaceAll('-', ':')) ?? names.get(n.toLowerCase())),
    )
    .find((a) => a !== undefined);
  if ('is' in f.target) return { address: parseAddress(f.target.is), unsure: null };
  return named ? { address: named, unsure: null } : { address: null, unsure: f.target.open };
}

/** First inside ports, one for each outside range; null where it is not known which they are. */
function insideOf({ inside }: ForwardFact, outside: PortSet): (number | null)[] {
  if (!('is' in inside)) return outside.map(() => null);
  const ports = inside.is;
  if (ports === 'same') return outside.map((o) => o.first);
  return outside.map((o, i) => {
    const inner = ports.length === outside.length ? ports[i] : undefined;
    return inner && inner.last - inner.first === o.last - o.first ? inner.first : null;
  });
}

/** Senders that a row names; what is no address, prefix or range of addresses is open. */
function sourcesOf({ sources }: ForwardFact): {
  prefixes: readonly Prefix[] | null;
  doubts: readonly Doubt[];
} {
  const list = saidOr(sources, null);
  if (list === null) return { prefixes: null, doubts: [] };
  const read = list.map((text) => [text, sendersOf(text)] as const);
  const odd = read.flatMap(([text, p]) => (p === null ? [text] : []));
  return odd.length > 0
    ? { prefixes: null, doubts: [{ doubt: 'word', field: 'source', text: odd.join(', ') }] }
    : { prefixes: read.flatMap(([, p]) => p ?? []), doubts: [] };
}

function sendersOf(text: string): readonly Prefix[] | null {
  const single = sourcePrefixes([text]);
  if (single) return single;
  const [first, last, more] = text.split(/[-–]/).map((t) => parseAddress(t.trim()));
  return first && last && more === undefined && first.family === last.family && first.bits <= last.bits
    ? toPrefixes(addressRange(first, last))
    : null;
}
