import type { CaseDocument } from '@bright-ferry/core/case';
import type { Adjustments, Answers, Reply, Request, Shapes, Work } from './protocol.ts';

interface Waiting {
  readonly resolve: (value: never) => void;
  readonly reject: (error: Error) => void;
}

/** What was asked was stopped by the technician. */
export class Stopped extends Error {}

/** Talks to the worker that does the reading and the tracing. */
export class Analyst {
  #worker: Worker;
  readonly #waiting = new Map<number, Waiting>();
  readonly #sent = new Set<string>();
  #next = 1;

  constructor() {
    this.#worker = this.#started();
  }

  /** Ends whatever the worker does; all that was asked and not answered is rejected. */
  stop(): void {
    this.#worker.terminate();
    this.#worker = this.#started();
    this.#sent.clear();
    const waiting = [...this.#waiting.values()];
    this.#waiting.clear();
    for (const w of waiting) w.reject(new Stopped());
  }

  #started(): Worker {
    const worker = new Worker(new URL('./analysis.worker.ts', import.meta.url), { type: 'module' });
    worker.addEventListener('message', ({ data }: MessageEvent<Reply>) => {
      const waiting = this.#waiting.get(data.id);
      this.#waiting.delete(data.id);
      if ('error' in data) waiting?.reject(new Error(data.error));
      else waiting?.resolve(data.value as never);
    });
    return worker;
  }

  bench(
    caseId: string,
    document: CaseDocument,
    files: ReadonlyMap<string, Uint8Array>,
    endpoint: string | null,
    viewpoint: string | null,
  ): Promise<Answers['bench']> {
    return this.#ask({ ask: 'bench', endpoint, viewpoint, ...this.#work(caseId, document, files) });
  }

  openings(
    caseId: string,
    document: CaseDocument,
    files: ReadonlyMap<string, Uint8Array>,
  ): Promise<Answers['openings']> {
    return this.#ask({ ask: 'openings', ...this.#work(caseId, document, files) });
  }

  shelf(
    caseId: string,
    document: CaseDocument,
    files: ReadonlyMap<string, Uint8Array>,
  ): Promise<Answers['shelf']> {
    return this.#ask({ ask: 'shelf', ...this.#work(caseId, document, files) });
  }

  reading(
    caseId: string,
    document: CaseDocument,
    files: ReadonlyMap<string, Uint8Array>,
    file: string,
  ): Promise<Answers['reading']> {
    return this.#ask({ ask: 'reading', file, ...this.#work(caseId, document, files) });
  }

  recognise(
    caseId: string,
    document: CaseDocument,
    files: ReadonlyMap<string, Uint8Array>,
    bytes: Uint8Array,
    adjust: Adjustments,
    shapes: Shapes,
  ): Promise<Answers['recognise']> {
    return this.#ask({
      ask: 'recognise',
      bytes,
      adjust: plain(adjust),
      shapes: plain(shapes),
      ...this.#work(caseId, document, files),
    });
  }

  handover(
    caseId: string,
    document: CaseDocument,
    files: ReadonlyMap<string, Uint8Array>,
    now: string,
  ): Promise<Answers['handover']> {
    return this.#ask({ ask: 'handover', now, ...this.#work(caseId, document, files) });
  }

  #work(caseId: string, document: CaseDocument, files: ReadonlyMap<string, Uint8Array>): Work {
    const fresh = (document.evidence ?? []).flatMap((e): (readonly [string, Uint8Array])[] => {
      const key = `${caseId}\n${e.file}`;
      const bytes = files.get(e.file);
      if (this.#sent.has(key) || !bytes) return [];
      this.#sent.add(key);
      return [[e.file, bytes]];
    });
    return { caseId, document: JSON.parse(JSON.stringify(document)) as CaseDocument, files: fresh };
  }

  #ask<K extends keyof Answers>(request: Extract<Request, { ask: K }>): Promise<Answers[K]> {
    const id = this.#next++;
    return new Promise((resolve, reject) => {
      this.#waiting.set(id, { resolve: resolve as (value: never) => void, reject });
      this.#worker.postMessage({ id, request });
    });
  }
}

/** Without what a message to a worker cannot hold. */
const plain = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;
