import type { Block } from '../blocks.ts';
import { forwardColumns } from '../columns.ts';
import { headingOf } from '../headings.ts';
export { arrowForwards } from './arrows.ts';
import { cardsIn } from './cards.ts';
import { jsonTables, xmlTables } from './exports.ts';
import type { RecordTable } from './record.ts';

/** Exports of devices: JSON or XML. Empty where the text is none, or tells of no forwards. */
export function exportedForwards(text: string): RecordTable[] {
  const [first] = text.trimStart();
  const isJson = first === '{' || first === '[';
  if (isJson) return jsonTables(text).flatMap(asForwards).map(parsed);
  const [, root] = /<([\w:.-]+)/.exec(text.slice(0, 2_000)) ?? [];
  const isXml = first === '<' && root !== undefined && text.trimEnd().endsWith(`</${root}>`);
  return isXml ? xmlTables(text).flatMap(asForwards).map(parsed) : [];
}

const parsed = (table: RecordTable): RecordTable => ({ ...table, isParsed: true });

/** Rows of a page for small screens, a field a line. */
export function cardForwards(text: string): RecordTable[] {
  const cards = cardsIn(text);
  return cards ? asForwards(cards) : [];
}

/**
 * Only what names both sides is a row of forwards: a port outside, a machine inside, and for what it is or
 * where it comes in. Pages of settings hold a port and an address as well.
 */
function asForwards(block: Block): RecordTable[] {
  const roles = forwardColumns(block);
  if (!roles) return [];
  const headings = (block.heading?.cells ?? []).map((c) => headingOf(c.text));
  const isOutside = headings.some((h, i) => h.side === 'out' && roles[i] === 'outside');
  const hasTarget = roles.some((r) => r === 'inside-address' || r === 'endpoint' || r === 'device');
  const isTold = roles.some((r) => r === 'protocol' || r === 'inside' || r === 'endpoint');
  return isOutside && hasTarget && isTold ? [{ ...block, roles }] : [];
}
