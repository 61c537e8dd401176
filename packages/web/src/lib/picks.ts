import { isThere, type FormField, type FormTable, type Picks } from '@bright-ferry/core/devices';
import type { StopDetail } from '@bright-ferry/core/views';
import type { Choice } from '../components/ChoiceField.vue';

/** A form as it is edited: texts only, empty where nothing is known. */
export interface Editable {
  fields: Record<string, string>;
  tables: Record<string, Record<string, string>[]>;
}

export type FormRow = Record<string, string>;

/** The fields of a row of this kind; the rest does not exist. */
export const fieldsOf = (table: FormTable, row: FormRow): readonly FormField[] =>
  table.columns.filter((c) => isThere(c, row));

const YES_NO: readonly Choice[] = [
  { value: 'yes', label: 'yes' },
  { value: 'no', label: 'no' },
];

/** One of a few given values. */
export const givenChoices = (f: FormField): readonly Choice[] | null =>
  f.type === 'yes-no' ? YES_NO : (f.options ?? null);

/** What a field can be chosen from: what the case and the rest of the form know. */
export function knownChoices(picks: Picks, form: Editable, stop: StopDetail): readonly Choice[] {
  const column = (table: string, key: string): Choice[] =>
    (form.tables[table] ?? []).flatMap((r) => (r[key] ? [{ value: r[key], label: r[key] }] : []));
  const lines = (form.tables['interfaces'] ?? []).filter((r) => r['side'] === 'outside');
  switch (picks) {
    case 'machine':
      return stop.addresses.map((a) => ({ value: a.address, label: a.address, note: a.who }));
    case 'line':
      return unique(lines.flatMap((r) => (r['name'] ? [{ value: r['name'], label: r['name'] }] : [])));
    case 'zone':
      return unique([
        ...column('interfaces', 'zone'),
        ...column('rules', 'fromZone'),
        ...column('rules', 'toZone'),
      ]);
    case 'profile':
      return unique(column('profiles', 'name'));
    case 'name':
      return unique([
        ...column('names', 'name'),
        ...stop.addresses.map((a) => ({ value: a.address, label: a.address, note: a.who })),
      ]);
    case 'service':
      return unique([
        ...column('services', 'name'),
        ...(stop.starting['zone-firewall']?.['rules'] ?? []).map((r) => ({
          value: r['services'] ?? '',
          label: r['services'] ?? '',
          note: 'of this case',
        })),
      ]);
    case 'group':
      return unique([
        { value: 'any', label: 'any' },
        ...column('groups', 'name').map(({ value }) => ({
          value: `group:${value}`,
          label: `group:${value}`,
        })),
      ]);
    case 'outside':
      return unique([
        ...lines.flatMap((r) =>
          [r['name'] ?? '', ...(r['addresses'] ?? '').split(/[,\s]+/).map((a) => a.replace(/\/\d+$/, ''))]
            .filter(Boolean)
            .map((v) => ({ value: v, label: v })),
        ),
        ...(stop.starting['zone-firewall']?.['translations'] ?? [])
          .filter((r) => r['outside'])
          .map((r) => ({ value: r['outside']!, label: r['outside']!, note: 'dialled' })),
      ]);
  }
}

const unique = (choices: readonly Choice[]): Choice[] =>
  choices.filter((c, i) => choices.findIndex((o) => o.value === c.value) === i);
