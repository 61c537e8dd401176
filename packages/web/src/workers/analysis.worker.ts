import {
  benchView,
  readingView,
  shelfView,
  stopNames,
  handover,
  handoverMarkdown,
} from '@bright-ferry/core/views';
import { decodeText } from '@bright-ferry/core/case';
import { assignStop, readBytes, readCase, type CaseFacts } from '@bright-ferry/core/ledger';
import {
  cleanText,
  corrected,
  linesOf,
  lookAlikes,
  readCapture,
  readText,
  READERS,
  tableShape,
  type TableShape,
} from '@bright-ferry/core/reading';
import type { Reading } from '@bright-ferry/core/facts';
import type { Answers, Recognised, Reply, Request, Work } from './protocol.ts';

/** Bytes and readings of the cases that were sent; a piece of evidence never changes under its path. */
const bytesOf = new Map<string, Map<string, Uint8Array>>();
const readingsOf = new Map<string, Map<string, Reading | null>>();

function factsFor({ caseId, document, files }: Work): CaseFacts {
  const bytes = bytesOf.get(caseId) ?? new Map<string, Uint8Array>();
  const readings = readingsOf.get(caseId) ?? new Map<string, Reading | null>();
  bytesOf.set(caseId, bytes);
  readingsOf.set(caseId, readings);
  for (const [path, content] of files) {
    bytes.set(path, content);
    readings.delete(path);
  }
  const named = new Map(
    (document.evidence ?? []).flatMap((e) =>
      bytes.has(e.file) ? [[e.file, bytes.get(e.file)!] as const] : [],
    ),
  );
  return readCase({ document, files: named }, readings);
}

function recognise(
  facts: CaseFacts,
  { bytes, adjust, shapes }: Extract<Request, { ask: 'recognise' }>,
): Recognised {
  const capture = readCapture(bytes);
  if (capture)
    return {
      is: 'text',
      format: capture.format,
      title: 'a packet capture',
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
  const shape = plain && TABLES.has(plain.format) ? tableShape(text) : null;
  const columns = adjust.columns ?? (shape ? shapes[shape.signature] : undefined) ?? null;
  const reading = columns ? readBytes(bytes, { ...adjust, columns }) : plain;
  const assignment = assignStop(reading ?? { format: '', facts: [], problems: [], covers: [] }, facts);
  return {
    is: 'text',
    format: reading?.format ?? null,
    title:
      READERS.find((r) => r.format === reading?.format)?.title ??
      (reading?.format === 'several' ? 'several outputs' : 'not understood'),
    facts: reading?.facts.length ?? 0,
    problems: reading?.problems.length ?? 0,
    assignment,
    lines: linesOf(text).length,
    lookAlikes: lookAlikes(text),
    columns,
  };
}

const TABLES = new Set(['forward-table', 'device-table']);

/** The table of a piece of evidence, for looking its columns over. */
function shapeOf(
  { caseId, document, file }: Extract<Request, { ask: 'reading' }>,
  facts: CaseFacts,
): TableShape | null {
  const entry = document.evidence?.find((e) => e.file === file);
  const decoded = decodeText(bytesOf.get(caseId)?.get(file) ?? new Uint8Array());
  if (!TABLES.has(facts.files.find((f) => f.file === file)?.format ?? '') || !('text' in decoded))
    return null;
  const shape = tableShape(corrected(cleanText(decoded.text), entry?.corrections ?? []));
  return shape && entry?.columns ? { ...shape, columns: entry.columns as TableShape['columns'] } : shape;
}

async function answer(request: Request): Promise<Answers[keyof Answers]> {
  const facts = factsFor(request);
  switch (request.ask) {
    case 'bench':
      return benchView(facts, request.endpoint, request.viewpoint);
    case 'openings': {
      // The flood is only needed here.
      const { openingsView } = await import('@bright-ferry/core/views');
      return openingsView(facts, stopNames(facts));
    }
    case 'shelf':
      return shelfView(facts, stopNames(facts));
    case 'reading':
      return { ...readingView(facts, request.file), shape: shapeOf(request, facts) };
    case 'recognise':
      return recognise(facts, request);
    case 'handover': {
      const made = handover(facts, request.now);
      return { handover: made, markdown: handoverMarkdown(made) };
    }
  }
}

self.addEventListener(
  'message',
  ({ data }: MessageEvent<{ id: number; request: Request }>) => void respond(data),
);

async function respond(data: { id: number; request: Request }): Promise<void> {
  let reply: Reply;
  try {
    reply = { id: data.id, value: await answer(data.request) };
  } catch (error) {
    reply = { id: data.id, error: error instanceof Error ? (error.stack ?? error.message) : String(error) };
  }
  self.postMessage(reply);
}
