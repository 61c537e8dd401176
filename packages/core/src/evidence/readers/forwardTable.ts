import { parseAddress, parsePortRange, parsePrefix, type Interval } from '../../net/index.ts';
import type { ForwardFact, Problem } from '../facts.ts';
import { linesOf, type Line } from '../text.ts';
import type { Reader } from './reader.ts';

interface Cell {
  readonly text: string;
  readonly column: number;
}

type Role = 'name' | 'protocol' | 'outside' | 'outside-end' | 'inside-address' | 'inside' | 'inside-end' | 'endpoint' | 'sources' | 'enabled' | 'applied' | 'wan' | 'number' | 'other';

/**
 * A forward table copied from a device's page: cells by tab, `|`, `;`, comma or runs of blanks. Which column is which is
 * read off what stands in the cells; a heading only decides between columns that look alike.
 */
export const forwardTable: Reader = {
  format: 'forward-table',
  title: 'a table of port forwards',
  recognise(text) {
    const table = tableOf(text);
    if (!table) return 0;
    return table.roles.includes('protocol') ? 0.8 : 0.65;
  },
  read(text) {
    const table = tableOf(text);
    const facts: ForwardFact[] = [];
    const problems: Problem[] = [];
    if (!table) return { format: 'forward-table', facts, problems: [{ line: 1, text: text.slice(0, 120), why: 'no rows with ports and an inside address' }], covers: [] };
    for (const { line, cells } of table.rows) {
      const fact = rowFact(line, cells, table.roles);
      if (typeof fact === 'string') problems.push({ line: line.number, text: line.text.trim().slice(0, 200), why: fact });
      else facts.push(fact);
    }
    problems.push(...table.rest.filter((l) => l.text.trim() !== '').map((l) => ({ line: l.number, text: l.text.trim().slice(0, 200), why: 'not a row of the forward table' })));
    return { format: 'forward-table', facts, problems, covers: ['forwards'] };
  },
};

interface Table {
  readonly roles: readonly Role[];
  readonly rows: readonly { line: Line; cells: readonly Cell[] }[];
  readonly rest: readonly Line[];
}

const SEPARATORS: readonly RegExp[] = [/\t+/g, /\s*\|\s*/g, /\s*;\s*/g, /\s*,\s*/g, /\s{2,}/g, /\s+/g];

/** Recognising and reading ask for the same table one after the other. */
let last: { readonly text: string; readonly table: Table | null } | null = null;

function tableOf(text: string): Table | null {
  if (last?.text !== text) last = { text, table: findTable(text) };
  return last.table;
}

function findTable(text: string): Table | null {
  const lines = linesOf(text.slice(0, 200_000)).filter((l) => l.text.trim() !== '' && !/^[\s|+:=-]*$/.test(l.text));
  for (const separator of SEPARATORS) {
    const split = lines.map((line) => ({ line, cells: cellsOf(line, separator) }));
    const data = split.filter(({ cells }) => cells.length >= 3 && cells.some((c) => isPrivate(c.text)) && cells.some((c) => parsePortRange(c.text) !== null || endpointOf(c.text)));
    if (data.length === 0) continue;
    const width = Math.max(...data.map((d) => d.cells.length));
    const rows = data.filter((d) => d.cells.length >= width - 2);
    const heading = split.find(({ line, cells }) => line.number < rows[0]!.line.number && cells.length >= 3 && !cells.some((c) => parsePortRange(c.text)));
    const roles = rolesOf(rows.map((r) => r.cells), heading?.cells ?? null, width);
    if (!roles) continue;
    return { roles, rows, rest: lines.filter((l) => l !== heading?.line && !rows.some((r) => r.line === l)) };
  }
  return null;
}

function cellsOf(line: Line, separator: RegExp): Cell[] {
  const out: Cell[] = [];
  const text = line.text.replace(/^\s*\||\|\s*$/g, (m) => ' '.repeat(m.length));
  const lead = text.length - text.trimStart().length;
  let start = lead;
  for (const match of text.trimEnd().matchAll(separator)) {
    if (match.index < lead) continue;
    out.push({ text: text.slice(start, match.index).trim(), column: start });
    start = match.index + match[0].length;
  }
  out.push({ text: text.slice(start).trim(), column: start });
  return out;
}

/** Inside targets are private or unique local; also `ADDR:PORT` in one cell. */
const isPrivate = (text: string): boolean => /^(10\.|192\.168\.|172\.(1[6-9]|2\d|3[01])\.|f[cd][0-9a-f]{2}:)/i.test(text) && (parseAddress(text) !== null || endpointOf(text) !== null);
const endpointOf = (text: string): { address: string; ports: Interval<number> } | null => {
  const match = /^((?:\d{1,3}\.){3}\d{1,3}):(\d{1,5}(?:-\d{1,5})?)$/.exec(text);
  const ports = match ? parsePortRange(match[2]!) : null;
  return match && ports && parseAddress(match[1]!) ? { address: match[1]!, ports } : null;
};
const PROTOCOL = /^(tcp|udp|both|all|any|tcp\s*[/&+]\s*udp|udp\s*[/&+]\s*tcp|tcp and udp)$/i;
const YES = /^(yes|on|enabled?|active|true|1|✓|✔|☑|x|ja|oui|si|sí|sim)$/i;
const NO = /^(no|off|disabled?|inactive|false|0|✗|✘|☐|-|nein|non|não)$/i;
const PENDING = /^(pending|not applied|staged|unsaved|changed|needs (a )?restart)$/i;
const ANY_SOURCE = /^(any|anyone|all|everyone|\*|0\.0\.0\.0\/0|::\/0)$/i;

