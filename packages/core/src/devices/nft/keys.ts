import { nth } from '../../place/index.ts';
import type { Field, Lookup, MapRow, ValueSet } from '../../rules/index.ts';
import { fieldsOf } from './fields.ts';
import { isObject, type Json, type JsonObject } from './objects.ts';
import { Unmodelled, valuesFor } from './values.ts';
import { type TableContext } from './context.ts';

export const setName = (value: Json): string | null =>
  typeof value === 'string' && value.startsWith('@') ? value.slice(1) : null;

export function elementsOf(right: Json, context: TableContext): readonly Json[] {
  const name = setName(right);
  if (name !== null) {
    const elements = context.set(name);
    if (!elements) throw new Unmodelled(`the set @${name}, which the listing does not hold,`);
    return elements;
  }
  if (isObject(right) && Array.isArray(right['set'])) return right['set'] as Json[];
  return [right];
}

/** Single fields share one merged set; concatenations keep a row an element. */
export function rowsOf(fields: readonly Field[], elements: readonly Json[]): ValueSet[][] {
  if (fields.length === 1) return elements.length === 0 ? [] : [[valuesFor(nth(fields, 0), elements)]];
  return elements.map((element) => keyOf(fields, element));
}

function keyOf(fields: readonly Field[], key: Json): ValueSet[] {
  if (isObject(key) && 'elem' in key && isObject(key['elem']))
    return keyOf(fields, key['elem']['val'] as Json);
  if (fields.length === 1) return [valuesFor(nth(fields, 0), key)];
  const parts = isObject(key) && Array.isArray(key['concat']) ? (key['concat'] as Json[]) : null;
  if (!parts || parts.length !== fields.length)
    throw new Unmodelled(`the set element ${JSON.stringify(key)}`);
  return fields.map((field, i) => valuesFor(field, nth(parts, i)));
}

export function lookupOf<T>(body: JsonObject, context: TableContext, value: (json: Json) => T): Lookup<T> {
  const fields = fieldsOf(body['key'] as Json, context.family);
  const rows = elementsOf(body['data'] as Json, context).map((row): MapRow<T> => {
    if (!Array.isArray(row) || row.length !== 2)
      throw new Unmodelled(`the map element ${JSON.stringify(row)}`);
    return { key: keyOf(fields, row[0] as Json), value: value(row[1] as Json) };
  });
  // A catch-all element (`*`) answers only for what no other row holds.
  const isCatchAll = (row: MapRow<T>): boolean =>
    row.key.every(
      (set) =>
        set.type === 'numbers' &&
        set.set.length === 1 &&
        nth(set.set, 0).first === 0 &&
        nth(set.set, 0).last === 0xffff_ffff,
    );
  return { fields, rows: [...rows.filter((row) => !isCatchAll(row)), ...rows.filter(isCatchAll)] };
}
