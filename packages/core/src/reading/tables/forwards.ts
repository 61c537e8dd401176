import { open, type ForwardFact, type ForwardRole } from '../../facts/index.ts';
import { parseAddress } from '../../net/index.ts';
import type { Line } from '../text.ts';
import { blocksOf, type Block } from './blocks.ts';
import type { Cell, Row } from './cells.ts';
import { forwardColumns } from './columns.ts';
import {
  insidePorts,
  limit,
  narrowingColumns,
  narrowings,
  type NarrowingColumn,
  outsidePorts,
  portsIn,
  protocolIn,
  rowState,
  said,
  sourcesIn,
  targetOf,
  unclear,
} from './forwardCells.ts';
import { headingOf } from './headings.ts';
import { arrowForwards, cardForwards, exportedForwards } from './records/index.ts';
import { isOnePort, isPorts } from './portCells.ts';
import { endpointOf, isPrivate, MAC, protocolOf } from './values.ts';

/** A table of forwards in a text, with what each of its columns is. */
export interface ForwardTable extends Block {
  readonly roles: readonly ForwardRole[];
  /** Parsed as a whole: it cannot break off. */
  readonly isParsed?: true;
}

/**
 * Its heading calls the port the outside one: the inside one is another column, which the table does not
 * show.
 */
const isHalf = ({ heading }: Block, roles: readonly ForwardRole[]): boolean => {
  const at = roles.indexOf('outside');
  return at >= 0 && !roles.includes('inside') && headingOf(heading?.cells[at]?.text ?? '').side === 'out';
};

const isValue = (text: string): boolean =>
  isPorts(text) ||
  isPrivate(text) ||
  endpointOf(text) !== null ||
  MAC.test(text) ||
  parseAddress(text) !== null;

interface Tables {
  readonly tables: readonly ForwardTable[];
  readonly others: readonly Block[];
}

/**
 * The tables of forwards in a text copied from a device's page, and the other tables beside them. Null where
 * there is none.
 */
export function forwardTables(text: string): Tables | null {
  return (
    records(exportedForwards(text)) ??
    records(arrowForwards(text)) ??
    tablesIn(text) ??
    records(cardForwards(text))
  );
}

const records = (tables: readonly ForwardTable[]): Tables | null =>
  tables.length > 0 ? { tables, others: [] } : null;

function tablesIn(text: string): Tables | null {
  for (const blocks of blocksOf(text, isValue)) {
    const tables: ForwardTable[] = [];
    const others: Block[] = [];
    for (const block of blocks) {
      const roles = forwardColumns(block);
      const isProse = block.loose && (!roles?.includes('protocol') || !isEven(block));
      // At the end of other things a heading is where the copy broke off; a page says “no entries”.
      const isBroken = block.rows.length === 0 && blocks.length > 1 && block.notes.length === 0;
      if (roles && !isProse && !isBroken) tables.push({ ...block, roles });
      else others.push(block);
    }
    if (tables.length > 0) return { tables, others };
    // A table of other things stays one, however else its lines could be taken apart.
    if (others.some(isDecided)) return null;
  }
  return null;
}

const isDecided = ({ heading, rows, width, loose }: Block): boolean =>
  heading !== null && !loose && width >= 3 && rows.some((r) => r.cells.length >= 3);

/** Words of a sentence look like cells between single blanks: only rows of one width are a table. */
const isEven = ({ rows, width }: Block): boolean => rows.every((r) => r.cells.length === width);

/** Cells in a row beyond the headings, or words where nothing is known to stand. */
const looksLikeRow = ({ cells }: Row): boolean =>
  // Nearly every row has such a cell, and other words take long to look at.
  cells.some((c) => isOnePort(c.text)) ||
  cells.some((c) => isValue(c.text) || (protocolOf(c.text) !== null && c.text.length > 2));

/** Words below a table by which what it shows is not in force yet, or may not be. */
const WAITS = [
  /\bnot (?:yet )?(?:saved|applied|active|in (?:effect|force))\b|\bun(?:saved|applied)\b|\bpending\b/i,
  new RegExp(
    String.raw`\b(?:no|without) effect (?:until|before)\b|` +
      String.raw`\b(?:effect|force) (?:only )?(?:after|once|when|at the next)\b`,
    'i',
  ),
  /\b(?:restart|reboot) (?:is )?(?:required|needed)\b|\b(?:requires?|needs?) (?:a )?(?:restart|reboot)\b/i,
  /\bnicht (?:gespeichert|übernommen|angewendet|aktiv)\b|\bneustart (?:erforderlich|nötig)\b|\berst nach\b/i,
  /\bnon (?:enregistré|appliqué)|\bno (?:guardad|aplicad)[oa]s?\b|\bnon (?:salvat|applicat)[oaei]\b/i,
];

