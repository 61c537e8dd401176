import { decodeText, type EvidenceEntry } from '../../case/index.ts';
import { ASKS, type AskKind } from '../../asks/index.ts';
import { answers, assignStop, readBytes, type Assignment, type CaseFacts } from '../../ledger/index.ts';
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
import type { Reading } from '../../facts/index.ts';
import { whoseText } from '../../words/index.ts';
import { stopNames } from '../bench/names.ts';
import { formatTitle } from '../bench/formats.ts';
import { isTable } from './table.ts';

/** Where a piece is likely from, and why, in words. */
export interface Placement extends Omit<Assignment, 'why'> {
  readonly why: string;
}

function placed(reading: Reading | null, facts: CaseFacts): Placement {
  const nothing: Reading = { format: '', facts: [], problems: [], covers: [] };
  const { why, ...rest } = assignStop(reading ?? nothing, facts);
  return { ...rest, why: whoseText(why, stopNames(facts)) };
}

/** What a piece of evidence turned out to be. */
export type Recognised =
  | {
      readonly is: 'text';
      /** null: not understood */
      readonly format: string | null;
      readonly title: string;
      readonly facts: number;
      readonly problems: number;
      readonly assignment: Placement;
      readonly lines: number;
      readonly lookAlikes: readonly LookAlike[];
      readonly columns: EvidenceEntry['columns'] | null;
      /** The asks that it answers. */
      readonly answered: readonly AskKind[];
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
      assignment: placed(capture, facts),
      lines: 0,
      lookAlikes: [],
      columns: null,
      answered: answeredBy(capture),
    };
  const decoded = decodeText(bytes);
  if ('notText' in decoded) return { is: 'not-text', what: decoded.notText };
  const text = corrected(cleanText(decoded.text), adjust.corrections ?? []);
  if (text.trim() === '') return { is: 'empty' };
  const plain = readText(text);
  const shape = plain && isTable(plain.format) ? tableShape(text) : null;
  const columns = adjust.columns ?? (shape ? shapes[shape.signature] : undefined) ?? null;
  const reading = columns ? readBytes(bytes, { ...adjust, columns }) : plain;
  return {
    is: 'text',
    format: reading?.format ?? null,
    title: formatTitle(reading?.format ?? null),
    facts: reading?.facts.length ?? 0,
    problems: reading?.problems.length ?? 0,
    assignment: placed(reading, facts),
    lines: linesOf(text).length,
    lookAlikes: lookAlikes(text),
    columns,
    answered: reading ? answeredBy(reading) : [],
  };
}

const answeredBy = ({ covers, facts }: Reading): AskKind[] =>
  ASKS.filter((ask) => answers({ shows: covers, facts }, ask));
