import type { ReadingView } from '@bright-ferry/core/views';
import type { SourceRef } from '@bright-ferry/core/place';

/** Listings of one line are shown up to here, characters. */
const WIDEST = 4000;

type Mark = ReadingView['marks'][number];

export interface Piece {
  readonly text: string;
  readonly label: string | null;
}

/** A line cut at the places of its facts; those that overlap an earlier one are left out. */
export function pieces(text: string, marks: readonly Mark[]): Piece[] {
  const spans = marks
    .filter((m) => m.column !== null && m.endColumn !== null && m.endColumn <= text.length)
    .sort((a, b) => a.column! - b.column!);
  const out: Piece[] = [];
  let at = 0;
  for (const m of spans) {
    if (m.column! < at) continue;
    if (m.column! > at) out.push({ text: text.slice(at, m.column!), label: null });
    out.push({ text: text.slice(m.column!, m.endColumn!), label: `${m.label}: ${m.value}` });
    at = m.endColumn!;
  }
  if (at < Math.min(text.length, WIDEST)) out.push({ text: text.slice(at, WIDEST), label: null });
  return out;
}

/** A line with the place of one fact in it. */
export interface Parts {
  readonly before: string;
  readonly marked: string;
  readonly after: string;
}

/** A line around a marked place; all of it is marked where no place is said. */
export function parts(text: string, { column, endColumn }: Partial<SourceRef>): Parts {
  if (column === undefined || endColumn === undefined)
    return { before: '', marked: text.slice(0, WIDEST), after: text.length > WIDEST ? ' …' : '' };
  const start = Math.max(0, column - 200);
  return {
    before: (start > 0 ? '… ' : '') + text.slice(start, column),
    marked: text.slice(column, endColumn),
    after: text.slice(endColumn, endColumn + WIDEST),
  };
}
