import { parsePortRange, parsePrefix } from '../../net/index.ts';
import type { ForwardFact } from '../../facts/index.ts';
import type { Line } from '../text.ts';
import { columnOf, gridsOf, type Cell, type Grid } from './cells.ts';
import {
  ACTION,
  ANY_SOURCE,
  endpointOf,
  isPrivate,
  MAC,
  NO,
  PENDING,
  PROTOCOL,
  TIME_HEADING,
  YES,
} from './values.ts';

/** What a column of a forward table can hold. */
export const FORWARD_ROLES = [
  'name',
  'protocol',
  'outside',
  'outside-end',
  'inside-address',
  'inside',
  'inside-end',
  'endpoint',
  'sources',
  'enabled',
  'applied',
  'wan',
  'lifetime',
  'number',
  'other',
] as const;
export type ForwardRole = (typeof FORWARD_ROLES)[number];
type Role = ForwardRole;

export interface ForwardGrid extends Grid {
  readonly roles: readonly ForwardRole[];
}

/**
 * The forward table in a text copied from a device's page. Which column is which is read off what stands in
 * the cells; a heading only decides between columns that look alike. Null where there is none.
 */
export function forwardGrid(text: string): ForwardGrid | null {
  const isData = (cells: readonly Cell[]): boolean =>
    cells.length >= 3 &&
    cells.some((c) => isPrivate(c.text)) &&
    cells.some((c) => parsePortRange(c.text) !== null || endpointOf(c.text) !== null) &&
    !cells.some((c) => MAC.test(c.text));
  for (const grid of gridsOf(text, isData, (t) => parsePortRange(t) !== null)) {
    const roles = rolesOf(grid);
    if (!roles) continue;
    // Words between blanks look like a name beside numbers: only the protocol makes a row of them.
    if (grid.loose && !roles.includes('protocol')) continue;
    return { ...grid, roles };
  }
  return null;
}

/** The rows of a forward table, with their columns as given; a row that cannot be one says why. */
export const forwardRowsOf = (
  grid: Grid,
  roles: readonly ForwardRole[],
): (ForwardFact | { readonly line: Line; readonly why: string })[] =>
  grid.rows.map(({ line, cells }) => {
    const fact = rowFact(line, cells, roles);
    return typeof fact === 'string' ? { line, why: fact } : fact;
  });

