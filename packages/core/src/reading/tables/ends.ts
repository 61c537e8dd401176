import { type ForwardFact, open, openFields } from '../../facts/index.ts';
import { linesOf, isLastLineEnded } from '../text.ts';
import type { Row } from './cells.ts';
import { type ForwardTable, forwardRowsOf } from './forwards.ts';

/** Words that stand alone at the end of a page. */
export const FOOT = /^(?:save|apply|cancel|add|ok|close|back|refresh|reset|help|delete|edit|new)\b/i;

export const NOTHING = /\b(?:no|none|nothing|empty|keine?|aucune?|ning[úu]n|nenhum|nessun[ao]?|0)\b/i;

/** The last cell of the text is not what stands in its column. */
export function hasOpenEnd(row: Row, table: ForwardTable): boolean {
  const [fact] = forwardRowsOf({ ...table, rows: [row], notes: [] }, table.roles).facts;
  return fact !== undefined && openFields(fact).length > 0;
}

/** The last number is how another one of the row begins: a port that was cut looks like that. */
export function isShortened({ cells }: Row): boolean {
  const end = (cells[cells.length - 1]?.text ?? '').trim().replace(/^.*:/, '');
  return (
    /^\d+$/.test(end) &&
    cells.some(
      (c) =>
        c.text.trim().length > end.length && /^\d+$/.test(c.text.trim()) && c.text.trim().startsWith(end),
    )
  );
}

/** The frame of its last row is not closed as those of the others are. */
export const isUnframed = (row: Row, { heading, rows }: ForwardTable): boolean => {
  const isClosed = ({ line }: Row): boolean => line.text.trimEnd().endsWith('|');
  const others = [...(heading ? [heading] : []), ...rows.filter((r) => r !== row)];
  return !isClosed(row) && others.length > 0 && others.every(isClosed);
};

/** The text ends inside a row, or inside the word that begins one: what would follow is not in it. */
export function isCut(text: string, tables: readonly ForwardTable[]): boolean {
  const last = tables[tables.length - 1];
  const lines = linesOf(text).filter((l) => l.text.trim() !== '');
  const end = lines[lines.length - 1];
  if (!last || !end || last.isParsed) return false;
  // A heading with nothing below it, and no word that there is nothing, is what is left of a table.
  if (last.rows.length === 0) return !last.notes.some((n) => NOTHING.test(n.text));
  if (isLastLineEnded(text)) return false;
  const row = last.rows[last.rows.length - 1];
  if (row && (row.end ?? row.line.number) === end.number)
    return (
      row.cells.length < (last.heading?.cells.length ?? 0) ||
      hasOpenEnd(row, last) ||
      isShortened(row) ||
      isUnframed(row, last)
    );
  return (
    last.notes.some((n) => n.number === end.number) &&
    !FOOT.test(end.text.trim()) &&
    !/\s/.test(end.text.trim())
  );
}

/** The row in which a text breaks off may have been about any port, to anywhere. */
export function lastOpen(facts: readonly ForwardFact[]): readonly ForwardFact[] {
  const last = facts[facts.length - 1];
  if (!last) return facts;
  const why = open({ doubt: 'word', field: 'option', text: 'cut off' } as const);
  return [
    ...facts.slice(0, -1),
    { ...last, outside: why, outsideWithin: null, inside: why, target: why, enabled: why },
  ];
}
