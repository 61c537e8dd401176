import type { CaseDocument } from '@bright-ferry/core/case';
import type { Answer, Answers, Question, Questions, Reply, Request } from './protocol.ts';

/** A case as it is sent: its document and the bytes of its evidence. */
export interface CaseState {
  readonly id: string;
  readonly document: CaseDocument;
  readonly files: ReadonlyMap<string, Uint8Array>;
}

/** Who reads and traces. What is long has a lane of its own, so that it never keeps the bench waiting. */
export interface Analyst {
  ask<K extends Question>(kind: K, question: Questions[K], state: CaseState): Promise<Answers[K]>;
  /** Ends whatever a lane does; all that was asked there and not answered is rejected with `Stopped`. */
  stop(lane: Lane): void;
}

export type Lane = 'bench' | 'openings' | 'suspects';

/** What was asked was stopped by the technician. */
export class Stopped extends Error {}

/** What is long, by its lane; the rest belongs to the bench. */
const LANES: Readonly<Partial<Record<Question, Lane>>> = { openings: 'openings', shrinking: 'suspects' };

export const laneOf = (kind: Question): Lane => LANES[kind] ?? 'bench';

/** Talks to workers, one for each lane, which are started when they are first needed. */
export class WorkerAnalyst implements Analyst {
  readonly #lanes = new Map<Lane, Errand>();

  ask<K extends Question>(kind: K, question: Questions[K], state: CaseState): Promise<Answers[K]> {
    const lane = laneOf(kind);
    const errand = this.#lanes.get(lane) ?? new Errand();
    this.#lanes.set(lane, errand);
    return errand.ask(kind, question, state) as Promise<Answers[K]>;
  }

  stop(lane: Lane): void {
    this.#lanes.get(lane)?.stop();
    this.#lanes.delete(lane);
  }
}

interface Waiting {
  readonly resolve: (value: Answer) => void;
  readonly reject: (error: Error) => void;
}

/** One worker, and what it has been sent. */
class Errand {
  readonly #worker = new Worker(new URL('./analysis.worker.ts', import.meta.url), { type: 'module' });
  readonly #waiting = new Map<number, Waiting>();
  readonly #sent = new Set<string>();
  #next = 1;

  constructor() {
    this.#worker.addEventListener('message', ({ data }: MessageEvent<Reply>) => {
      const waiting = this.#waiting.get(data.id);
      this.#waiting.delete(data.id);
      if ('error' in data) waiting?.reject(new Error(data.error));
      else waiting?.resolve(data.value);
    });
  }

  ask(
    kind: Question,
    question: Questions[Question],
    { id: caseId, document, files }: CaseState,
  ): Promise<Answer> {
    const work = { caseId, document, files: this.#fresh(caseId, document, files) };
    const request = {
      ...plain({ ...question, ...work, ask: kind }),
      ...bytesOf(question),
      files: work.files,
    };
    const id = this.#next++;
    return new Promise((resolve, reject) => {
      this.#waiting.set(id, { resolve, reject });
      this.#worker.postMessage({ id, request: request as Request });
    });
  }

  stop(): void {
    this.#worker.terminate();
    const waiting = [...this.#waiting.values()];
    this.#waiting.clear();
    for (const w of waiting) w.reject(new Stopped());
  }

  #fresh(
    caseId: string,
    { evidence = [] }: CaseDocument,
    files: ReadonlyMap<string, Uint8Array>,
  ): (readonly [string, Uint8Array])[] {
    return evidence.flatMap(({ file }): (readonly [string, Uint8Array])[] => {
      const key = `${caseId}\n${file}`;
      const bytes = files.get(file);
      if (this.#sent.has(key) || !bytes) return [];
      this.#sent.add(key);
      return [[file, bytes]];
    });
  }
}

/** The bytes of a question, which JSON cannot hold. */
const bytesOf = (question: object): { readonly bytes?: Uint8Array } =>
  'bytes' in question && question.bytes instanceof Uint8Array ? { bytes: question.bytes } : {};

/**
 * Without what a message to a worker cannot hold: the proxies of the interface, and bytes, which go beside
 * it.
 */
const plain = (value: object): object =>
  JSON.parse(JSON.stringify(value, (_, v: unknown) => (v instanceof Uint8Array ? undefined : v))) as object;
