import type { Role } from '../../site/index.ts';
import type { TableShape } from './shapes.ts';

/** One value of a form. `yes-no` has a third state: not known. Lists are typed with commas. */
export interface FormField {
  readonly key: string;
  readonly label: string;
  readonly type: 'text' | 'number' | 'list' | 'choice' | 'yes-no';
  readonly options?: readonly { readonly value: string; readonly label: string }[];
  readonly hint?: string;
  /** It is there for these values of another column only. */
  readonly only?: { readonly key: string; readonly is: readonly string[] };
  /** What is chosen from, beside free entry. */
  readonly picks?: Picks;
}

/** Values that a case or the other rows of the form know already. */
export type Picks = 'machine' | 'line' | 'zone' | 'profile' | 'name' | 'service' | 'group' | 'outside';

/** A table of a form; each row is one entry. */
export interface FormTable {
  readonly key: string;
  readonly label: string;
  readonly columns: readonly FormField[];
  readonly hint?: string;
  /** How its rows stand in the settings; default: as a list of rows. */
  readonly shape?: TableShape;
  /** The device cannot do without it: it stands in the settings even when it is empty. */
  readonly isNeeded?: true;
  /** That it has no rows can be said, in these words; else an empty table is not known. */
  readonly none?: string;
  /** The order of its rows decides. */
  readonly isOrdered?: true;
}

/** The page on which the settings of one kind of device are filled in. */
export interface FormSpec {
  readonly title: string;
  readonly explains: string;
  readonly roles: readonly Role[];
  readonly tables: readonly FormTable[];
  readonly fields: readonly FormField[];
}

export const choice = (
  key: string,
  label: string,
  options: Readonly<Record<string, string>>,
  hint?: string,
): FormField => ({
  key,
  label,
  type: 'choice',
  options: Object.entries(options).map(([value, text]) => ({ value, label: text })),
  ...(hint ? { hint } : {}),
});
export const text = (key: string, label: string, hint?: string): FormField => ({
  key,
  label,
  type: 'text',
  ...(hint ? { hint } : {}),
});
export const list = (key: string, label: string, hint?: string): FormField => ({
  key,
  label,
  type: 'list',
  ...(hint ? { hint } : {}),
});
export const number = (key: string, label: string): FormField => ({ key, label, type: 'number' });
export const yesNo = (key: string, label: string, hint?: string): FormField => ({
  key,
  label,
  type: 'yes-no',
  ...(hint ? { hint } : {}),
});

/** A field that is there for some kinds of row only. */
export const onlyFor = (key: string, is: readonly string[], ...fields: readonly FormField[]): FormField[] =>
  fields.map((f) => ({ ...f, only: { key, is } }));
/** A field whose values are chosen from what is known. */
export const picked = (field: FormField, picks: Picks): FormField => ({ ...field, picks });

export const TWO = { tcp: 'TCP', udp: 'UDP' };
export const THREE = { tcp: 'TCP', udp: 'UDP', both: 'TCP and UDP' };
export const FOUR = { ...THREE, any: 'any' };
export const lines = (zones: boolean): FormTable => ({
  key: 'interfaces',
  label: 'Lines and interfaces',
  hint: zones ? undefined : 'May stay empty where the status page tells the addresses.',
  columns: [
    text('name', 'name'),
    choice('side', 'side', { outside: 'outside', inside: 'inside' }),
    ...(zones ? [picked(text('zone', 'zone'), 'zone')] : []),
    list('addresses', 'addresses', '203.0.113.50/29'),
    text('gateway', 'next router'),
    yesNo('up', 'up'),
    ...(zones ? [] : [yesNo('filtersSources', 'carrier filters senders')]),
  ],
});
export const ownPorts: FormTable = {
  key: 'ownPorts',
  label: 'Ports that it answers on itself',
  none: 'It answers on nothing itself',
  columns: [choice('protocol', 'protocol', TWO), text('ports', 'ports')],
};
export const forwardColumns: readonly FormField[] = [
  text('name', 'name'),
  choice('protocol', 'protocol', THREE),
  text('ports', 'outside ports', '28410 or 28410-28415'),
  picked(text('to', 'inside address'), 'machine'),
  number('toPort', 'first inside port'),
  list('sources', 'allowed from', 'empty: anyone'),
  picked(text('line', 'line', 'empty: any'), 'line'),
  yesNo('enabled', 'on'),
  choice('state', 'state', { applied: 'applied', staged: 'not applied', 'needs-restart': 'needs a restart' }),
];
