import type { StopSettings } from '../dialects/index.ts';
import { formOf, type FormField, type FormTable } from './spec.ts';

/** What stands in a form: texts only, row by row. Empty means not known. */
export interface FormValues {
  readonly fields: Readonly<Record<string, string>>;
  readonly tables: Readonly<Record<string, readonly Readonly<Record<string, string>>[]>>;
}

type Plain = Record<string, unknown>;

/** Fills a form from settings. */
export function formValues(settings: StopSettings): FormValues {
  const spec = formOf(settings.kind);
  const plain = settings as unknown as Plain;
  return {
    fields: Object.fromEntries(spec.fields.map((f) => [f.key, shown(f, atPath(plain, f.key))])),
    tables: Object.fromEntries(spec.tables.map((t) => [t.key, rowsOf(t, plain[t.key]).map((row) => Object.fromEntries(t.columns.map((c) => [c.key, shown(c, row[c.key])])))])),
  };
}

/** Makes settings from a form; empty values are left out, so that they count as not known. */
export function settingsFrom(kind: StopSettings['kind'], values: FormValues): StopSettings {
  const spec = formOf(kind);
  const out: Plain = { kind };
  for (const f of spec.fields) setPath(out, f.key, parsed(f, values.fields[f.key] ?? ''));
  for (const t of spec.tables) {
    const rows = (values.tables[t.key] ?? []).map((row) => Object.fromEntries(t.columns.flatMap((c) => {
      const value = parsed(c, row[c.key] ?? '');
      return value === undefined ? [] : [[c.key, value]];
    }))).filter((row) => Object.keys(row).length > 0);
    const value = packed(t, rows);
    if (value !== undefined) out[t.key] = value;
  }
  return out as unknown as StopSettings;
}

/** Tables that a device cannot do without stand in its settings even when they are empty. */
const ALWAYS: ReadonlySet<string> = new Set(['rows', 'rules', 'translations', 'lines', 'lists', 'leases', 'profiles']);

function packed(table: FormTable, rows: readonly Plain[]): unknown {
  switch (table.key) {
    case 'names': case 'groups': return rows.length === 0 ? undefined : Object.fromEntries(rows.map((r) => [String(r['name'] ?? ''), r['members'] ?? []]));
    case 'services': return rows.length === 0 ? undefined : grouped(rows, 'name', ({ name: _, ...rest }) => rest);
    case 'profiles': return Object.fromEntries(rows.map(({ name, ...rest }) => [String(name ?? ''), rest]));
    case 'lists': return Object.entries(grouped(rows.map((r) => ({ ...r, list: r['list'] ?? 'list' })), 'list', ({ list: _, ...rest }) => ({ sources: ['any'], ...rest }))).map(([name, own]) => ({ name, rows: own }));
    case 'subnetList': return rows.length === 0 ? undefined : { in: rows.filter((r) => r['direction'] !== 'out').map(({ direction: _, ...rest }) => rest), out: rows.filter((r) => r['direction'] === 'out').map(({ direction: _, ...rest }) => rest) };
    default: return rows.length === 0 && !ALWAYS.has(table.key) ? undefined : rows;
  }
}

function rowsOf(table: FormTable, value: unknown): Plain[] {
  if (value === undefined || value === null) return [];
  switch (table.key) {
    case 'names': case 'groups': return Object.entries(value as Plain).map(([name, members]) => ({ name, members }));
    case 'services': return Object.entries(value as Record<string, Plain[]>).flatMap(([name, list]) => list.map((s) => ({ name, ...s })));
    case 'profiles': return Object.entries(value as Record<string, Plain>).map(([name, rest]) => ({ name, ...rest }));
    case 'lists': return (value as { name: string; rows: Plain[] }[]).flatMap((l) => l.rows.map((r) => ({ list: l.name, ...r })));
    case 'subnetList': return (['in', 'out'] as const).flatMap((direction) => ((value as Record<string, Plain[]>)[direction] ?? []).map((r) => ({ direction, ...r })));
    default: return value as Plain[];
  }
}

function grouped(rows: readonly Plain[], key: string, rest: (row: Plain) => Plain): Record<string, Plain[]> {
  const out: Record<string, Plain[]> = {};
  for (const row of rows) (out[String(row[key] ?? '')] ??= []).push(rest(row));
  return out;
}

function shown(field: FormField, value: unknown): string {
  if (value === undefined || value === null) return '';
  if (field.type === 'yes-no') return value === true ? 'yes' : value === false ? 'no' : '';
  return Array.isArray(value) ? value.join(', ') : String(value);
}

function parsed(field: FormField, value: string): unknown {
  const text = value.trim();
  if (text === '') return undefined;
  switch (field.type) {
    case 'yes-no': return text === 'yes' ? true : text === 'no' ? false : undefined;
    case 'number': return /^\d+$/.test(text) ? Number(text) : text;
    case 'list': return text.split(/[,;\s]+/).filter((t) => t !== '');
    default: return text;
  }
}

const atPath = (plain: Plain, path: string): unknown => path.split('.').reduce<unknown>((at, key) => (typeof at === 'object' && at !== null ? (at as Plain)[key] : undefined), plain);

function setPath(plain: Plain, path: string, value: unknown): void {
  if (value === undefined) return;
  const keys = path.split('.');
  let at = plain;
  for (const key of keys.slice(0, -1)) at = (at[key] ??= {}) as Plain;
  at[keys[keys.length - 1]!] = value;
}