/** `No pending changes`, `0 unsaved changes` */
const NOTHING_WAITS =
  /\b(?:no|0|zero|keine|aucun|ning[uú]n|nessun)\S* (?:pending|unsaved|unapplied|ausstehend)/i;

/** What the rows of a table say; lines of words alone come back as notes. */
export function forwardRowsOf(
  table: Block,
  roles: readonly ForwardRole[],
): { readonly facts: readonly ForwardFact[]; readonly notes: readonly Line[] } {
  const rows: Row[] = [];
  const notes = [...table.notes];
  for (const row of table.rows) {
    if (looksLikeRow(row)) rows.push(row);
    else notes.push(row.line);
  }
  const unsaved = notes.find((n) => !NOTHING_WAITS.test(n.text) && WAITS.some((w) => w.test(n.text)));
  // A footnote is of the rows that carry its mark; where the copy lost the mark, it may be of any.
  const isStarred = (row: Row): boolean => row.cells.some((c) => c.text.includes('*'));
  const isMarked = unsaved !== undefined && unsaved.text.trim().startsWith('*') && rows.some(isStarred);
  const shape = {
    width: table.width,
    isHalf: isHalf(table, roles),
    places: placesOf(roles),
    narrowing: narrowingColumns(roles),
  };
  const facts = rows.map((row) => {
    const concerned = unsaved && (!isMarked || isStarred(row));
    return rowFact(row, roles, shape, concerned ? unsaved.text.trim() : null);
  });
  return { facts, notes };
}

/** Where the first column of each role stands. */
type Places = Readonly<Partial<Record<ForwardRole, number>>>;

/** What the rows of a table have in common. */
interface Shape {
  readonly width: number;
  readonly isHalf: boolean;
  readonly places: Places;
  readonly narrowing: readonly NarrowingColumn[];
}

/** An object and no map: it is asked a dozen times for each row. */
function placesOf(roles: readonly ForwardRole[]): Places {
  const places: Partial<Record<ForwardRole, number>> = {};
  roles.forEach((role, i) => (places[role] ??= i));
  return places;
}

/** Nothing where the table has no such column, an empty cell where the row ends before it. */
const cellAt = ({ line, cells }: Row, i: number | undefined): Cell | undefined =>
  i === undefined ? undefined : (cells[i] ?? { text: '', column: line.text.length });

const textAt = ({ cells }: Row, i: number | undefined): string =>
  i === undefined ? '' : (cells[i]?.text ?? '');

/** What only some rows have. */
interface Optional {
  name?: string;
  counted?: number;
  waitsFor?: 'restart';
}

function rowFact(
  row: Row,
  roles: readonly ForwardRole[],
  { places, narrowing, width, isHalf: half }: Shape,
  note: string | null,
): ForwardFact {
  const { line, cells } = row;
  const endpoint = cellAt(row, places.endpoint);
  const outsideCell = portsIn(cellAt(row, places.outside));
  const insideCell = insidePorts(cellAt(row, places.inside), endpoint);
  const target = targetOf(cellAt(row, places['inside-address']), endpoint, cellAt(row, places.device));
  const ports =
    places['some-port'] === undefined
      ? outsidePorts(outsideCell, cellAt(row, places['outside-end']))
      : unclear(roles, cells);
  const name = textAt(row, places.name);
  const counted = textAt(row, places.counted);
  const state = rowState(cellAt(row, places.enabled), cellAt(row, places.applied), name);
  const isPendingCell = [outsideCell, insideCell.cell].some((c) => c?.isPending);
  const at = target.cell ?? cells.find((c) => c.text !== '');
  // One shape for all rows: thousands of them are made, and spread parts would take as long as all the rest.
  const fact: ForwardFact & Optional = {
    kind: 'forward',
    at: at
      ? { line: at.line ?? line.number, column: at.column, endColumn: at.column + at.text.length }
      : { line: line.number },
    protocol: protocolIn(cellAt(row, places.protocol), outsideCell?.protocol ?? null),
    outside: ports.is,
    outsideWithin: ports.within,
    target: target.is,
    device: textAt(row, places.device) || null,
    inside:
      places['some-port'] !== undefined || (half && !endpoint)
        ? open({ doubt: 'not-shown', fields: ['ports'] })
        : insideCell.is,
    enabled: state.enabled,
    applied: isPendingCell && state.applied === null ? false : state.applied,
    sources: sourcesIn(cellAt(row, places.sources)),
    outsideAddress: limit(cellAt(row, places['outside-address']), 'addresses'),
    narrowed: [...narrowings(narrowing, cells, width), ...(note === null ? [] : [said(note)])],
  };
  if (name !== '') fact.name = name;
  if (counted !== '') fact.counted = Number(counted);
  if (state.waitsFor) fact.waitsFor = state.waitsFor;
  return fact;
}
