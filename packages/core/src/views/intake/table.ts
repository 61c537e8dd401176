import { decodeText, type CaseDocument } from '../../case/index.ts';
import type { CaseFacts } from '../../ledger/index.ts';
import { cleanText, corrected, tableShape, type TableShape } from '../../reading/index.ts';

const TABLES: ReadonlySet<string> = new Set(['forward-table', 'device-table']);

export const isTable = (format: string | null): boolean => format !== null && TABLES.has(format);

/** The table of a piece of evidence, for looking its columns over; null where it is none. */
export function tableOf(
  facts: CaseFacts,
  document: CaseDocument,
  file: string,
  bytes: Uint8Array,
): TableShape | null {
  const decoded = decodeText(bytes);
  if (!isTable(facts.files.find((f) => f.file === file)?.format ?? null) || !('text' in decoded)) return null;
  const entry = document.evidence?.find((e) => e.file === file);
  const shape = tableShape(corrected(cleanText(decoded.text), entry?.corrections ?? []));
  return shape && entry?.columns ? { ...shape, columns: entry.columns as TableShape['columns'] } : shape;
}
