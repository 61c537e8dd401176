import { decodeText, typedPlace, type CaseDocument } from '@bright-ferry/core/case';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';
import { filesOf, type OpenCase } from '../storage/cabinet.ts';
import { useNotices } from './notices.ts';
import { useSelection } from './selection.ts';
import { services } from './services.ts';

/** Evidence that comes with a change: path and bytes. */
export type Added = readonly (readonly [string, Uint8Array])[];

/** The case on the bench, every step of it, and what of it is kept in the browser. */
export const useHistory = defineStore('history', () => {
  const { cabinet } = services();
  const notices = useNotices();
  const selection = useSelection();
  const current = shallowRef<OpenCase | null>(null);
  /** When the newest state was written to the browser's storage; null: it was not. */
  const keptAt = ref<string | null>(null);

  const document = computed(() => current.value?.document ?? null);
  const canUndo = computed(() => (current.value?.past.length ?? 0) > 0);
  const canRedo = computed(() => (current.value?.future.length ?? 0) > 0);

  /** Puts a kept case on the bench. False: there is none of that id. */
  async function open(id: string): Promise<boolean> {
    if (current.value?.id === id) return true;
    const found = await cabinet.open(id);
    if (!found) return false;
    notices.clear();
    selection.reset();
    current.value = found;
    keptAt.value = found.updatedAt;
    return true;
  }

  function close(): void {
    current.value = null;
  }

  /** Takes a changed document as a new step. */
  async function change(next: CaseDocument, text: string, added: Added = []): Promise<void> {
    const before = current.value;
    if (!before) return;
    const files = new Map([...before.files, ...added]);
    notices.done(text);
    await take(
      { ...before, document: next, past: [...before.past, before.document], future: [], files },
      added,
    );
  }

  /** Changes the newest step itself: what belongs to it is taken back with it. */
  async function amend(next: CaseDocument): Promise<void> {
    if (current.value) await take({ ...current.value, document: next });
  }

  async function take(state: OpenCase, added: Added = []): Promise<void> {
    const stamped = { ...state, updatedAt: new Date().toISOString() };
    selection.follow(stamped.document);
    current.value = stamped;
    const isKept = await cabinet.keep(
      stamped,
      added.map(([path]) => path),
    );
    keptAt.value = isKept ? stamped.updatedAt : null;
  }

  async function undo(): Promise<void> {
    const s = current.value;
    const last = s?.past[s.past.length - 1];
    if (!s || !last) return;
    notices.done('Taken back.', false);
    await take({ ...s, document: last, past: s.past.slice(0, -1), future: [s.document, ...s.future] });
  }

  async function redo(): Promise<void> {
    const s = current.value;
    const [next, ...future] = s?.future ?? [];
    if (!s || !next) return;
    notices.done('Done again.');
    await take({ ...s, document: next, past: [...s.past, s.document], future });
  }

  /** How a stop is called, for what is said about it. */
  const nameOf = (stop: string): string =>
    current.value?.document.path.find((s) => s.id === stop)?.name ?? stop;

  /** The text of a piece of evidence, or of a typed line. */
  function textOf(fileName: string): string {
    const typed = typedPlace(fileName);
    if (typed)
      return current.value?.document.path.find((s) => s.id === typed.stop)?.typed?.[typed.index]?.text ?? '';
    const bytes = current.value?.files.get(fileName);
    const decoded = bytes ? decodeText(bytes) : null;
    return decoded && 'text' in decoded ? decoded.text : '(this file is not text)';
  }

  /** The case as it is exported: without the evidence of steps that were taken back. */
  function exported(): { document: CaseDocument; files: Map<string, Uint8Array> } | null {
    const s = current.value;
    return s ? { document: s.document, files: filesOf(s.document, s.files) } : null;
  }

  return {
    current,
    document,
    keptAt,
    canUndo,
    canRedo,
    open,
    close,
    change,
    amend,
    undo,
    redo,
    nameOf,
    textOf,
    exported,
  };
});
