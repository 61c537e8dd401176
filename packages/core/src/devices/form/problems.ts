import { ValidationError } from 'yup';
import { SCHEMAS } from '../schemas.ts';
import type { SettingsKind } from '../settings.ts';
import type { FormSpec } from './spec.ts';
import { isBlank, settingsFrom, type FormValues } from './values.ts';

/** What is wrong with a form, by place: `rows/2/to` for a row's field (from 0), `exposedHost` for a field. */
export type FormProblems = Readonly<Record<string, string>>;

/**
 * Holds every value of a form against the checks of its kind's settings. Fields that are still empty are no
 * problem as long as one types: what is missing is told when it is kept.
 */
export function formProblems(spec: FormSpec, kind: SettingsKind, values: FormValues): FormProblems {
  try {
    SCHEMAS[kind].validateSync(settingsFrom(spec, kind, values), { abortEarly: false, strict: true });
    return {};
  } catch (error) {
    if (!(error instanceof ValidationError)) throw error;
    const all = error.inner.length > 0 ? error.inner : [error];
    return Object.fromEntries(
      all
        .filter((e) => e.type !== 'required' && e.type !== 'optionality')
        .map((e) => [place(spec, values, e.path ?? ''), plain(e)] as const),
    );
  }
}

/** Yup's `rows[1].to` as a place of the form, whose empty rows the settings leave out. */
function place(spec: FormSpec, values: FormValues, path: string): string {
  const [, table, at, column] = /^(\w+)\[(\d+)\]\.?(\w+)?/.exec(path) ?? [];
  const isPlain = spec.tables.some((t) => t.key === table && !t.shape);
  if (table === undefined || !isPlain) return path.split(/[.[]/)[0] ?? path;
  const filled = (values.tables[table] ?? []).flatMap((row, i) => (isBlank(row) ? [] : [i]));
  return `${table}/${filled[Number(at)] ?? at}/${column ?? ''}`;
}

/** The message without its path: it stands beside the field. */
function plain({ message, path }: ValidationError): string {
  const rest = path && message.startsWith(path) ? message.slice(path.length).trim() : message;
  return rest.charAt(0).toUpperCase() + rest.slice(1);
}
