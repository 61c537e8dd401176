import type { CaseDocument, CaseFolder } from '@bright-ferry/core/case';
import { Elsewhere } from './elsewhere.ts';
import { Database, fileKey, headOf, type CaseHead, type KeptCase } from './database.ts';

export type { CaseHead } from './database.ts';

/** Undo goes back this many steps at most; older ones are dropped. */
export const MOST_STEPS = 100;

export interface OpenCase extends KeptCase {
  readonly files: ReadonlyMap<string, Uint8Array>;
}

/** One step of a case. It can be made on a newer state than it was thought of on; null: nothing happens. */
export type Step = (state: OpenCase) => OpenCase | null;

export interface Taken {
  /** The state as it is now, with what another page has changed meanwhile. */
  readonly state: OpenCase;
  /** The browser's storage has it; else it is in memory only. */
  readonly isKept: boolean;
  /** Another page had changed it meanwhile, or it had gone from the storage. */
  readonly met: 'change' | 'removal' | null;
}

/**
 * Keeps cases in the browser. Where the browser's storage is blocked or full it goes on in memory and says
 * so: nothing that is open is lost, export works all the same, and the next write that succeeds brings all
 * that the storage lacks. Several pages may work on one case: each step is made on the newest state.
 */
export class Cabinet {
  readonly #database = new Database();
  /** Cases whose newest state could not be written. */
  readonly #memory = new Map<string, OpenCase>();
  /** Steps that are in memory only, to be made once more on a newer state. */
  readonly #unwritten = new Map<string, Step[]>();
  /** Other pages of this browser. */
  readonly elsewhere = new Elsewhere();
  /** Called with what went wrong with the storage, for people; null: it works again. */
  onTrouble: (text: string | null) => void = () => undefined;

  async list(): Promise<CaseHead[]> {
    const kept = await this.#try(() => this.#database.heads.orderBy('updatedAt').reverse().toArray(), []);
    const all = new Map<string, CaseHead>(kept.map((c) => [c.id, c]));
    for (const c of this.#memory.values()) all.set(c.id, headOf(c));
    return [...all.values()].sort((a, b) => b.updatedAt.localeCompare(a.updatedAt));
  }

  async open(id: string): Promise<OpenCase | null> {
    return this.#memory.get(id) ?? (await this.#try(() => this.#stored(id), null));
  }

  /** Makes a step of a case that is open, and keeps it with all evidence that the storage lacks. */
  async take(held: OpenCase, step: Step): Promise<Taken> {
    const { id } = held;
    const steps = [...(this.#unwritten.get(id) ?? []), step];
    const written = await this.#try(async () => {
      const { cases, files, heads } = this.#database;
      return this.#database.transaction('rw', cases, files, heads, async () => {
        const kept = await cases.get(id);
        const isNewer = kept !== undefined && kept.version !== held.version;
        const newest = isNewer ? await this.#stored(id) : null;
        const next = newest ? steps.reduce(made, withFiles(newest, held.files)) : made(held, step);
        const state = await this.#write({ ...next, version: (kept?.version ?? held.version ?? 0) + 1 });
        return { state, met: metWith(newest !== null, kept === undefined) };
      });
    }, null);
    if (!written) {
      const state = made(held, step);
      this.#memory.set(id, state);
      this.#unwritten.set(id, steps);
      return { state, isKept: false, met: null };
    }
    this.#settled(id);
    return { ...written, isKept: true };
  }

  /** Whether the browser's storage has the newest state of a case. */
  isKept = (id: string): boolean => !this.#memory.has(id);

  async remove(id: string): Promise<void> {
    this.#memory.delete(id);
    this.#unwritten.delete(id);
    await this.#try(async () => {
      const { cases, files, heads } = this.#database;
      await this.#database.transaction('rw', cases, files, heads, async () => {
        await cases.delete(id);
        await heads.delete(id);
        await files.where('caseId').equals(id).delete();
      });
      this.elsewhere.tell({ id, is: 'removed' });
    }, undefined);
  }

  /** Puts a case in as it is, with its steps. */
  async put(state: OpenCase): Promise<void> {
    const isKept = await this.#try(async () => {
      const { cases, files, heads } = this.#database;
      await this.#database.transaction('rw', cases, files, heads, () =>
        this.#write({ ...state, version: 1 }),
      );
      return true;
    }, false);
    if (isKept) this.#settled(state.id);
    else this.#memory.set(state.id, state);
  }

  /** Puts a whole folder in as a new case. */
  async add({ document, files }: CaseFolder, now: string, id = newId()): Promise<string> {
    await this.put({ id, updatedAt: now, document, past: [], future: [], files });
    return id;
  }

  async note(key: string): Promise<string | null> {
    return (await this.#try(() => this.#database.notes.get(key), undefined))?.value ?? null;
  }

  /** Several at once, by what their keys begin with. */
  async notes(prefix: string): Promise<ReadonlyMap<string, string>> {
    const found = await this.#try(() => this.#database.notes.where('key').startsWith(prefix).toArray(), []);
    return new Map(found.map((n) => [n.key.slice(prefix.length), n.value]));
  }

  async setNote(key: string, value: string): Promise<void> {
    await this.#try(() => this.#database.notes.put({ key, value }), undefined);
  }

  /** Writes a state, its head, and every file of it that is not there yet; within a transaction. */
  async #write(state: OpenCase): Promise<OpenCase> {
    const { files, ...plain } = state;
    const past = plain.past.slice(-MOST_STEPS);
    await this.#database.cases.put(JSON.parse(JSON.stringify({ ...plain, past })) as KeptCase);
    await this.#database.heads.put(headOf(state));
    const there = new Set(await this.#database.files.where('caseId').equals(state.id).primaryKeys());
    const lacking = [...files].filter(([path]) => !there.has(fileKey(state.id, path)));
    await this.#database.files.bulkPut(
      lacking.map(([path, bytes]) => ({ key: fileKey(state.id, path), caseId: state.id, path, bytes })),
    );
    return state;
  }

  async #stored(id: string): Promise<OpenCase | null> {
    const kept = await this.#database.cases.get(id);
    if (!kept) return null;
    const files = await this.#database.files.where('caseId').equals(id).toArray();
    return { ...kept, files: new Map(files.map((f) => [f.path, f.bytes])) };
  }

  #settled(id: string): void {
    this.#memory.delete(id);
    this.#unwritten.delete(id);
    if (this.#memory.size === 0) this.onTrouble(null);
    this.elsewhere.tell({ id, is: 'changed' });
  }

  async #try<T, D>(work: () => Promise<T>, otherwise: D): Promise<T | D> {
    try {
      return await work();
    } catch (error) {
      const full = error instanceof Error && /quota/i.test(`${error.name} ${error.message}`);
      this.onTrouble(
        full
          ? 'The browser’s storage is full: changes are kept only as long as this page is open. Export ' +
              'the case to keep it.'
          : 'The browser does not let this page keep anything: changes last only as long as it is open. ' +
              'Export the case to keep it.',
      );
      return otherwise;
    }
  }
}

const made = (state: OpenCase, step: Step): OpenCase => step(state) ?? state;

function metWith(isChanged: boolean, isGone: boolean): Taken['met'] {
  if (isChanged) return 'change';
  return isGone ? 'removal' : null;
}

/** Evidence of two pages side by side: paths are never used twice. */
const withFiles = (state: OpenCase, more: OpenCase['files']): OpenCase => ({
  ...state,
  files: new Map([...more, ...state.files]),
});

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
