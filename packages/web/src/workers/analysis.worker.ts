import { benchView, readingView, shelfView, stopNames } from '@bright-ferry/core/bench';
import { decodeText } from '@bright-ferry/core/case';
import { assignStop, buildSite, cleanText, linesOf, readCase, readText, READERS, type CaseFacts, type Reading } from '@bright-ferry/core/evidence';
import { handover, handoverMarkdown } from '@bright-ferry/core/handover';
import { foundStops } from '@bright-ferry/core/proposals';
import { proposalWords } from '@bright-ferry/core/words';
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
  const named = new Map((document.evidence ?? []).flatMap((e) => (bytes.has(e.file) ? [[e.file, bytes.get(e.file)!] as const] : [])));
  return readCase({ document, files: named }, readings);
}

function recognise(facts: CaseFacts, bytes: Uint8Array): Recognised {
  const decoded = decodeText(bytes);
  if ('notText' in decoded) return { is: 'not-text', what: decoded.notText };
  const text = cleanText(decoded.text);
  if (text.trim() === '') return { is: 'empty' };
  const reading = readText(text);
  const lines = linesOf(text).length;
  const assignment = assignStop(reading ?? { format: '', facts: [], problems: [], covers: [] }, facts);
  return { is: 'text', format: reading?.format ?? null, title: READERS.find((r) => r.format === reading?.format)?.title ?? 'not understood', facts: reading?.facts.length ?? 0, problems: reading?.problems.length ?? 0, assignment, lines };
}

async function answer(request: Request): Promise<Answers[keyof Answers]> {
  const facts = factsFor(request);
  switch (request.ask) {
    case 'bench': return benchView(facts, request.endpoint, request.viewpoint);
    case 'found': return foundStops(facts, buildSite(facts)).map((proposal) => ({ proposal, text: proposalWords(proposal, stopNames(facts)).text }));
    case 'openings': {
      // The flood is only needed here.
      const { openingsView } = await import('@bright-ferry/core/openings');
      return openingsView(facts, stopNames(facts));
    }
    case 'shelf': return shelfView(facts, stopNames(facts));
    case 'reading': return readingView(facts, request.file);
    case 'recognise': return recognise(facts, request.bytes);
    case 'handover': {
      const made = handover(facts, request.now);
      return { handover: made, markdown: handoverMarkdown(made) };
    }
  }
}

self.addEventListener('message', ({ data }: MessageEvent<{ id: number; request: Request }>) => void respond(data));

async function respond(data: { id: number; request: Request }): Promise<void> {
  let reply: Reply;
  try {
    reply = { id: data.id, value: await answer(data.request) };
  } catch (error) {
    reply = { id: data.id, error: error instanceof Error ? (error.stack ?? error.message) : String(error) };
  }
  self.postMessage(reply);
}
