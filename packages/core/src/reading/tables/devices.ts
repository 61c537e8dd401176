import { parseAddress } from '../../net/index.ts';
import type { DeviceRole, LeaseFact, ProblemReason } from '../../facts/index.ts';
import type { Line } from '../text.ts';
import { columnOf, gridsOf, type Cell, type Grid } from './cells.ts';
import { MAC, macOf, TIME_HEADING } from './values.ts';

export interface DeviceGrid extends Grid {
  readonly roles: readonly DeviceRole[];
}

const isAddress = (text: string): boolean => parseAddress(text) !== null;

/**
 * A list of devices or leases copied from a page: addresses with their link addresses. Null where there is
 * none.
 */
export function deviceGrid(text: string): DeviceGrid | null {
  const isData = (cells: readonly Cell[]): boolean =>
    cells.length >= 2 && cells.some((c) => MAC.test(c.text)) && cells.some((c) => isAddress(c.text));
  for (const grid of gridsOf(text, isData, (t) => MAC.test(t) || isAddress(t))) {
    const roles = rolesOf(grid);
    if (roles) return { ...grid, roles };
  }
  return null;
}

function rolesOf(grid: Grid): DeviceRole[] | null {
  const roles: DeviceRole[] = Array.from({ length: grid.width }, () => 'other');
  const head = (i: number): string => grid.heading?.cells[i]?.text ?? '';
  const every = (i: number, test: (t: string) => boolean): boolean =>
    columnOf(grid.rows, i).length > 0 && columnOf(grid.rows, i).every(test);
  for (let i = 0; i < grid.width; i++) {
    if (!roles.includes('mac') && every(i, (t) => MAC.test(t))) roles[i] = 'mac';
    else if (!roles.includes('inside-address') && every(i, isAddress)) roles[i] = 'inside-address';
    else if (TIME_HEADING.test(head(i))) roles[i] = 'lifetime';
  }
  if (!roles.includes('mac') || !roles.includes('inside-address')) return null;
  const words = roles.flatMap((role, i) =>
    role === 'other' && every(i, (t) => /\p{L}/u.test(t)) ? [i] : [],
  );
  const name =
    words.find((i) => /name|host|device|client|ger[äa]t|nom|nome|nombre|equipo|appareil/i.test(head(i))) ??
    (grid.heading ? undefined : words[0]) ??
    words.find((i) => i === 0);
  if (name !== undefined) roles[name] = 'name';
  return roles;
}

/** The rows of a list of devices, with their columns as given. */
export const deviceRowsOf = (
  grid: Grid,
  roles: readonly DeviceRole[],
): (LeaseFact | { readonly line: Line; readonly why: ProblemReason })[] =>
  grid.rows.map(({ line, cells }) => {
    const cell = (role: DeviceRole): Cell | undefined =>
      cells.find((c, i) => roles[i] === role && c.text !== '');
    const address = cell('inside-address');
    const mac = cell('mac');
    if (!address || !isAddress(address.text)) return { line, why: 'no-address-in-row' };
    if (mac && !MAC.test(mac.text)) return { line, why: 'no-link-address' };
    // 0: the page does not say when it ends, in numbers that could be compared.
    return {
      kind: 'lease',
      at: { line: line.number, column: address.column, endColumn: address.column + address.text.length },
      address: address.text,
      mac: mac ? macOf(mac.text) : null,
      name: cell('name')?.text ?? null,
      expires: 0,
    };
  });
