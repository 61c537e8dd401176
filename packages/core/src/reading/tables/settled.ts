import type { Block } from './blocks.ts';
import type { ForwardRole } from '../../facts/index.ts';
import { isPorts, portCell } from './portCells.ts';
import { nth } from '../../place/index.ts';
import { ANY_SOURCE } from './values.ts';
import type { Heading } from './headings.ts';

export const rises = (first: Column, last: Column): boolean =>
  first.cells.length === last.cells.length && first.cells.every((t, i) => Number(t) <= Number(last.cells[i]));

export const isCounting = (cells: readonly string[]): boolean =>
  cells.every((t, i) => Number(t) === Number(cells[0]) + i) && /^[01]$/.test(cells[0] ?? '');

/** A table of forwards has ports; without a heading the protocol has to prove that it is one. */
export function isWhole({ heading, rows }: Block, roles: (ForwardRole | null)[]): roles is ForwardRole[] {
  const ports = roles.flatMap((r, i) =>
    r === 'outside' || r === 'inside' || r === 'some-port' || r === 'endpoint' ? [i] : [],
  );
  if (ports.length === 0) return false;
  if (heading) return true;
  const isTold = rows.some((r) => ports.some((i) => portCell(r.cells[i]?.text ?? '')?.protocol));
  return roles.includes('protocol') || isTold;
}

/** Two columns of one side whose headings, or whose order in every row, make them the ends of a range. */
export function rangeEnds(
  columns: readonly Column[],
  roles: (ForwardRole | null)[],
  role: 'outside' | 'inside' | 'some-port',
  end: 'outside-end' | 'inside-end' | null,
): void {
  const [a, b, more] = roles.flatMap((r, i) => (r === role ? [i] : []));
  if (a === undefined || b === undefined || more !== undefined) return;
  const [first, last] = [nth(columns, a), nth(columns, b)];
  const isNamed = first.heading.end === 'first' && last.heading.end === 'last';
  if (end === null) {
    if (!isNamed) return;
    roles[a] = 'outside';
    roles[b] = 'outside-end';
  } else if (isNamed || (last.heading.end === 'last' && first.heading.end === null) || rises(first, last))
    roles[b] = end;
  else {
    roles[a] = 'some-port';
    roles[b] = 'some-port';
  }
}

/** Numbers under headings that nobody knows are the ports, where nothing else is. */
export function settlePorts(columns: readonly Column[], roles: (ForwardRole | null)[]): void {
  if (roles.some((r) => r === 'outside' || r === 'some-port' || r === 'inside' || r === 'endpoint')) return;
  for (const [i, role] of roles.entries())
    if (role === 'unknown' && all(nth(columns, i).cells, isPorts)) roles[i] = 'some-port';
}

/** `On | State`: one says whether it is switched on, the other whether that is in force. */
export function settleStates(roles: (ForwardRole | null)[]): void {
  const first = roles.indexOf('enabled');
  for (const [i, role] of roles.entries())
    if (role === 'enabled' && i !== first) roles[i] = roles.includes('applied') ? 'unknown' : 'applied';
}

/** Of several columns that name the machine the one with addresses counts; the others only say it again. */
export function settleTargets(columns: readonly Column[], roles: (ForwardRole | null)[]): void {
  const addresses = roles.flatMap((r, i) => (r === 'inside-address' ? [i] : []));
  const inner = addresses.find((i) => nth(columns, i).heading.side === 'in') ?? addresses[0];
  for (const [i, role] of roles.entries()) {
    if (role === 'inside-address' && i !== inner)
      roles[i] = nth(columns, i).heading.filter === 'destination' ? 'outside-address' : 'unknown';
    if (role === 'device' && (inner !== undefined || roles.includes('endpoint'))) roles[i] = 'number';
  }
  const destination = columns.findIndex(
    (c, i) => c.heading.filter === 'destination' && c.heading.kind === 'address' && roles[i] === 'device',
  );
  if (
    destination >= 0 &&
    roles.some((r, i) => i !== destination && (r === 'inside-address' || r === 'device'))
  )
    roles[destination] = 'outside-address';
}

/** Which port column is which, by their headings. */
export function headedPorts(columns: readonly Column[], roles: (ForwardRole | null)[], target: number): void {
  const ports = (role: ForwardRole): number[] => roles.flatMap((r, i) => (r === role ? [i] : []));
  const isNat = columns.some((c) => /\bnat\b|redirect|translat/i.test(c.heading.text));
  for (const i of ports('inside'))
    if (
      nth(columns, i).heading.filter === 'destination' &&
      (isNat || (roles.includes('source-port') && ports('inside').length > 1))
    )
      roles[i] = 'outside';
  settleSourcePort(columns, roles);
  rangeEnds(columns, roles, 'outside', 'outside-end');
  rangeEnds(columns, roles, 'inside', 'inside-end');
  rangeEnds(columns, roles, 'some-port', null);
  halfRanges(columns, roles);
  const open = ports('some-port');
  const [outside, inside] = [ports('outside').length > 0, ports('inside').length > 0];
  const isHalf = open.some((i) => nth(columns, i).heading.end !== null);
  if (open.length === 1 && open[0] !== undefined && !isHalf)
    roles[open[0]] = outside && !inside ? 'inside' : 'outside';
  const [first, second] = open;
  const leads = /forward|redirect|send|\bto\b/i.test(nth(columns, target).heading.text);
  if (
    open.length === 2 &&
    first !== undefined &&
    second !== undefined &&
    first < target &&
    target < second &&
    leads
  ) {
    roles[first] = 'outside';
    roles[second] = 'inside';
  }
}

/** One end of a range alone: the other one is not shown. */

export function halfRanges(columns: readonly Column[], roles: (ForwardRole | null)[]): void {
  for (const [role, end] of [
    ['outside', 'outside-end'],
    ['inside', 'inside-end'],
  ] as const) {
    const own = roles.flatMap((r, i) => (r === role ? [i] : []));
    const [only] = own;
    if (
      only !== undefined &&
      own.length === 1 &&
      nth(columns, only).heading.end !== null &&
      !roles.includes(end)
    )
      roles[only] = 'some-port';
  }
}

/** A source port is the sender's; in a table with no other outside port it may as well be the outside one. */

export function settleSourcePort(columns: readonly Column[], roles: (ForwardRole | null)[]): void {
  if (roles.includes('outside') || roles.includes('some-port')) return;
  const source = roles.indexOf('source-port');
  const inside = roles.indexOf('inside');
  if (source < 0 || inside < 0) return;
  const isWide = all(
    nth(columns, source).cells,
    (t) => ANY_SOURCE.test(t) || /^(0|\d+\s*-\s*65535)$/.test(t),
  );
  if (isWide || nth(columns, source).cells.length === 0) {
    roles[inside] = 'outside';
    return;
  }
  roles[source] = 'some-port';
  roles[inside] = 'some-port';
}

/** A column with what its heading says and what stands in it. */

export interface Column {
  readonly heading: Heading;
  /** Without empty cells. */
  readonly cells: readonly string[];
}

export const all = (cells: readonly string[], test: (text: string) => boolean): boolean =>
  cells.length > 0 && cells.every(test);