function rolesOf(rows: readonly (readonly Cell[])[], heading: readonly Cell[] | null, width: number): Role[] | null {
  const column = (i: number): string[] => rows.map((r) => r[i]?.text ?? '').filter((t) => t !== '');
  const every = (i: number, test: (t: string) => boolean): boolean => column(i).length > 0 && column(i).every(test);
  const head = (i: number): string => heading?.[i]?.text.toLowerCase() ?? '';
  const roles: Role[] = Array.from({ length: width }, () => 'other');
  let inside = -1;
  for (let i = 0; i < width; i++) {
    if (every(i, (t) => PROTOCOL.test(t))) roles[i] = 'protocol';
    else if (inside < 0 && every(i, (t) => isPrivate(t))) roles[(inside = i)] = column(i).some((t) => endpointOf(t)) ? 'endpoint' : 'inside-address';
    else if (/appl|state|status/.test(head(i)) && every(i, (t) => PENDING.test(t) || /^applied|live|active$/i.test(t))) roles[i] = 'applied';
    else if (every(i, (t) => PENDING.test(t) || /^applied$/i.test(t))) roles[i] = 'applied';
    else if (/enab|active|^on$|state|status/.test(head(i)) && every(i, (t) => YES.test(t) || NO.test(t))) roles[i] = 'enabled';
    else if (every(i, (t) => (YES.test(t) || NO.test(t)) && !/^[01]$/.test(t))) roles[i] = 'enabled';
    else if (every(i, (t) => ANY_SOURCE.test(t) || (t.split(/\s*,\s*|\s+/).every((p) => parsePrefix(p) !== null) && !isPrivate(t)))) roles[i] = /wan|interface|line/.test(head(i)) ? 'wan' : 'sources';
    else if (/^(wan|line|interface|uplink)/.test(head(i))) roles[i] = 'wan';
    else if (/^(#|no\.?|nr\.?|id|row)$/.test(head(i)) || (i === 0 && heading === null && isCounting(column(i)))) roles[i] = 'number';
    else if (every(i, (t) => parsePortRange(t) !== null)) roles[i] = 'outside';
    else if (!roles.includes('name') && every(i, (t) => /[a-z]/i.test(t))) roles[i] = 'name';
  }
  if (inside < 0) return null;
  return assignPorts(roles, inside, (i) => head(i), rows);
}

const isCounting = (cells: readonly string[]): boolean => cells.length > 1 && cells.every((t, i) => Number(t) === Number(cells[0]) + i);

/**
 * Port columns: one is both outside and inside; of two, the heading or the place beside the inside address tells; of three or
 * four, neighbours are the ends of a range where each second is not below the first.
 */
function assignPorts(roles: Role[], inside: number, head: (i: number) => string, rows: readonly (readonly Cell[])[]): Role[] | null {
  const ports = roles.flatMap((role, i) => (role === 'outside' ? [i] : []));
  if (ports.length === 0) return null;
  const isInside = (i: number): boolean => /inside|intern|priv|local|lan|target|dest|to port|server/.test(head(i));
  const isEnd = (i: number): boolean => /\b(end|to|last|until)\b/.test(head(i)) && !/to port/.test(head(i));
  if (ports.length === 1) return roles;
  if (ports.length === 2) {
    const [a, b] = ports as [number, number];
    const range = isEnd(b) || (!head(b) && inside > b && rows.every((r) => Number(r[b]?.text) >= Number(r[a]?.text)) && rows.some((r) => r[a]?.text !== r[b]?.text) && a + 1 === b);
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
  const inside = endpoint?.ports ?? parsePortRange(cell('inside')?.text ?? '') ?? { first: outside.first, last };
  const insideLast = cell('inside-end') ? Number(cell('inside-end')!.text) : inside.first === inside.last ? inside.first + (last - outside.first) : inside.last;
  const protocolText = (cell('protocol')?.text ?? 'both').toLowerCase();
  const applied = cell('applied');
  const sources = cell('sources');
  const name = cell('name')?.text;
  const wan = cell('wan')?.text;
  return {
    kind: 'forward', at: { line: line.number, column: target.column, endColumn: target.column + target.text.length },
    protocol: protocolText === 'tcp' ? 'tcp' : protocolText === 'udp' ? 'udp' : 'both',
    outsideFirst: outside.first, outsideLast: last, insideAddress: endpoint?.address ?? target.text, insideFirst: inside.first, insideLast,
    enabled: !NO.test(cell('enabled')?.text ?? 'yes'), applied: applied ? !PENDING.test(applied.text) : null,
    sources: sources && !ANY_SOURCE.test(sources.text) ? sources.text.split(/\s*,\s*|\s+/) : null,
    ...(name ? { name } : {}), ...(wan ? { wan } : {}),
    ...(insideLast - inside.first !== last - outside.first ? { unmodelled: 'the inside range is not as long as the outside range' } : {}),
  };
}
