import type { Field } from '../../fields.ts';
import { linesOf, type Line } from '../../text.ts';
import type { Block } from '../blocks.ts';
import { headingOf } from '../headings.ts';
import { isState } from '../states.ts';
import { LEAST_FIELDS, tableOf, type Entry } from './record.ts';

/** What a field may be called. */
const KEY = /^\p{L}[\p{L}\d ()./#_-]{0,40}$/u;

interface Open {
  title: Line | null;
  fields: Field[];
}

/**
 * Rows of a page for small screens: a field a line, row after row. A blank line, a line of words, or the
 * first field once more begins the next one. Null where a field comes twice in one: what belongs together is
 * then not known.
 */
export function cardsIn(text: string): Block | null {
  const lines = linesOf(text);
  return fromFields(lines, fieldOf) ?? fromPairs(lines);
}

/** `External port: 8214`, `External port<TAB>8214`, with or without a mark before it. */
function fieldOf(line: Line): Field | null {
  const { text } = line;
  const at = text.search(/:(?!\/\/)|\t/);
  const key = text
    .slice(0, Math.max(0, at))
    .trim()
    .replace(/^[-•*] +/, '');
  const rest = text.slice(at + 1);
  const value = rest.trim();
  if (!KEY.test(key) || value.includes('\t')) return null;
  return { key, value, line, column: at + 1 + rest.indexOf(value) };
}

function fromFields(lines: readonly Line[], read: (line: Line) => Field | null): Block | null {
  const entries: Entry[] = [];
  const notes: Line[] = [];
  let open: Open = { title: null, fields: [] };
  let isParted = false;
  const close = (title: Line | null): void => {
    if (open.fields.length > 0) entries.push(open);
    else if (open.title) notes.push(open.title);
    open = { title, fields: [] };
    isParted = false;
  };
  for (const line of lines) {
    const field = line.text.trim() === '' ? null : read(line);
    if (line.text.trim() === '') {
      // A line that stands apart is of the page, and no name of what comes below it.
      if (open.fields.length === 0) close(null);
      isParted = open.fields.length > 0;
    } else if (field === null) close(line);
    else {
      if (isParted || open.fields[0]?.key === field.key) close(null);
      if (open.fields.some((f) => f.key === field.key)) return null;
      open.fields.push(field);
    }
  }
  close(null);
  const whole = entries.filter((e) => e.fields.length >= LEAST_FIELDS);
  const rest = entries.filter((e) => e.fields.length < LEAST_FIELDS);
  const loose = [...notes, ...entries.flatMap((e) => e.title ?? [])];
  // What stands apart from its row may switch it off: whose it is, nobody knows.
  if (rest.some((e) => e.fields.some(tellsOfRow)) || loose.some((l) => isState(l.text))) return null;
  return tableOf(whole, [
    ...notes,
    ...rest.flatMap((e) => [...(e.title ? [e.title] : []), ...e.fields.map((f) => f.line)]),
  ]);
}

const tellsOfRow = ({ key, value }: Field): boolean => headingOf(key).kind !== null || isState(value);

/** What a field is called on one line, and what it holds on the next. */
function fromPairs(lines: readonly Line[]): Block | null {
  const written = lines.filter((l) => l.text.trim() !== '');
  const isLabel = (line: Line | undefined): line is Line =>
    line !== undefined && /\p{L}/u.test(line.text) && headingOf(line.text.trim()).kind !== null;
  const begin = written.findIndex(
    (l, i) => isLabel(l) && !isLabel(written[i + 1]) && isLabel(written[i + 2]),
  );
  if (begin < 0) return null;
  const of = new Map<Line, Field>();
  const values = new Set<Line>();
  for (let i = begin; isLabel(written[i]) && written[i + 1] !== undefined; i += 2) {
    const [label, line] = [written[i] as Line, written[i + 1] as Line];
    const value = line.text.trim();
    of.set(label, { key: label.text.trim(), value, line, column: line.text.indexOf(value) });
    values.add(line);
  }
  return fromFields(
    written.filter((l) => !values.has(l)),
    (line) => of.get(line) ?? null,
  );
}