function rolesOf({ rows: all, heading, width }: Grid): Role[] | null {
  const rows = all.map((r) => r.cells);
  const column = (i: number): string[] => columnOf(all, i);
  const every = (i: number, test: (t: string) => boolean): boolean =>
    column(i).length > 0 && column(i).every(test);
  const head = (i: number): string => heading?.cells[i]?.text.toLowerCase() ?? '';
  const roles: Role[] = Array.from({ length: width }, () => 'other');
  let inside = -1;
  for (let i = 0; i < width; i++) {
    // What allows and refuses is a rule table: its ports are filtered, not forwarded.
    if (every(i, (t) => ACTION.test(t))) return null;
    if (every(i, (t) => PROTOCOL.test(t))) roles[i] = 'protocol';
    else if (TIME_HEADING.test(head(i)) && !/port/.test(head(i))) roles[i] = 'lifetime';
    else if (inside < 0 && every(i, (t) => isPrivate(t)))
      roles[(inside = i)] = column(i).some((t) => endpointOf(t)) ? 'endpoint' : 'inside-address';
    else if (
      /appl|state|status/.test(head(i)) &&
      every(i, (t) => PENDING.test(t) || /^applied|live|active$/i.test(t))
    )
      roles[i] = 'applied';
    else if (every(i, (t) => PENDING.test(t) || /^applied$/i.test(t))) roles[i] = 'applied';
    else if (/enab|active|^on$|state|status/.test(head(i)) && every(i, (t) => YES.test(t) || NO.test(t)))
      roles[i] = 'enabled';
    else if (every(i, (t) => (YES.test(t) || NO.test(t)) && !/^[01]$/.test(t))) roles[i] = 'enabled';
    else if (
      every(
        i,
        (t) =>
          ANY_SOURCE.test(t) || (t.split(/[\s,]+/).every((p) => parsePrefix(p) !== null) && !isPrivate(t)),
      )
    )
      roles[i] = /wan|interface|line/.test(head(i)) ? 'wan' : 'sources';
    else if (/^(wan|line|interface|uplink)/.test(head(i))) roles[i] = 'wan';
    else if (
      /^(#|no\.?|nr\.?|id|row)$/.test(head(i)) ||
      (i === 0 && heading === null && isCounting(column(i)))
    )
      roles[i] = 'number';
    else if (every(i, (t) => parsePortRange(t) !== null)) roles[i] = 'outside';
    else if (!roles.includes('name') && every(i, (t) => /[a-z]/i.test(t))) roles[i] = 'name';
  }
  if (inside < 0) return null;
  const assigned = assignPorts(roles, inside, (i) => head(i), rows);
  return assigned && endsFit(assigned, rows) ? assigned : null;
}

const isCounting = (cells: readonly string[]): boolean =>
  cells.length > 1 && cells.every((t, i) => Number(t) === Number(cells[0]) + i);

/** The end of a range never lies below its beginning: a column that does so is something else. */
function endsFit(roles: readonly Role[], rows: readonly (readonly Cell[])[]): boolean {
  const [first, last] = [roles.indexOf('outside'), roles.indexOf('outside-end')];
  return last < 0 || rows.every((r) => Number(r[last]?.text || Infinity) >= Number(r[first]?.text || 0));
}

/**
 * Port columns: one is both outside and inside; of two, the heading or the place beside the inside address
 * tells; of three or four, neighbours are the ends of a range where each second is not below the first.
 */
function assignPorts(
  roles: Role[],
  inside: number,
  head: (i: number) => string,
  rows: readonly (readonly Cell[])[],
): Role[] | null {
  const ports = roles.flatMap((role, i) => (role === 'outside' ? [i] : []));
  if (ports.length === 0) return null;
  const isInside = (i: number): boolean =>
    /inside|intern|priv|local|lan|target|dest|to port|server/.test(head(i));
  const isEnd = (i: number): boolean => /\b(end|to|last|until)\b/.test(head(i)) && !/to port/.test(head(i));
  if (ports.length === 1) return roles;
  if (ports.length === 2) {
    const [a, b] = ports as [number, number];
    const range =
      isEnd(b) ||
      (!head(b) &&
        inside > b &&
        rows.every((r) => Number(r[b]?.text) >= Number(r[a]?.text)) &&
        rows.some((r) => r[a]?.text !== r[b]?.text) &&
        a + 1 === b);
    if (range && !isInside(b)) roles[b] = 'outside-end';
    else if (isInside(a) && !isInside(b)) roles[a] = 'inside';
    else roles[b] = 'inside';
    return roles;
  }
  const outside = ports.filter((i) => !isInside(i) && (head(i) !== '' || i < inside));
  const inner = ports.filter((i) => !outside.includes(i));
  if (outside[1] !== undefined) roles[outside[1]] = 'outside-end';
  if (inner[0] !== undefined) roles[inner[0]] = 'inside';
  if (inner[1] !== undefined) roles[inner[1]] = 'inside-end';
  return outside.length === 0 || outside.length > 2 || inner.length > 2 ? null : roles;
}

function rowFact(line: Line, cells: readonly Cell[], roles: readonly Role[]): ForwardFact | string {
  const cell = (role: Role): Cell | undefined => cells.find((c, i) => roles[i] === role && c.text !== '');
  const endpoint = cell('endpoint') ? endpointOf(cell('endpoint')!.text) : null;
  const target = cell('inside-address') ?? cell('endpoint');
  const outside = parsePortRange(cell('outside')?.text ?? '');
  if (!target) return 'no inside address in this row';
  if (!outside) return 'no outside port in this row, or one that is not a port (0 to 65535)';
  const last = Number(cell('outside-end')?.text ?? outside.last);
  const inside = endpoint?.ports ??
    parsePortRange(cell('inside')?.text ?? '') ?? { first: outside.first, last };
  let insideLast;
  if (cell('inside-end')) insideLast = Number(cell('inside-end')!.text);
  else if (inside.first === inside.last) insideLast = inside.first + (last - outside.first);
  else insideLast = inside.last;
  const protocolText = (cell('protocol')?.text ?? 'both').toLowerCase();
  const applied = cell('applied');
  const sources = cell('sources');
  const name = cell('name')?.text;
  const wan = cell('wan')?.text;
  return {
    kind: 'forward',
    at: { line: line.number, column: target.column, endColumn: target.column + target.text.length },
    protocol: protocolText === 'tcp' || protocolText === 'udp' ? protocolText : 'both',
    outsideFirst: outside.first,
    outsideLast: last,
    insideAddress: endpoint?.address ?? target.text,
    insideFirst: inside.first,
    insideLast,
    enabled: !NO.test(cell('enabled')?.text ?? 'yes'),
    applied: applied ? !PENDING.test(applied.text) : null,
    sources: sources && !ANY_SOURCE.test(sources.text) ? sources.text.split(/[\s,]+/) : null,
    ...(name ? { name } : {}),
    ...(wan ? { wan } : {}),
    ...(insideLast - inside.first !== last - outside.first
      ? { doubt: { doubt: 'range-lengths' } as const }
      : {}),
  };
}
