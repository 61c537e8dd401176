import type { CaseDocument, CaseFolder } from '@bright-ferry/core/case';
import { Database, fileKey, type KeptCase } from './database.ts';

/** Undo goes back this many steps at most; older ones are dropped. */
export const MOST_STEPS = 100;

export interface CaseHead {
  readonly id: string;
  readonly title: string;
  readonly service: string;
  readonly updatedAt: string;
}

export interface OpenCase extends KeptCase {
  readonly files: Map<string, Uint8Array>;
}

/**
 * Keeps cases in the browser. Where the browser's storage is blocked or full it goes on in memory and says
 * so: nothing that is open is lost, and export works all the same.
 */
export class Cabinet {
  readonly #database = new Database();
  readonly #memory = new Map<string, OpenCase>();
  /** Called with what went wrong with the storage, for people. */
  onTrouble: (text: string) => void = () => undefined;

  async list(): Promise<CaseHead[]> {
    const kept = await this.#try(() => this.#database.cases.orderBy('updatedAt').reverse().toArray(), []);
    const all = new Map<string, KeptCase>(kept.map((c) => [c.id, c]));
    for (const c of this.#memory.values()) all.set(c.id, c);
    return [...all.values()]
      .sort((a, b) => b.updatedAt.localeCompare(a.updatedAt))
      .map((c) => ({
        id: c.id,
        title: c.document.title,
        service: c.document.service?.name ?? '',
        updatedAt: c.updatedAt,
      }));
  }

  async open(id: string): Promise<OpenCase | null> {
    const inMemory = this.#memory.get(id);
    if (inMemory) return inMemory;
    const kept = await this.#try(() => this.#database.cases.get(id), undefined);
    if (!kept) return null;
    const files = await this.#try(() => this.#database.files.where('caseId').equals(id).toArray(), []);
    return { ...kept, files: new Map(files.map((f) => [f.path, f.bytes])) };
  }

  /**
   * Keeps a state of a case; new evidence is written with it in one transaction.
   * @returns whether the browser's storage has it; false: it is in memory only
   */
  async keep(state: OpenCase, added: readonly string[] = []): Promise<boolean> {
    const { files, ...plain } = state;
    const record: KeptCase = JSON.parse(
      JSON.stringify({ ...plain, past: plain.past.slice(-MOST_STEPS) }),
    ) as KeptCase;
    const done = await this.#try(async () => {
      await this.#database.transaction('rw', this.#database.cases, this.#database.files, async () => {
        await this.#database.cases.put(record);
        await this.#database.files.bulkPut(
          added.map((path) => ({
            key: fileKey(state.id, path),
            caseId: state.id,
            path,
            bytes: files.get(path)!,
          })),
        );
      });
      return true;
    }, false);
    if (done) this.#memory.delete(state.id);
    else this.#memory.set(state.id, state);
    return done;
  }

  async remove(id: string): Promise<void> {
    this.#memory.delete(id);
    await this.#try(async () => {
      await this.#database.transaction('rw', this.#database.cases, this.#database.files, async () => {
        await this.#database.cases.delete(id);
        await this.#database.files.where('caseId').equals(id).delete();
      });
    }, undefined);
  }

  /** Puts a whole folder in as a new case. */
  async add({ document, files }: CaseFolder, now: string, id = newId()): Promise<string> {
    await this.keep({ id, updatedAt: now, document, past: [], future: [], files: new Map(files) }, [
      ...files.keys(),
    ]);
    return id;
  }

  async note(key: string): Promise<string | null> {
    return (await this.#try(() => this.#database.notes.get(key), undefined))?.value ?? null;
  }

  async setNote(key: string, value: string): Promise<void> {
    await this.#try(() => this.#database.notes.put({ key, value }), undefined);
  }

  async #try<T, D>(work: () => Promise<T>, otherwise: D): Promise<T | D> {
    try {
      return await work();
    } catch (error) {
      const full = error instanceof Error && /quota/i.test(`${error.name} ${error.message}`);
      this.onTrouble(
        full
          ? 'The browser’s storage is full: changes are kept only as long as this page is open. Export the case to keep it.'
          : 'The browser does not let this page keep anything: changes last only as long as it is open. Export the case to keep it.',
      );
      return otherwise;
    }
  }
}

export const newId = (): string => `c${Date.now().toString(36)}${Math.random().toString(36).slice(2, 8)}`;

/** The evidence that a document names, out of all bytes that its history needs. */
export function filesOf(
  document: CaseDocument,
  files: ReadonlyMap<string, Uint8Array>,
): Map<string, Uint8Array> {
  return new Map(
    (document.evidence ?? []).flatMap((e) =>
      files.has(e.file) ? [[e.file, files.get(e.file)!] as const] : [],
    ),
  );
}
