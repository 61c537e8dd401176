import type { CaseDocument } from '@bright-ferry/core/case';
import { defineStore } from 'pinia';
import { ref, shallowRef } from 'vue';
import { filesOf, newId, type Cabinet, type CaseHead } from '../storage/cabinet.ts';
import { services } from './services.ts';

/** All cases of this browser, and what is said about its storage. */
export const useCabinet = defineStore('cabinet', () => {
  const { cabinet } = services();
  const heads = shallowRef<readonly CaseHead[]>([]);
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

  async function refresh(): Promise<void> {
    heads.value = await cabinet.list();
  }

  async function create(document: CaseDocument): Promise<string> {
    const id = await cabinet.add({ document, files: new Map() }, new Date().toISOString(), newId());
    await refresh();
    return id;
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

  async function remove(id: string): Promise<void> {
    await cabinet.remove(id);
    await refresh();
  }

  /** Puts a removed case back as it was. */
  async function restore(state: Awaited<ReturnType<Cabinet['open']>>): Promise<void> {
    if (state) await cabinet.keep(state, [...state.files.keys()]);
    await refresh();
  }

  async function pack(id: string): Promise<{ name: string; bytes: Uint8Array } | null> {
    const open = await cabinet.open(id);
    if (!open) return null;
    const { packCase } = await import('../lib/caseFormat.ts');
    return {
      name: `${fileName(open.document.title)}.ferry.zip`,
      bytes: packCase({ document: open.document, files: filesOf(open.document, open.files) }),
    };
  }

  return {
    cabinet,
    heads,
    trouble,
    importProblem,
    start,
    refresh,
    create,
    importFile,
    remove,
    restore,
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
