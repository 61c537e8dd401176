import type { ForwardRole } from '../../../facts/index.ts';
import type { Field } from '../../fields.ts';
import type { Line } from '../../text.ts';
import type { Block } from '../blocks.ts';
import type { Cell, Row } from '../cells.ts';
import { isOtherTitle } from '../columns.ts';
import { headingOf } from '../headings.ts';
import { isState } from '../states.ts';

/** A row whose cells stand one below the other, or in an object of a program’s export. */
export interface Entry {
  /** What stands above its fields, where something does. */
  readonly title: Line | null;
  readonly fields: readonly Field[];
}

/** Rows of forwards that stand as records, with what each of their fields is. */
export interface RecordTable extends Block {
  readonly roles: readonly ForwardRole[];
  /** Parsed as a whole: it cannot break off. */
  readonly isParsed?: true;
}

/** Fewer fields than this are no row of forwards. */
export const LEAST_FIELDS = 3;

/** `Rule 3`, `#2`: numbers of rows. */
const COUNTING = /^(?:\p{L}{2,20} ?)?[#№]? ?\d{1,4}[.:)]?$/u;

/** A title may say that its row is off: then it counts as a cell that nobody understands. */
export const saysState = (text: string): boolean =>
  text.split(/[^\p{L}✓✔✗✘☐☑]+/u).some((word) => word.length > 1 && isState(word));

/**
 * Records as a table: a column for each name of a field, in the order in which they come. A record that lacks
 * a field has an empty cell there; one that ends before it has none.
 */
export function tableOf(entries: readonly Entry[], notes: readonly Line[]): Block | null {
  const keys = [...new Set(entries.flatMap((e) => e.fields.map((f) => f.key)))];
  const start = entries[0]?.fields[0]?.line;
  if (start === undefined || keys.length < LEAST_FIELDS) return null;
  if (entries.some((e, i) => i === 0 && e.title && isOtherTitle(e.title.text))) return null;
  const titles = entries.flatMap((e) => (e.title && !COUNTING.test(e.title.text.trim()) ? [e.title] : []));
  const isNamed = keys.some((key) => headingOf(key).kind === 'name');
  // A note in brackets behind a name is read as one.
  const isOdd = titles.some((t) => saysState(t.text) && (isNamed || !/[([]/.test(t.text)));
  const isColumn = titles.length > 0 && (!isNamed || isOdd);
  const before = isColumn ? [isNamed || isOdd ? '' : 'Name'] : [];
  const headings = [...before, ...keys];
  return {
    titles: [],
    heading: { line: start, cells: headings.map((text) => ({ text, column: 0 })) },
    rows: entries.map((entry) => rowOf(entry, keys, isColumn)),
    notes: isColumn ? notes : [...notes, ...titles],
    width: headings.length,
    loose: false,
  };
}

function rowOf({ title, fields }: Entry, keys: readonly string[], isTitled: boolean): Row {
  const of = new Map(fields.map((f) => [f.key, f]));
  const last = keys.findLastIndex((key) => of.has(key));
  const cells = keys.slice(0, last + 1).map((key): Cell => {
    const field = of.get(key);
    return {
      text: field?.value ?? '',
      column: field?.column ?? 0,
      ...(field ? { line: field.line.number } : {}),
    };
  });
  const own = fields.map((f) => f.line);
  const line = own[0] ?? title ?? { number: 1, text: '' };
  const named: Cell = { text: title?.text.trim() ?? '', column: 0 };
  return { line, cells: isTitled ? [named, ...cells] : cells, end: (own[own.length - 1] ?? line).number };
}
