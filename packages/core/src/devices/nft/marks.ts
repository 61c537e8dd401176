import type { MarkName } from '../../rules/index.ts';
import { isObject, type Json } from './objects.ts';
import { Unmodelled } from './values.ts';
import { type TableContext } from './context.ts';

export function markName(key: Json): MarkName | null {
  if (isObject(key) && isObject(key['meta']) && key['meta']['key'] === 'mark') return 'mark';
  if (isObject(key) && isObject(key['ct']) && key['ct']['key'] === 'mark') return 'ct-mark';
  return null;
}

interface MarkExpression {
  readonly from: MarkName;
  readonly keep: number;
  readonly flip: number;
}

/** Any chain of and, or, xor with constants over one mark is `(mark & keep) ^ flip`. */
export function markExpression(value: Json, on: MarkName, context: TableContext): MarkExpression {
  if (typeof value === 'number') return { from: on, keep: 0, flip: value };
  const name = markName(value);
  if (name) return { from: name, keep: 0xffff_ffff, flip: 0 };
  if (isObject(value)) {
    const [op] = Object.keys(value);
    const parts = value[op!];
    if (Array.isArray(parts) && parts.length === 2) {
      const [left, right] = (typeof parts[0] === 'number' ? [parts[1], parts[0]] : parts) as [Json, Json];
      const e = markExpression(left, on, context);
      const c = typeof right === 'number' ? right : null;
      if (c !== null && op === '&')
        return { from: e.from, keep: (e.keep & c) >>> 0, flip: (e.flip & c) >>> 0 };
      if (c !== null && op === '^') return { from: e.from, keep: e.keep, flip: (e.flip ^ c) >>> 0 };
      if (c !== null && op === '|')
        return { from: e.from, keep: (e.keep & ~c) >>> 0, flip: ((e.flip & ~c) | c) >>> 0 };
    }
  }
  throw new Unmodelled('the value of a mark');
}
