import { known, open, type ForwardFact, type ForwardRole, type Said } from '../../facts/index.ts';
import { parseAddress, type PortSet } from '../../net/index.ts';
import type { Doubt } from '../../rules/index.ts';
import type { Line } from '../text.ts';
import { blocksOf, type Block } from './blocks.ts';
import type { Cell, Row } from './cells.ts';
import { forwardColumns } from './columns.ts';
import { headingOf } from './headings.ts';
import { isEvery, isPorts, oddPorts, portCell, type PortCell } from './portCells.ts';
import { isPending, isState, stateOf, type RowState } from './states.ts';
import { ANY_SOURCE, endpointOf, isPrivate, MAC, protocolOf } from './values.ts';

/** A table of forwards in a text, with what each of its columns is. */
export interface ForwardTable extends Block {
  readonly roles: readonly ForwardRole[];
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

/**
 * The tables of forwards in a text copied from a device's page, and the other tables beside them. Null where
 * there is none.
 */
export function forwardTables(
  text: string,
): { readonly tables: readonly ForwardTable[]; readonly others: readonly Block[] } | null {
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
  cells.some((c) => isValue(c.text) || (protocolOf(c.text) !== null && c.text.length > 2));

/** What the rows of a table say; lines of words alone come back as notes. */
export function forwardRowsOf(
  table: Block,
  roles: readonly ForwardRole[],
): { readonly facts: readonly ForwardFact[]; readonly notes: readonly Line[] } {
  const rows = table.rows.filter(looksLikeRow);
  const notes = [...table.notes, ...table.rows.filter((r) => !looksLikeRow(r)).map((r) => r.line)];
  const unsaved = notes.find((n) =>
    /not (yet )?(saved|applied)|unsaved|no effect until|restart required/i.test(n.text),
  );
  const isMarked = unsaved?.text.trim().startsWith('*') ?? false;
  const facts = rows.map((row) => {
    const concerned = unsaved && (!isMarked || row.cells.some((c) => c.text.includes('*')));
    return rowFact(
      row,
      roles,
      { width: table.width, isHalf: isHalf(table, roles) },
      concerned ? unsaved.text.trim() : null,
    );
  });
  return { facts, notes };
}

/** Values that narrow nothing: for any sender, at any hour, on any line. */
const UNLIMITED =
  /^(any|anyone|all|everyone|everybody|\*|-|–|—|always|all day|every day|24\/7|24 ?h|none|no|default|both|auto|alle|immer|toujours|siempre|sempre|n\/a)$/i;
const PLAIN_LINE = /^(wan|internet|wan ?\(?(ipv4|ip|dhcp|pppoe)?\)?|any wan|all wans?)$/i;

function rowFact(
  { line, cells }: Row,
  roles: readonly ForwardRole[],
  table: { readonly width: number; readonly isHalf: boolean },
  note: string | null,
): ForwardFact {
  const cell = (role: ForwardRole): Cell | undefined => {
    const i = roles.indexOf(role);
    return i < 0 ? undefined : (cells[i] ?? { text: '', column: line.text.length });
  };
  const text = (role: ForwardRole): string => cell(role)?.text ?? '';
  const outsideCell = portsIn(cell('outside'));
  const insideCell = insidePorts(cell('inside'), cell('endpoint'));
  const target = targetOf(cell('inside-address'), cell('endpoint'), cell('device'));
  const ports = outsidePorts(roles, cells, outsideCell, text('outside-end'));
  const name = text('name');
  const state = rowState(roles, text('enabled'), text('applied'), name);
  const isPendingCell = [outsideCell, insideCell.cell].some((c) => c?.isPending);
  const at = target.cell ?? cells.find((c) => c.text !== '');
  return {
    kind: 'forward',
    at: at
      ? { line: line.number, column: at.column, endColumn: at.column + at.text.length }
      : { line: line.number },
    ...(name === '' ? {} : { name }),
    protocol: protocolIn(roles, text('protocol'), outsideCell?.protocol ?? null),
    outside: ports.is,
    outsideWithin: ports.within,
    target: target.is,
    device: text('device') || null,
    inside:
      roles.includes('some-port') || (table.isHalf && !roles.includes('endpoint'))
        ? open({ doubt: 'not-shown', fields: ['ports'] })
        : insideCell.is,
    enabled: state.enabled,
    applied: isPendingCell && state.applied === null ? false : state.applied,
    ...(state.waitsFor ? { waitsFor: state.waitsFor } : {}),
    sources: sourcesIn(cell('sources')),
    outsideAddress: limit(cell('outside-address'), 'addresses'),
    narrowed: [...narrowings(roles, cells, table.width), ...(note === null ? [] : [said(note)])],
  };
}

const said = (text: string): Doubt => ({ doubt: 'said', text: `the page says “${text}”` });

const portsIn = (cell: Cell | undefined): PortCell | null => {
  if (!cell) return null;
  const endpoint = endpointOf(cell.text);
  if (endpoint) return { ports: known([endpoint.ports]), within: null, protocol: null, isPending: false };
  return portCell(cell.text) ?? oddPorts(cell.text);
};

/** The outside ports; where a cell is odd, those that it may be about. */
function outsidePorts(
  roles: readonly ForwardRole[],
  cells: readonly Cell[],
  cell: PortCell | null,
  end: string,
): { readonly is: Said<PortSet>; readonly within: PortSet | null } {
  if (roles.includes('some-port')) return unclear(roles, cells);
  if (!cell) return { is: open({ doubt: 'not-shown', fields: ['ports'] }), within: null };
  if (!('is' in cell.ports)) return { is: cell.ports, within: cell.within };
  const ports = cell.ports.is;
  if (ports === 'same') return { is: open({ doubt: 'word', field: 'ports', text: 'any' }), within: null };
  const first = ports[0];
  if (!roles.includes('outside-end') || !first) return { is: known(ports), within: null };
  const last = Number(end);
  if (end === '' || end === '0') return { is: known(ports), within: null };
  return /^\d{1,5}$/.test(end) && last >= first.first && last <= 65535
    ? { is: known([{ first: first.first, last }]), within: null }
    : { is: open({ doubt: 'word', field: 'ports', text: end }), within: null };
}

/** Of several ports it is not known which is outside: it is about one of them, or about all between them. */
function unclear(
  roles: readonly ForwardRole[],
  cells: readonly Cell[],
): { readonly is: Said<PortSet>; readonly within: PortSet | null } {
  const all = roles.flatMap((r, i): PortSet[] => {
    const ports = r === 'some-port' ? portCell(cells[i]?.text ?? '')?.ports : undefined;
    return ports && 'is' in ports && ports.is !== 'same' ? [ports.is] : [];
  });
  const parts = all.flat();
  const is = open({ doubt: 'not-shown', fields: ['ports'] });
  // One port alone is the end of a range, whose other end is not shown.
  if (all.length < 2) return { is, within: null };
  const [first, last] = [Math.min(...parts.map((p) => p.first)), Math.max(...parts.map((p) => p.last))];
  return { is, within: [{ first, last }] };
}

function insidePorts(
  cell: Cell | undefined,
  endpoint: Cell | undefined,
): { readonly is: ForwardFact['inside']; readonly cell: PortCell | null } {
  const joint = endpoint ? endpointOf(endpoint.text) : null;
  if (joint) return { is: known([joint.ports]), cell: null };
  if (!cell) return { is: known('same'), cell: null };
  const ports = portCell(cell.text) ?? oddPorts(cell.text);
  return { is: ports.ports, cell: ports };
}

function targetOf(
  address: Cell | undefined,
  endpoint: Cell | undefined,
  device: Cell | undefined,
): { readonly is: Said<string>; readonly cell: Cell | undefined } {
  const cell = address ?? endpoint ?? device;
  const text = cell?.text ?? '';
  const joint = endpointOf(text);
  const inBrackets = /^[^()]{1,80}\(([\da-fA-F.:]{3,45})\)$/.exec(text)?.[1];
  const plain = joint?.address ?? inBrackets ?? text.replace(/\/(32|128)$/, '');
  if (parseAddress(plain)) return { is: known(plain), cell };
  const why: Doubt =
    text === '' ? { doubt: 'not-shown', fields: ['addresses'] } : { doubt: 'word', field: 'addresses', text };
  return { is: open(why), cell };
}

function protocolIn(
  roles: readonly ForwardRole[],
  text: string,
  beside: 'tcp' | 'udp' | null,
): ForwardFact['protocol'] {
  if (!roles.includes('protocol'))
    return beside ? known(beside) : open({ doubt: 'not-shown', fields: ['protocol'] });
  const read = protocolOf(text);
  if (read) return known(read);
  return open(
    text === '' ? { doubt: 'not-shown', fields: ['protocol'] } : { doubt: 'word', field: 'protocol', text },
  );
}

function rowState(roles: readonly ForwardRole[], enabled: string, applied: string, name: string): RowState {
  const state = roles.includes('enabled') ? stateOf(enabled) : { enabled: known(true), applied: null };
  const live = roles.includes('applied') ? stateOf(applied) : null;
  const note = /[([]([^()[\]]{1,40})[)\]]\s*$/.exec(name)?.[1] ?? '';
  const isStruck = /^~~.*~~$/.test(name);
  const odd = isStruck || (isState(note) && !stateIsOn(note));
  if (odd) return { ...state, enabled: open({ doubt: 'word', field: 'state', text: name }) };
  if (!live) return state;
  if (!('is' in live.enabled)) return { enabled: live.enabled, applied: null };
  const { waitsFor } = live;
  return {
    enabled: state.enabled,
    applied: live.enabled.is && live.applied !== false,
    ...(waitsFor ? { waitsFor } : {}),
  };
}

const stateIsOn = (text: string): boolean => {
  const { enabled, applied } = stateOf(text);
  return 'is' in enabled && enabled.is && applied !== false && !isPending(text);
};

function sourcesIn(cell: Cell | undefined): ForwardFact['sources'] {
  if (!cell || cell.text === '' || ANY_SOURCE.test(cell.text) || UNLIMITED.test(cell.text))
    return known(null);
  return known(cell.text.split(/[\s,;]+/).filter((t) => t !== ''));
}

/** A cell that limits its row; null where it holds no limit. */
function limit(cell: Cell | undefined, field: 'addresses'): Said<string | null> {
  const text = cell?.text ?? '';
  if (text === '' || UNLIMITED.test(text) || /^(wan|any|router|external|public)( ip| address)?$/i.test(text))
    return known(null);
  const address = endpointOf(text)?.address ?? text.replace(/\/32$/, '');
  return parseAddress(address) ? known(address) : open({ doubt: 'word', field, text });
}

/** What else limits a row: its line, its hours, ports of the sender, and columns that nobody understands. */
function narrowings(roles: readonly ForwardRole[], cells: readonly Cell[], width: number): Doubt[] {
  const own = roles.flatMap((role, i): Doubt[] => {
    const text = cells[i]?.text ?? '';
    const isOff = role === 'unknown' && isState(text) && !stateIsOn(text);
    if (text === '' || (UNLIMITED.test(text) && !isOff)) return [];
    switch (role) {
      case 'wan':
        return PLAIN_LINE.test(text) ? [] : [{ doubt: 'narrowed', text }];
      case 'schedule':
        return [{ doubt: 'narrowed', text }];
      case 'source-port':
        return isEvery(text) || /^0$/.test(text)
          ? []
          : [{ doubt: 'narrowed', text: `sender’s port ${text}` }];
      // A word for on narrows nothing, whatever it is that is on; one for off may.
      case 'unknown':
        return stateIsOn(text) ? [] : [{ doubt: 'word', field: 'option', text }];
      default:
        return [];
    }
  });
  const beyond = cells.slice(width).filter((c) => c.text !== '');
  return [...own, ...beyond.map((c): Doubt => ({ doubt: 'word', field: 'option', text: c.text }))];
}
