import type { CaseDocument, CaseFolder } from '@bright-ferry/core/case';
import { defineStore } from 'pinia';
import { ref, shallowRef } from 'vue';
import { filesOf, newId, type CaseHead, type OpenCase } from '../storage/cabinet.ts';
import { services } from './services.ts';

/** A case as a file. */
export interface Packed {
  readonly name: string;
  readonly bytes: Uint8Array;
}

/** All cases of this browser, and what is said about its storage. */
export const useCabinet = defineStore('cabinet', () => {
  const { cabinet } = services();
  const heads = shallowRef<readonly CaseHead[]>([]);
  /** The case that was taken out last. */
  const removed = shallowRef<OpenCase | null>(null);
  const trouble = ref<string | null>(null);
  const importProblem = ref<string | null>(null);
  cabinet.onTrouble = (text) => void (trouble.value = text);

  /** On the first visit the demo cases are put in; afterwards they are cases like any other. */
  async function start(): Promise<void> {
    if ((await cabinet.note('demo')) === null && (await cabinet.list()).length === 0) {
      const { demoCases } = await import('../storage/demoCases.ts');
      const now = Date.now();
      let age = 0;
      for (const { name, folder } of demoCases())
        await cabinet.add(folder, new Date(now - 1000 * age++).toISOString(), `demo-${name}`);
      await cabinet.setNote('demo', 'put in');
    }
    await refresh();
  }

  cabinet.elsewhere.onListChanged = () => void refresh();

  async function refresh(): Promise<void> {
    heads.value = await cabinet.list();
  }

  async function create(document: CaseDocument): Promise<string> {
    const id = await cabinet.add({ document, files: new Map() }, new Date().toISOString(), newId());
    void persist();
    await refresh();
    return id;
  }

  /** Asks the browser not to clear the cases away when space is short. */
  async function persist(): Promise<void> {
    if (typeof navigator.storage?.persist === 'function')
      await navigator.storage.persist().catch(() => false);
  }

  /**
   * A returning caller: a new case about the same site as it was last known, each piece with its age. What
   * was tried, refused or left out then is not taken over.
   */
  async function again(id: string): Promise<string | null> {
    const open = await cabinet.open(id);
    if (!open) return null;
    const { observations: _, declined: _1, closed: _2, ...document } = open.document;
    const copy = { ...document, title: `${document.title}, again` } as CaseDocument;
    const added = await cabinet.add(
      { document: copy, files: filesOf(copy, open.files) },
      new Date().toISOString(),
      newId(),
    );
    await refresh();
    return added;
  }

  /** Takes a case file in as a new case; a damaged or foreign one is refused and nothing changes. */
  async function importFile(file: File): Promise<string | null> {
    importProblem.value = null;
    const { CaseError, unpackCase } = await import('../lib/caseFormat.ts');
    try {
      const folder = unpackCase(new Uint8Array(await file.arrayBuffer()), file.name);
      const id = await cabinet.add(folder, new Date().toISOString());
      await refresh();
      return id;
    } catch (error) {
      importProblem.value =
        error instanceof CaseError
          ? `${error.message}. Nothing was changed.`
          : `${file.name} cannot be read. Nothing was changed.`;
      return null;
    }
  }

  /** Takes a case out. It can be put back as it was. */
  async function remove(id: string): Promise<void> {
    removed.value = await cabinet.open(id);
    await cabinet.remove(id);
    await refresh();
  }

  async function putBack(): Promise<void> {
    if (removed.value) await cabinet.put(removed.value);
    removed.value = null;
    await refresh();
  }

  /** A case as a file. What is open is packed as it is open, whether the browser has kept it or not. */
  async function pack(id: string, open?: CaseFolder | null): Promise<Packed | null> {
    const kept = open ? null : await cabinet.open(id);
    const folder = open ?? (kept && { document: kept.document, files: filesOf(kept.document, kept.files) });
    if (!folder) return null;
    const { packCase } = await import('../lib/caseFormat.ts');
    return { name: `${fileName(folder.document.title)}.ferry.zip`, bytes: packCase(folder) };
  }

  return {
    heads,
    removed,
    trouble,
    importProblem,
    start,
    refresh,
    create,
    importFile,
    again,
    remove,
    putBack,
    pack,
  };
});

export const fileName = (title: string): string =>
  title
    .normalize('NFKD')
    .replace(/[^\w]+/g, '-')
    .replace(/^-|-$/g, '')
    .toLowerCase()
    .slice(0, 60) || 'case';
