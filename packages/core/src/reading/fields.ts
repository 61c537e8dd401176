import type { Line } from './text.ts';

/** One field of a record: what it is called, what it holds, and where that stands. */
export interface Field {
  readonly key: string;
  readonly value: string;
  readonly line: Line;
  /** Where the value begins in its line. */
  readonly column: number;
}

/** Names of fields as programs write them: `externalPort`, `ext_port`. */
export const spaced = (key: string): string =>
  key
    .replace(/([\p{Ll}\d])(\p{Lu})/gu, '$1 $2')
    .replace(/[_.-]+/g, ' ')
    .trim();

/** The fields of a JSON object (RFC 8259), those of objects inside it under both names. */
export function fieldsOf(value: object, within: string): [string, string][] {
  return Object.entries(value).flatMap(([key, held]: [string, unknown]): [string, string][] => {
    const name = `${within} ${spaced(key)}`.trim();
    if (held === null) return [[name, '']];
    if (Array.isArray(held)) return [[name, held.map(plain).join(', ')]];
    return typeof held === 'object' ? fieldsOf(held, name) : [[name, plain(held)]];
  });
}

const plain = (held: unknown): string => (typeof held === 'string' ? held : JSON.stringify(held));

/** Where each value stands: behind the one before it, as objects are written. */
export function placed(
  fields: readonly (readonly [string, string])[],
  lines: readonly Line[],
  from: number,
  column: number,
): Field[] {
  let [number, after] = [from, column];
  return fields.map(([key, value]): Field => {
    const written = value === '' ? '""' : value;
    for (let n = number; n <= lines.length && n < number + 3; n++) {
      const line = lines[n - 1] as Line;
      const at = line.text.indexOf(written, n === number ? after : 0);
      if (at < 0) continue;
      [number, after] = [n, at + written.length];
      return { key, value, line, column: at };
    }
    return { key, value, line: lines[number - 1] ?? { number, text: '' }, column: after };
  });
}
