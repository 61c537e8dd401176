import { decodeText, typedPlace, type CaseDocument } from '@bright-ferry/core/case';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';
import { filesOf, type OpenCase, type Step } from '../storage/cabinet.ts';
import { useNotices } from './notices.ts';
import { useSelection } from './selection.ts';
import { services } from './services.ts';

/** Evidence that comes with a change: path and bytes. */
export type Added = readonly (readonly [string, Uint8Array])[];

/** A change of the case as data: it is made once more where another page has changed the case meanwhile. */
export type Edit = (document: CaseDocument) => CaseDocument;

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

  /** Steps on their way to the storage, oldest first. */
  const onTheirWay: Step[] = [];
  let writing: Promise<void> = Promise.resolve();
  /** The state that the storage had last, on which the next step on its way is made. */
  let base: OpenCase | null = null;

  /** Puts a state on the bench as the storage has it. */
  function show(found: OpenCase): void {
    base = found;
    current.value = found;
    keptAt.value = cabinet.isKept(found.id) ? found.updatedAt : null;
  }

  cabinet.elsewhere.onHappened = ({ id, is }) => {
    if (current.value?.id === id) void (is === 'removed' ? lost() : follow(id));
  };

  /** Puts a kept case on the bench. False: there is none of that id. */
  async function open(id: string): Promise<boolean> {
    if (current.value?.id === id) return true;
    const found = await cabinet.open(id);
    if (!found) return false;
    notices.clear();
    selection.reset();
    show(found);
    return true;
  }

  function close(): void {
    current.value = null;
  }

  /** Another page changed the case: this one shows it as well. */
  async function follow(id: string): Promise<void> {
    await writing;
    const found = await cabinet.open(id);
    if (!found || current.value?.id !== id || onTheirWay.length > 0) return;
    if (found.updatedAt === current.value.updatedAt) return;
    selection.follow(found.document);
    show(found);
    notices.done('Changed in another page of this browser, and here as well.', false);
  }

  function lost(): void {
    keptAt.value = null;
    notices.trouble(
      'This case was removed in another page. Here it is still whole; the next change keeps it again.',
    );
  }

  /** Takes a changed document as a new step. */
  async function change(by: Edit, text: string, added: Added = []): Promise<void> {
    notices.done(text);
    await take((s) => ({
      ...s,
      document: by(s.document),
      past: [...s.past, s.document],
      future: [],
      files: new Map([...s.files, ...added]),
    }));
  }

  /** Changes the newest step itself: what belongs to it is taken back with it. */
  const amend = (by: Edit): Promise<void> => take((s) => ({ ...s, document: by(s.document) }));

  /** Makes a step here at once, and then in the storage, on whatever another page has made of it. */
  async function take(step: Step): Promise<void> {
    const before = current.value;
    const at = new Date().toISOString();
    const stamped: Step = (s) => {
      const next = step(s);
      return next && { ...next, updatedAt: at };
    };
    const after = before && stamped(before);
    if (!after) return;
    selection.follow(after.document);
    current.value = after;
    onTheirWay.push(stamped);
    writing = writing.then(() => write(before, stamped));
    await writing;
  }

  async function write(before: OpenCase, step: Step): Promise<void> {
    const { state, isKept, met } = await cabinet.take(base?.id === before.id ? base : before, step);
    onTheirWay.shift();
    if (current.value?.id !== state.id) return;
    base = state;
    if (met === 'change') {
      current.value = onTheirWay.reduce((s, next) => next(s) ?? s, state);
      notices.add(' Another page had changed the case meanwhile; both changes are in it.');
    } else if (met === 'removal')
      notices.add(' The case was gone from the browser’s storage; it is kept again, whole.');
    keptAt.value = isKept ? state.updatedAt : null;
  }

  async function undo(): Promise<void> {
    if (!canUndo.value) return;
    notices.done('Taken back.', false);
    await take((s) => {
      const last = s.past[s.past.length - 1];
      if (!last) return null;
      return { ...s, document: last, past: s.past.slice(0, -1), future: [s.document, ...s.future] };
    });
  }

  async function redo(): Promise<void> {
    if (!canRedo.value) return;
    notices.done('Done again.');
    await take((s) => {
      const [next, ...future] = s.future;
      return next ? { ...s, document: next, past: [...s.past, s.document], future } : null;
    });
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
