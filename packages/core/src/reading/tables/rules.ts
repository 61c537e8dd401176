import { parsePortRange, parsePrefix } from '../../net/index.ts';
import { told } from '../noted.ts';
import type { ToldFact } from '../../facts/index.ts';
import { columnOf, gridsOf, type Cell, type Grid } from './cells.ts';
import { ACTION, ANY_SOURCE, PROTOCOL } from './values.ts';

const isWhere = (text: string): boolean =>
  parsePrefix(text) !== null || ANY_SOURCE.test(text) || parsePortRange(text) !== null;

/**
 * A table of rules that allow and refuse, copied from a page: a column of such words, and addresses, ports or
 * protocols beside it.
 */
export function ruleGrid(text: string): (Grid & { readonly action: number }) | null {
  const isData = (cells: readonly Cell[]): boolean =>
    cells.length >= 3 &&
    cells.some((c) => ACTION.test(c.text)) &&
    cells.some((c) => isWhere(c.text) || PROTOCOL.test(c.text));
  for (const grid of gridsOf(text, isData, isWhere)) {
    const action = Array.from({ length: grid.width }, (_, i) => i).find(
      (i) => columnOf(grid.rows, i).length > 0 && columnOf(grid.rows, i).every((t) => ACTION.test(t)),
    );
    if (action !== undefined && !grid.loose) return { ...grid, action };
    if (
      action !== undefined &&
      grid.loose &&
      grid.rows.length > 1 &&
      grid.rows.every((r) => r.cells.length === grid.width && r.cells.length >= 4)
    )
      return { ...grid, action };
  }
  return null;
}

/** The rows, as they stand: what a device does with their order and sides differs from device to device. */
export const ruleRowsOf = (grid: Grid & { readonly action: number }): ToldFact[] =>
  grid.rows.map(({ line, cells }) => {
    const value = Object.fromEntries(
      cells.map((c, i) => [
        i === grid.action ? 'action' : (grid.heading?.cells[i]?.text ?? `column ${i + 1}`),
        c.text,
      ]),
    );
    return told(
      'filter-row',
      { line: line.number },
      value,
      cells
        .map((c) => c.text)
        .filter((t) => t !== '')
        .join(' · '),
    );
  });
