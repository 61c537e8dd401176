import {
  benchView,
  handover,
  handoverMarkdown,
  handoverPage,
  openingsView,
  placesView,
  readingView,
  recognised,
  shelfView,
  shrinking,
  stopNames,
  suspicionView,
  tableOf,
  vantageGrid,
} from '@bright-ferry/core/views';
import { readCase, type CaseFacts } from '@bright-ferry/core/ledger';
import type { Reading } from '@bright-ferry/core/facts';
import type { Answer, Request, Work } from './protocol.ts';

/** What has been sent of one case; a piece of evidence never changes under its path. */
interface Known {
  readonly bytes: Map<string, Uint8Array>;
  readonly readings: Map<string, Reading | null>;
}

/**
 * Answers requests about cases, and keeps what it has read of them. Runs in a worker; in tests without one.
 */
export class Desk {
  readonly #cases = new Map<string, Known>();

  answer(request: Request): Answer {
    const { facts, bytes } = this.#factsFor(request);
    switch (request.ask) {
      case 'bench':
        return benchView(facts, request.endpoint, request.viewpoint);
      case 'openings':
        return openingsView(facts, stopNames(facts));
      case 'shelf':
        return shelfView(facts, stopNames(facts));
      case 'vantages':
        return vantageGrid(facts);
      case 'suspicion':
        return suspicionView(facts);
      case 'places':
        return placesView(facts, stopNames(facts));
      case 'shrinking':
        return shrinking(facts);
      case 'reading': {
        const { file, document } = request;
        const shape = tableOf(facts, document, file, bytes.get(file) ?? new Uint8Array());
        return { ...readingView(facts, file), shape };
      }
      case 'recognise':
        return recognised(facts, request.bytes, request.adjust, request.shapes);
      case 'handover': {
        const made = handover(facts, request.now);
        return { handover: made, markdown: handoverMarkdown(made), page: handoverPage(made) };
      }
    }
  }

  #factsFor({ caseId, document, files }: Work): Known & { readonly facts: CaseFacts } {
    const known = this.#cases.get(caseId) ?? { bytes: new Map(), readings: new Map() };
    this.#cases.set(caseId, known);
    for (const [path, content] of files) {
      known.bytes.set(path, content);
      known.readings.delete(path);
    }
    const named = new Map<string, Uint8Array>();
    for (const { file } of document.evidence ?? []) {
      const content = known.bytes.get(file);
      if (content) named.set(file, content);
    }
    return { ...known, facts: readCase({ document, files: named }, known.readings) };
  }
}
