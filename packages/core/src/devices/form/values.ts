import { last } from '../../place/index.ts';
import type { StopSettings } from '../settings.ts';
import type { Plain } from './shapes.ts';
import type { FormField, FormSpec, FormTable } from './spec.ts';

/** What stands in a form: texts only, row by row. Empty means not known. */
export interface FormValues {
  readonly fields: Readonly<Record<string, string>>;
  readonly tables: Readonly<Record<string, readonly Readonly<Record<string, string>>[]>>;
}

/** Fills a form from settings. */
export function formValues(spec: FormSpec, settings: StopSettings): FormValues {
  const plain = settings as unknown as Plain;
  return {
    fields: Object.fromEntries([
      ...spec.fields.map((f) => [f.key, shown(f, atPath(plain, f.key))] as const),
      ...spec.tables.flatMap((t) =>
        t.none && isEmptyList(plain[t.key]) ? [[noneKey(t), 'yes'] as const] : [],
      ),
    ]),
    tables: Object.fromEntries(
      spec.tables.map((t) => [
        t.key,
        rowsOf(t, plain[t.key]).map((row) =>
          Object.fromEntries(t.columns.map((c) => [c.key, shown(c, row[c.key])])),
        ),
      ]),
    ),
  };
}

/** Makes settings from a form; empty values are left out, so that they count as not known. */
export function settingsFrom(spec: FormSpec, kind: StopSettings['kind'], values: FormValues): StopSettings {
  const out: Plain = { kind };
  for (const f of spec.fields) setPath(out, f.key, parsed(f, values.fields[f.key] ?? ''));
  for (const t of spec.tables) {
    const rows = (values.tables[t.key] ?? [])
      .map((row) =>
        Object.fromEntries(
          t.columns.flatMap((c) => {
            // What is not there for its kind of row may stand in it from before its kind was changed.
            if (!isThere(c, row)) return [];
            const value = parsed(c, row[c.key] ?? '');
            return value === undefined ? [] : [[c.key, value]];
          }),
        ),
      )
      .filter((row) => Object.keys(row).length > 0);
    const isNone = rows.length === 0 && t.none !== undefined && values.fields[noneKey(t)] === 'yes';
    const value = isNone ? [] : packed(t, rows);
    if (value !== undefined) out[t.key] = value;
  }
  return out as unknown as StopSettings;
}

/** A row in which nothing stands. */
export const isBlank = (row: Readonly<Record<string, string>>): boolean =>
  Object.values(row).every((v) => v.trim() === '');

/** The field that says of a table that it has no rows. */
export const noneKey = ({ key }: FormTable): string => `none/${key}`;

const isEmptyList = (value: unknown): boolean => Array.isArray(value) && value.length === 0;

/** Whether a column is there for a row, by the row's kind. */
export const isThere = ({ only }: FormField, row: Readonly<Record<string, string>>): boolean =>
  !only || only.is.includes(row[only.key] ?? '');

function packed({ shape, isNeeded }: FormTable, rows: readonly Plain[]): unknown {
  if (shape) return shape.toSettings(rows);
  return rows.length === 0 && !isNeeded ? undefined : rows;
}

function rowsOf({ shape }: FormTable, value: unknown): Plain[] {
  if (value === undefined || value === null) return [];
  return shape ? shape.toRows(value) : (value as Plain[]);
}

function shown(field: FormField, value: unknown): string {
  if (value === undefined || value === null) return '';
  if (field.type === 'yes-no') {
    if (value === true) return 'yes';
    return value === false ? 'no' : '';
  }
  return Array.isArray(value) ? value.join(', ') : String(value);
}

function parsed(field: FormField, value: string): unknown {
  const text = value.trim();
  if (text === '') return undefined;
  switch (field.type) {
    case 'yes-no':
      if (text === 'yes') return true;
      return text === 'no' ? false : undefined;
    case 'number':
      return /^\d+$/.test(text) ? Number(text) : text;
    case 'list':
      return text.split(/[,;\s]+/).filter((t) => t !== '');
    default:
      return text;
  }
}

const atPath = (plain: Plain, path: string): unknown =>
  path
    .split('.')
    .reduce<unknown>(
      (at, key) => (typeof at === 'object' && at !== null ? (at as Plain)[key] : undefined),
      plain,
    );

function setPath(plain: Plain, path: string, value: unknown): void {
  if (value === undefined) return;
  const keys = path.split('.');
  let at = plain;
  for (const key of keys.slice(0, -1)) at = (at[key] ??= {}) as Plain;
  at[last(keys)] = value;
}
