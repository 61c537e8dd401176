import type { DeviceRole, ForwardRole, Reading } from '../../facts/index.ts';
import type { Reader } from '../reader.ts';
import { columnOf, signatureOf, type Grid } from './cells.ts';
import { deviceGrid, deviceRowsOf } from './devices.ts';
import { forwardTables } from './forwards.ts';
import { devicesRead, forwardsRead, nothing, reading } from './readings.ts';
import { ruleGrid, ruleRowsOf } from './rules.ts';
import { ACTION, kindOfCell } from './values.ts';

/** What the columns of a copied table are, as guessed or as a technician has put it right. */
export type TableColumns =
  | { readonly table: 'forwards'; readonly roles: readonly ForwardRole[] }
  | { readonly table: 'devices'; readonly roles: readonly DeviceRole[] };

/** A copied table as a person can look it over. */
export interface TableShape {
  readonly columns: TableColumns;
  /** Of each column: its heading, and what stands in its first rows. */
  readonly heading: readonly string[];
  readonly samples: readonly (readonly string[])[];
  /** The same for every table of this shape. */
  readonly signature: string;
}

const SAMPLES = 3;

/** The table in a text with the guess at its columns; null where there is none. */
export function tableShape(text: string): TableShape | null {
  const found = tableIn(text);
  if (!found) return null;
  const { grid, columns } = found;
  return {
    columns,
    heading: Array.from({ length: grid.width }, (_, i) => grid.heading?.cells[i]?.text ?? ''),
    samples: Array.from({ length: grid.width }, (_, i) => columnOf(grid.rows, i).slice(0, SAMPLES)),
    signature: signatureOf(grid, kindOfCell),
  };
}

type Columned = Pick<Grid, 'heading' | 'rows' | 'width'>;

function tableIn(text: string): { grid: Columned; columns: TableColumns } | null {
  const devices = deviceGrid(text);
  if (devices) return { grid: devices, columns: { table: 'devices', roles: devices.roles } };
  const [table] = forwardTables(text)?.tables ?? [];
  return table ? { grid: table, columns: { table: 'forwards', roles: table.roles } } : null;
}

/**
 * Reads the table in a text with the columns that a person gave. @returns null where the text holds no table
 */
export function readTable(text: string, columns: TableColumns): Reading | null {
  if (columns.table === 'devices') {
    const grid = deviceGrid(text);
    return grid ? devicesRead(deviceRowsOf(grid, columns.roles), grid) : null;
  }
  const found = forwardTables(text);
  const [first, ...more] = found?.tables ?? [];
  return first
    ? forwardsRead(text, [{ ...first, roles: columns.roles }, ...more], found?.others ?? [])
    : null;
}

/** Recognising and reading ask for the same table one after the other. */
function remembered<T>(find: (text: string) => T): (text: string) => T {
  let last: { readonly text: string; readonly found: T } | null = null;
  return (text) => {
    if (last?.text !== text) last = { text, found: find(text) };
    return last.found;
  };
}

/** Recognising looks at the beginning: the rest of a table looks like it. */
const SAMPLE = 8_000;

/** What a program exported is whole or nothing. */
const EXPORTED = /^\s*[[{<]/;

const beginning = (text: string): string =>
  text.length <= SAMPLE || EXPORTED.test(text) ? text : text.slice(0, text.lastIndexOf('\n', SAMPLE));

const forwardsIn = remembered(forwardTables);

const devicesIn = remembered(deviceGrid);

const rulesIn = remembered(ruleGrid);

const LINK_ADDRESS = /(?:[0-9a-f]{2}[:-]){5}[0-9a-f]{2}/i;

const ACTION_WORD = new RegExp(ACTION.source.replaceAll(/[\^$]/g, '\\b'), 'i');

/** Fields with their names on both sides of a router are no list of anything else. */
const RECORDS = 0.9;

export const forwardTable: Reader = {
  format: 'forward-table',
  title: 'a table of port forwards',
  recognise(text) {
    const found = forwardsIn(beginning(text));
    if (found === null) return 0;
    if (found.tables.every((t) => t.rows.some((r) => r.end !== undefined))) return RECORDS;
    return found.tables.some((t) => t.roles.includes('protocol')) ? 0.8 : 0.65;
  },
  read(text) {
    const found = forwardsIn(text);
    return found
      ? forwardsRead(text, found.tables, found.others)
      : nothing('forward-table', text, 'no-forward-rows');
  },
};

export const deviceTable: Reader = {
  format: 'device-table',
  title: 'a list of devices or leases',
  recognise(text) {
    const table = LINK_ADDRESS.test(text.slice(0, SAMPLE)) ? devicesIn(beginning(text)) : null;
    if (table === null) return 0;
    return table.rest.length > table.rows.length ? 0.5 : 0.8;
  },
  read(text) {
    const table = devicesIn(text);
    return table
      ? devicesRead(deviceRowsOf(table, table.roles), table)
      : nothing('device-table', text, 'no-device-rows');
  },
};

export const ruleTable: Reader = {
  format: 'rule-table',
  title: 'a table of filter rules',
  recognise: (text) => (ACTION_WORD.test(text.slice(0, SAMPLE)) && rulesIn(beginning(text)) ? 0.82 : 0),
  read(text) {
    const table = rulesIn(text);
    return table
      ? reading('rule-table', ruleRowsOf(table), table, [], 'no-rule-row')
      : nothing('rule-table', text, 'no-rule-rows');
  },
};
