import { linesOf, type Line } from '../text.ts';
import { cellsOf, SEPARATORS, type Cell, type Row } from './cells.ts';

/** Rows that stand together under one heading, with the title above them and the notes among them. */
export interface Block {
  readonly titles: readonly Line[];
  /** Two rows of headings are put together, the upper one reaching over what is empty below it. */
  readonly heading: Row | null;
  readonly rows: readonly Row[];
  /** Lines of one cell after its first row. */
  readonly notes: readonly Line[];
  readonly width: number;
  /** Cells are parted by single blanks: words of a sentence look the same. */
  readonly loose: boolean;
}

const RULER = /^[\s|+:=_-]*$/;
const isWritten = ({ text }: Line): boolean => text.trim() !== '';

/**
 * The tables of a text, once for each way to take its lines apart: tab, `|`, `;`, comma, runs of blanks,
 * single blanks.
 * @param isValue whether a cell is a value, which no heading holds
 */
export function* blocksOf(text: string, isValue: (cell: string) => boolean): Generator<readonly Block[]> {
  const lines = linesOf(text).filter((l) => !isWritten(l) || !RULER.test(l.text));
  for (const [i, separator] of SEPARATORS.entries()) {
    const rows = lines.map((line): Row => ({ line, cells: isWritten(line) ? cellsOf(line, separator) : [] }));
    if (!rows.some((r) => r.cells.length >= 3)) continue;
    yield parted(rows, isValue, i === SEPARATORS.length - 1).map((b) => inColumns(b, i));
  }
}

/** Columns parted by runs of blanks: the heading's places tell which cells are empty. */
const BLANKS = 4;

interface Open {
  titles: Line[];
  headings: Row[];
  rows: Row[];
  notes: Line[];
}
const fresh = (titles: Line[] = []): Open => ({ titles, headings: [], rows: [], notes: [] });

function parted(rows: readonly Row[], isValue: (cell: string) => boolean, loose: boolean): Block[] {
  const blocks: Open[] = [];
  let open = fresh();
  let isBroken = false;
  const isHeading = ({ cells }: Row): boolean =>
    cells.length >= 2 && !cells.some((c) => isValue(c.text)) && cells.some((c) => c.text !== '');
  for (const row of rows) {
    const isBegun = open.rows.length > 0 || open.headings.length > 0;
    // Two rows of headings may have a blank line between them; words in between are of something else.
    if (row.cells.length === 0) isBroken ||= open.rows.length > 0;
    else if (row.cells.filter((c) => c.text !== '').length < 2) {
      if (isBegun) open.notes.push(row.line);
      else open.titles.push(row.line);
      isBroken = isBegun;
    } else if ((isBroken || open.rows.length === 0) && isHeading(row)) {
      if (isBroken) {
        blocks.push(open);
        // What stood above the new heading is its title.
        open = fresh(open.notes.splice(-1));
      }
      open.headings.push(row);
      isBroken = false;
    } else {
      open.rows.push(row);
      isBroken = false;
    }
  }
  blocks.push(open);
  return blocks.filter((b) => b.rows.length > 0 || b.headings.length > 0).map((b) => closed(b, loose));
}

const MOST_HEADINGS = 2;

function closed({ titles, headings, rows, notes }: Open, loose: boolean): Block {
  const own = headings.slice(-MOST_HEADINGS);
  const above = headings.slice(0, -MOST_HEADINGS).map((h) => h.line);
  const [upper, lower] = own.length === MOST_HEADINGS ? own : [undefined, own[0]];
  const isOne = upper !== undefined && lower !== undefined && upper.cells.length <= lower.cells.length;
  const heading = isOne ? together(upper, lower) : (lower ?? null);
  const width = Math.max(heading?.cells.length ?? 0, ...(heading ? [] : rows.map((r) => r.cells.length)));
  return {
    titles: [...titles, ...above, ...(isOne || !upper ? [] : [upper.line])],
    heading,
    rows,
    notes,
    width,
    loose,
  };
}

function together(upper: Row, lower: Row): Row {
  let over = '';
  const cells = lower.cells.map((cell, i): Cell => {
    over = upper.cells[i]?.text || over;
    return { ...cell, text: `${over} ${cell.text}`.trim() };
  });
  return { line: lower.line, cells };
}

function inColumns(block: Block, separator: number): Block {
  const { heading } = block;
  if (separator !== BLANKS || !heading) return block;
  return {
    ...block,
    rows: block.rows.map((row) => (row.cells.length < block.width ? placed(row, heading) : row)),
  };
}

/** Cells at the places of the headings above them; as they were where two share one. */
function placed(row: Row, heading: Row): Row {
  const starts = heading.cells.map((c) => c.column);
  const cells: Cell[] = heading.cells.map(({ column }) => ({ text: '', column }));
  for (const cell of row.cells.filter((c) => c.text !== '')) {
    const at = starts.findLastIndex((s) => s <= cell.column);
    if (at < 0 || cells[at]?.text !== '') return row;
    cells[at] = cell;
  }
  return { line: row.line, cells };
}
