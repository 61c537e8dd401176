import type { NftObject } from '../../../devices/index.ts';
import { elements, NotUnderstood } from './expressions.ts';
import type { Cursor } from './tokens.ts';

export type ChainBase = Extract<NftObject, { is: 'chain' }>['base'];

/** Named priorities of the families ip, ip6 and inet (nft(8), "Standard priority names"). */
const PRIORITY: Readonly<Record<string, number>> = {
  raw: -300,
  mangle: -150,
  dstnat: -100,
  filter: 0,
  security: 50,
  srcnat: 100,
};

/**
 * `type filter hook input priority filter + 10; policy drop;`. A priority's name that is not known is told to
 * `unknown`, and counts as 0.
 */
export function baseOf(c: Cursor, before: ChainBase, unknown: (word: string) => void): ChainBase {
  c.at++;
  const type = c.next().text;
  c.at++;
  const hook = c.value()?.text ?? '';
  let device: string | null = null;
  if (c.take('device')) device = c.value()?.text ?? null;
  if (c.take('devices')) device = devicesOf(c);
  let priority = 0;
  if (c.take('priority')) {
    const word = c.value()?.text ?? '0';
    const isNumber = /^-?\d+$/.test(word);
    priority = isNumber ? Number(word) : (PRIORITY[word] ?? 0);
    if (!isNumber && PRIORITY[word] === undefined) unknown(word);
    if (c.take('+')) priority += Number(c.value()?.text ?? 0);
    else if (c.take('-')) priority -= Number(c.value()?.text ?? 0);
  }
  return { type, hook, priority, policy: before?.policy ?? 'accept', device };
}

export function withPolicy(c: Cursor, base: ChainBase): ChainBase {
  c.at++;
  const policy = c.value()?.text === 'drop' ? 'drop' : 'accept';
  return base ? { ...base, policy } : base;
}

/** The one device of a list; null for several. */
function devicesOf(c: Cursor): string | null {
  c.take('=');
  try {
    const list = elements(c);
    return list.length === 1 ? String(list[0]) : null;
  } catch (error) {
    if (!(error instanceof NotUnderstood)) throw error;
    return null;
  }
}
