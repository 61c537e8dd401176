import { nth } from '../../place/index.ts';
import { csvCells } from '../csv.ts';
import { linesOf, type Line } from '../text.ts';

export interface Cell {
  readonly text: string;
  /** Where it begins in its line. */
  readonly column: number;
  /** Its line, where that is not the line of its row. */
  readonly line?: number;
}

export interface Row {
  readonly line: Line;
  readonly cells: readonly Cell[];
  /** The line that it ends on, where that is another one. */
  readonly end?: number;
}

/** A text taken apart into rows and cells. */
export interface Grid {
  readonly heading: Row | null;
  readonly rows: readonly Row[];
  readonly width: number;
  /** Written lines that are no rows. */
  readonly rest: readonly Line[];
  /** Cells are parted by single blanks: words of a sentence look the same. */
  readonly loose: boolean;
}

/** The separators at which quotes count (RFC 4180 §2). */
const QUOTING: ReadonlyMap<string, string> = new Map([
  ['\\t', '\t'],
  [';', ';'],
  [',', ','],
]);

/** An empty cell keeps its place: each tab parts two cells. */
export const SEPARATORS: readonly RegExp[] = [/\t/g, /\|/g, /;/g, /,/g, /(?<!\s)\s{2,}/g, /(?<!\s)\s+/g];
/** A row may lack so many cells at its end. */
const MISSING_CELLS = 2;

/**
 * Takes a table apart in every way that its text allows, the strictest separator first: tab, `|`, `;`, comma,
 * runs of blanks, blanks.
 * @param isData whether cells are a row of the wanted kind
 * @param isValue whether a cell is a value, which no heading holds
 */
export function* gridsOf(
  text: string,
  isData: (cells: readonly Cell[]) => boolean,
  isValue: (cell: string) => boolean,
): Generator<Grid> {
  const lines = linesOf(text).filter((l) => l.text.trim() !== '' && !/^[\s|+:=-]*$/.test(l.text));
  for (const [i, separator] of SEPARATORS.entries()) {
    const split = lines.map((line): Row => ({ line, cells: cellsOf(line, separator) }));
    const data = split.filter(({ cells }) => isData(cells));
    if (data.length === 0) continue;
    const width = Math.max(...data.map((d) => d.cells.length));
    const rows = data.filter((d) => d.cells.length >= width - MISSING_CELLS);
    const heading =
      split.find(
        ({ line, cells }) =>
          line.number < nth(rows, 0).line.number && cells.length >= 2 && !cells.some((c) => isValue(c.text)),
      ) ?? null;
    yield {
      heading,
      rows,
      width,
      rest: lines.filter((l) => l !== heading?.line && !rows.some((r) => r.line === l)),
      loose: i === SEPARATORS.length - 1,
    };
  }
}

export function cellsOf(line: Line, separator: RegExp): Cell[] {
  const delimiter = QUOTING.get(separator.source);
  if (delimiter !== undefined && line.text.includes('"')) return csvCells(line.text, delimiter);
  const out: Cell[] = [];
  const text = withoutFrame(line.text);
  const isBlank = separator.source.startsWith('(?<!');
  // Blanks at both ends part nothing; another separator there has an empty cell beside it.
  const lead = isBlank ? text.length - text.trimStart().length : 0;
  let start = lead;
  for (const match of (isBlank ? text.trimEnd() : text).matchAll(separator)) {
    if (match.index < lead) continue;
    out.push(cell(text, start, match.index));
    start = match.index + match[0].length;
  }
  out.push(cell(text, start, text.length));
  return out;
}

/** Blanks in place of the bars at both ends of a framed row. */
function withoutFrame(text: string): string {
  const bare = text.trim();
  const from = text.length - text.trimStart().length;
  const to = from + bare.length;
  const head = bare.startsWith('|') ? ' ' : '';
  const tail = bare.length > 1 && bare.endsWith('|') ? ' ' : '';
  const inside = text.slice(from + head.length, to - tail.length);
  return `${text.slice(0, from)}${head}${inside}${tail}${text.slice(to)}`;
}

/** Quotes around a cell (CSV, RFC 4180 §2.5) are not part of it. */
function cell(text: string, from: number, to: number): Cell {
  const whole = text.slice(from, to);
  const raw = whole.trim();
  const column = from + whole.length - whole.trimStart().length;
  return raw.length > 1 && raw.startsWith('"') && raw.endsWith('"')
    ? { text: raw.slice(1, -1).trim(), column: column + 1 }
    : { text: raw, column };
}

/** What stands in one column, without empty cells. */
export const columnOf = (rows: readonly Row[], i: number): string[] =>
  rows.map((r) => r.cells[i]?.text ?? '').filter((t) => t !== '');

/**
 * How a table is recognised when it comes again: its heading, or the number of its columns and what kind of
 * value stands in each.
 */
export function signatureOf(
  grid: Pick<Grid, 'heading' | 'rows' | 'width'>,
  kindOf: (cell: string) => string,
): string {
  if (grid.heading) return grid.heading.cells.map((c) => c.text.toLowerCase()).join('\t');
  const kinds = Array.from({ length: grid.width }, (_, i) =>
    [...new Set(columnOf(grid.rows, i).map(kindOf))].sort().join('/'),
  );
  return `${grid.width} columns: ${kinds.join('\t')}`;
}
