import { decodeText, type EvidenceEntry } from '../../case/index.ts';
import { assignStop, readBytes, type Assignment, type CaseFacts } from '../../ledger/index.ts';
import {
  cleanText,
  corrected,
  linesOf,
  lookAlikes,
  readCapture,
  readText,
  tableShape,
  type LookAlike,
} from '../../reading/index.ts';
import { formatTitle } from '../bench/formats.ts';
import { isTable } from './table.ts';

/** What a piece of evidence turned out to be. */
export type Recognised =
  | {
      readonly is: 'text';
      /** null: not understood */
      readonly format: string | null;
      readonly title: string;
      readonly facts: number;
      readonly problems: number;
      readonly assignment: Assignment;
      readonly lines: number;
      readonly lookAlikes: readonly LookAlike[];
      readonly columns: EvidenceEntry['columns'] | null;
    }
  | { readonly is: 'not-text'; readonly what: string }
  | { readonly is: 'empty' };

/** What a person has put right in a piece of evidence. */
export type Adjustments = Pick<EvidenceEntry, 'part' | 'corrections' | 'columns'>;

/** Columns of tables that were put right before, by the shape of the table. */
export type Shapes = Readonly<Record<string, NonNullable<EvidenceEntry['columns']>>>;

/** Reads a piece that was just pasted, dropped or typed, and says where it belongs. */
export function recognised(
  facts: CaseFacts,
  bytes: Uint8Array,
  adjust: Adjustments,
  shapes: Shapes,
): Recognised {
  const capture = readCapture(bytes);
  if (capture)
    return {
      is: 'text',
      format: capture.format,
      title: formatTitle(capture.format),
      facts: capture.facts.length,
      problems: capture.problems.length,
      assignment: assignStop(capture, facts),
      lines: 0,
      lookAlikes: [],
      columns: null,
    };
  const decoded = decodeText(bytes);
  if ('notText' in decoded) return { is: 'not-text', what: decoded.notText };
  const text = corrected(cleanText(decoded.text), adjust.corrections ?? []);
  if (text.trim() === '') return { is: 'empty' };
  const plain = readText(text);
  const shape = plain && isTable(plain.format) ? tableShape(text) : null;
  const columns = adjust.columns ?? (shape ? shapes[shape.signature] : undefined) ?? null;
  const reading = columns ? readBytes(bytes, { ...adjust, columns }) : plain;
  const assignment = assignStop(reading ?? { format: '', facts: [], problems: [], covers: [] }, facts);
  return {
    is: 'text',
    format: reading?.format ?? null,
    title: formatTitle(reading?.format ?? null),
    facts: reading?.facts.length ?? 0,
    problems: reading?.problems.length ?? 0,
    assignment,
    lines: linesOf(text).length,
    lookAlikes: lookAlikes(text),
    columns,
  };
}
