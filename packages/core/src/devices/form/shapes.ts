/** A row of a table as it stands in settings. */
export type Plain = Record<string, unknown>;

/** How the rows of a table stand in the settings of a device. */
export interface TableShape {
  /** `undefined`: nothing is written down. */
  toSettings(rows: readonly Plain[]): unknown;
  toRows(value: unknown): Plain[];
}

function grouped(rows: readonly Plain[], key: string, rest: (row: Plain) => Plain): Record<string, Plain[]> {
  const out: Record<string, Plain[]> = {};
  for (const row of rows) (out[String(row[key] ?? '')] ??= []).push(rest(row));
  return out;
}

/** `{ name: [members] }` */
export const NAMED_MEMBERS: TableShape = {
  toSettings: (rows) =>
    rows.length === 0
      ? undefined
      : Object.fromEntries(rows.map((r) => [String(r['name'] ?? ''), r['members'] ?? []])),
  toRows: (value) => Object.entries(value as Plain).map(([name, members]) => ({ name, members })),
};

/** `{ name: [ { … }, { … } ] }` */
export const NAMED_LISTS: TableShape = {
  toSettings: (rows) =>
    rows.length === 0 ? undefined : grouped(rows, 'name', ({ name: _, ...rest }) => rest),
  toRows: (value) =>
    Object.entries(value as Record<string, Plain[]>).flatMap(([name, list]) =>
      list.map((row) => ({ name, ...row })),
    ),
};

/** `{ name: { … } }` */
export const NAMED_ROWS: TableShape = {
  toSettings: (rows) => Object.fromEntries(rows.map(({ name, ...rest }) => [String(name ?? ''), rest])),
  toRows: (value) =>
    Object.entries(value as Record<string, Plain>).map(([name, rest]) => ({ name, ...rest })),
};

/** `[ { name, rows: [ … ] } ]`: a row without sources lets anybody in. */
export const LISTS_OF_ROWS: TableShape = {
  toSettings: (rows) =>
    Object.entries(
      grouped(
        rows.map((r) => ({ ...r, list: r['list'] ?? 'list' })),
        'list',
        ({ list: _, ...rest }) => ({ sources: ['any'], ...rest }),
      ),
    ).map(([name, own]) => ({ name, rows: own })),
  toRows: (value) =>
    (value as { name: string; rows: Plain[] }[]).flatMap((l) => l.rows.map((r) => ({ list: l.name, ...r }))),
};

/** `{ in: [ … ], out: [ … ] }` */
export const BY_DIRECTION: TableShape = {
  toSettings: (rows) => {
    if (rows.length === 0) return undefined;
    const of = (isOut: boolean): Plain[] =>
      rows.filter((r) => (r['direction'] === 'out') === isOut).map(({ direction: _, ...rest }) => rest);
    return { in: of(false), out: of(true) };
  },
  toRows: (value) =>
    (['in', 'out'] as const).flatMap((direction) =>
      ((value as Record<string, Plain[]>)[direction] ?? []).map((r) => ({ direction, ...r })),
    ),
};
