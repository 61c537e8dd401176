import 'fake-indexeddb/auto';
import type { CaseDocument } from '@bright-ferry/core/case';
import { createPinia, setActivePinia } from 'pinia';
import { Cabinet } from '../storage/cabinet.ts';
import { provideServices } from '../stores/services.ts';
import { laneOf, Stopped, type Analyst, type CaseState, type Lane } from '../workers/analyst.ts';
import { Desk } from '../workers/desk.ts';
import type { Answers, Question, Questions, Request } from '../workers/protocol.ts';

/** An analyst without a worker: it answers a moment later, unless it is stopped before. */
export class DirectAnalyst implements Analyst {
  readonly #desk = new Desk();
  readonly #waiting = new Map<Lane, Set<(error: Error) => void>>();
  /** What was asked, in order. */
  readonly asked: Question[] = [];
  /** Holds answers back until it is called. */
  hold: Promise<void> = Promise.resolve();

  async ask<K extends Question>(kind: K, question: Questions[K], state: CaseState): Promise<Answers[K]> {
    this.asked.push(kind);
    const waiting = this.#waiting.get(laneOf(kind)) ?? new Set();
    this.#waiting.set(laneOf(kind), waiting);
    const { id: caseId, document, files } = state;
    const request = { ...question, ask: kind, caseId, document, files: [...files] };
    await new Promise<void>((resolve, reject) => {
      waiting.add(reject);
      void this.hold.then(() => {
        waiting.delete(reject);
        resolve();
      });
    });
    return this.#desk.answer(request as unknown as Request) as Answers[K];
  }

  stop(lane: Lane): void {
    for (const reject of this.#waiting.get(lane) ?? []) reject(new Stopped());
    this.#waiting.get(lane)?.clear();
  }
}

export interface TestServices {
  readonly cabinet: Cabinet;
  readonly analyst: DirectAnalyst;
}

/** Fresh stores over an empty storage in memory. */
export async function freshStores(): Promise<TestServices> {
  const cabinet = new Cabinet();
  for (const { id } of await cabinet.list()) await cabinet.remove(id);
  await cabinet.setNote('table-shapes', '{}');
  const made = { cabinet, analyst: new DirectAnalyst() };
  provideServices(made);
  setActivePinia(createPinia());
  return made;
}

/** A case with a client, a carrier, a gateway and a server, and nothing known. */
export const DOCUMENT: CaseDocument = {
  format: 'bright-ferry-case',
  version: 1,
  title: 'Gullcast',
  service: { name: 'Gullcast', kind: 'media', endpoints: [{ protocol: 'tcp', port: 8214 }] },
  client: { address: '198.51.100.23', dials: '203.0.113.50:8214' },
  path: [
    { id: 'client', role: 'client' },
    { id: 'carrier', role: 'carrier' },
    { id: 'gateway', role: 'gateway', name: 'Gateway' },
    { id: 'server', role: 'host', name: 'Heron' },
  ],
};

export const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);

/** Waits for what another page's word brings about; a few seconds at most. */
export async function until(isSo: () => boolean): Promise<void> {
  for (let i = 0; i < 1000 && !isSo(); i++) await new Promise((resolve) => setTimeout(resolve, 3));
}
