import type { BenchView, MendView } from '@bright-ferry/core/views';
import {
  decodeText,
  typedPlace,
  withChange,
  withDeclined,
  withEntry,
  withEvidence,
  withoutEvidence,
  withPart,
  withSettings,
  withTyped,
  type CaseDocument,
  type EvidenceEntry,
} from '@bright-ferry/core/case';
import { accept, dismiss, type Proposal } from '@bright-ferry/core/proposals';
import type { StopSettings } from '@bright-ferry/core/devices';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';
import { filesOf, newId, type OpenCase } from '../storage/cabinet.ts';
import type { LookAlike } from '@bright-ferry/core/reading';
import { Stopped } from '../workers/analyst.ts';
import type { Adjustments, Shapes } from '../workers/protocol.ts';
import { useCabinet } from './cabinet.ts';

/** Texts above this are not taken in whole, bytes. */
export const MOST_TEXT = 32 * 1024 * 1024;

/** From here on a text takes long enough to say that it is being read, bytes. */
const LARGE = 1024 * 1024;

/** Under this key the cabinet keeps columns that were put right. */
const SHAPES = 'table-shapes';

/** Evidence that is waiting for its stop, or for what its characters are. */
export interface Pending {
  readonly bytes: Uint8Array;
  readonly adjust: Adjustments;
  readonly title: string;
  readonly candidates: readonly string[];
  readonly why: string;
  readonly at: string;
  readonly format: string | null;
}

/** Evidence, or a typed line, in which letters stand where digits belong. */
export interface Misread {
  readonly bytes: Uint8Array;
  readonly typed: string | null;
  readonly lookAlikes: readonly LookAlike[];
}

/** One line about what just happened. */
export interface Message {
  readonly text: string;
  readonly kind: 'done' | 'trouble';
  readonly canUndo: boolean;
}

/** The case on the bench: its document, its history, and what the worker makes of it. */
export const useBench = defineStore('bench', () => {
  const { cabinet, analyst } = useCabinet();
  const current = shallowRef<OpenCase | null>(null);
  const view = shallowRef<BenchView | null>(null);
  const endpoint = ref<string | null>(null);
  const viewpoint = ref<string | null>(null);
  const openStop = ref<string | null>(null);
  const pending = shallowRef<Pending | null>(null);
  /** Bytes of a large text that is being read. */
  const readingSize = ref<number | null>(null);
  const misread = shallowRef<Misread | null>(null);
  const message = shallowRef<Message | null>(null);
  const working = ref(false);
  const keptAt = ref<string | null>(null);
  const shownSource = shallowRef<{ file: string; line: number; column?: number; endColumn?: number } | null>(
    null,
  );
  const rehearsed = shallowRef<MendView | null>(null);
  const shelfOpen = ref(false);
  /** A line that was not understood, offered for correction in the box. */
  const proposed = ref<string | null>(null);
  let run = 0;
  let knownShapes: Shapes | null = null;

  const document = computed(() => current.value?.document ?? null);
  const canUndo = computed(() => (current.value?.past.length ?? 0) > 0);
  const canRedo = computed(() => (current.value?.future.length ?? 0) > 0);

  /** @param settle puts stops that the evidence shows on the crossing, in the step that brought the evidence */
  async function analyse(settle = false): Promise<void> {
    const open = current.value;
    if (!open) return;
    const mine = ++run;
    working.value = true;
    try {
      const next = await analyst.bench(open.id, open.document, open.files, endpoint.value, viewpoint.value);
      if (mine !== run) return;
      const found = settle ? next.proposals.filter((p) => p.proposal.kind === 'stop') : [];
      if (found.length > 0) return await putOnCrossing(found);
      view.value = next;
      if (openStop.value === null || !next.stops.some((s) => s.id === openStop.value))
        openStop.value = endingStop(next);
    } catch (error) {
      if (error instanceof Stopped) return;
      message.value = {
        kind: 'trouble',
        canUndo: canUndo.value,
        text: `The verdict could not be worked out: ${error instanceof Error ? error.message.split('\n')[0] : String(error)}. Nothing is lost; undo the last step or export the case.`,
      };
    } finally {
      if (mine === run) working.value = false;
    }
  }

  /** Each can be refused where it stands. */
  async function putOnCrossing(found: BenchView['proposals']): Promise<void> {
    const open = current.value!;
    current.value = { ...open, document: found.reduce((d, f) => accept(d, f.proposal), open.document) };
    const told = found.map((f) => ` On the crossing now: ${f.text}`).join('');
    if (message.value) message.value = { ...message.value, text: message.value.text + told };
    const shown = analyse();
    await cabinet.keep(current.value);
    await shown;
  }

  async function open(id: string): Promise<boolean> {
    if (current.value?.id === id) return true;
    const found = await cabinet.open(id);
    if (!found) return false;
    show(found);
    await analyse();
    return true;
  }

  function show(state: OpenCase): void {
    current.value = state;
    view.value = null;
    endpoint.value = null;
    viewpoint.value = null;
    openStop.value = null;
    pending.value = null;
    misread.value = null;
    message.value = null;
    rehearsed.value = null;
    shownSource.value = null;
    keptAt.value = state.updatedAt;
  }

  function close(): void {
    current.value = null;
    view.value = null;
  }

  /** Takes a changed document as a new step of the history. */
  async function change(
    next: CaseDocument,
    text: string,
    added: readonly (readonly [string, Uint8Array])[] = [],
    settle = false,
  ): Promise<void> {
    const before = current.value;
    if (!before) return;
    const files = new Map(before.files);
    for (const [path, bytes] of added) files.set(path, bytes);
    message.value = { kind: 'done', text, canUndo: true };
    await take(
      { ...before, document: next, past: [...before.past, before.document], future: [], files },
      added.map(([path]) => path),
      settle,
    );
  }

  async function take(state: OpenCase, added: readonly string[] = [], settle = false): Promise<void> {
    const stamped = { ...state, updatedAt: new Date().toISOString() };
    current.value = stamped;
    rehearsed.value = null;
    if (shownSource.value && !stamped.document.evidence?.some((e) => e.file === shownSource.value!.file))
      shownSource.value = null;
    const shown = analyse(settle);
    await cabinet.keep(stamped, added);
    keptAt.value = stamped.updatedAt;
    await shown;
  }

  async function undo(): Promise<void> {
    const s = current.value;
    const last = s?.past[s.past.length - 1];
    if (!s || !last) return;
    message.value = { kind: 'done', text: 'Taken back.', canUndo: false };
    await take({ ...s, document: last, past: s.past.slice(0, -1), future: [s.document, ...s.future] });
  }

  async function redo(): Promise<void> {
    const s = current.value;
    const next = s?.future[0];
    if (!s || !next) return;
    message.value = { kind: 'done', text: 'Done again.', canUndo: true };
    await take({ ...s, document: next, past: [...s.past, s.document], future: s.future.slice(1) });
  }

  /** Takes in anything pasted, dropped or typed. Asks for the stop, and for misread characters, only where the content leaves them open. */
  async function takeIn(bytes: Uint8Array, adjust: Adjustments = {}, charactersSaid = false): Promise<void> {
    const open = current.value;
    if (!open) return;
    pending.value = null;
    misread.value = null;
    const known = await shapes();
    const found = await whileReading(bytes.length, () =>
      analyst.recognise(open.id, open.document, open.files, bytes, adjust, known),
    );
    if (found === null) return trouble('Stopped; nothing was taken in.');
    if (found.is === 'empty')
      return trouble(
        'There is nothing in it. An empty listing says nothing; send what the program prints, with the line above it.',
      );
    if (found.is === 'not-text')
      return trouble(
        `This is ${found.what}, not text. ${found.what.includes('picture') ? 'Type the line that matters instead, for example “WAN IP 203.0.113.50”.' : 'Send the text that the program prints: select it, copy it, paste it here.'}`,
      );
    if (found.lookAlikes.length > 0 && !charactersSaid) {
      misread.value = { bytes, typed: null, lookAlikes: found.lookAlikes };
      return;
    }
    const at = new Date().toISOString();
    const kept: Adjustments = { ...adjust, ...(found.columns ? { columns: found.columns } : {}) };
    const what = found.format
      ? `${found.title}, ${found.facts} ${found.facts === 1 ? 'fact' : 'facts'}${found.columns && !adjust.columns ? ', its columns as you put them right before' : ''}`
      : `not understood, kept as a note`;
    if (!found.assignment.sure && found.format) {
      pending.value = {
        bytes,
        adjust: kept,
        title: what,
        candidates: found.assignment.candidates,
        why: found.assignment.why,
        at,
        format: found.format,
      };
      return;
    }
    const stop = found.format ? found.assignment.stop : (openStop.value ?? found.assignment.stop);
    await file(stop, bytes, found.format, at, what, kept);
  }

  /** Shows that a large text is being read; null where that was stopped. */
  async function whileReading<T>(size: number, work: () => Promise<T>): Promise<T | null> {
    if (size >= LARGE) readingSize.value = size;
    try {
      return await work();
    } catch (error) {
      if (error instanceof Stopped) return null;
      throw error;
    } finally {
      readingSize.value = null;
    }
  }

  /** Stops what is being read; the case is worked out anew without it. */
  function stopReading(): void {
    analyst.stop();
    void analyse();
  }

  /** The technician says whether letters stand for digits. */
  async function sayCharacters(taken: boolean): Promise<void> {
    const asked = misread.value;
    if (!asked) return;
    misread.value = null;
    const corrections = asked.lookAlikes.map(({ line, from, to }) => ({ line, from, to }));
    if (asked.typed !== null)
      return typeFact(
        taken ? corrections.reduce((text, c) => text.split(c.from).join(c.to), asked.typed) : asked.typed,
        true,
      );
    await takeIn(asked.bytes, taken ? { corrections } : {}, true);
  }

  async function file(
    stop: string,
    bytes: Uint8Array,
    format: string | null,
    at: string,
    what: string,
    adjust: Adjustments,
  ): Promise<void> {
    const open = current.value!;
    pending.value = null;
    const name = open.document.path.find((s) => s.id === stop)?.name ?? stop;
    const path = `evidence/${stop}/${format ?? 'note'}-${newId().slice(-6)}.txt`;
    openStop.value = stop;
    await change(
      withEvidence(open.document, { stop, file: path, at, ...adjust }),
      `Put to ${name}: ${what}.`,
      [[path, bytes]],
      true,
    );
  }

  /** Takes what the evidence suggests about the case, or refuses it for good. */
  async function answer(proposal: Proposal, taken: boolean): Promise<void> {
    const open = current.value;
    if (!open) return;
    await change(
      taken ? accept(open.document, proposal) : dismiss(open.document, proposal.id),
      taken ? 'Taken into the case.' : 'Not asked again in this case.',
    );
  }

  /** A stop that the evidence had put on the crossing is not there. */
  async function refuseStop(id: string): Promise<void> {
    const open = current.value;
    if (!open) return;
    const next = dismiss(open.document, id);
    const lost = (open.document.evidence?.length ?? 0) - (next.evidence?.length ?? 0);
    await change(
      next,
      `Taken off the crossing${lost > 0 ? `, with ${lost} ${lost === 1 ? 'piece' : 'pieces'} of evidence from there` : ''}.`,
    );
  }

  async function assign(stop: string): Promise<void> {
    const p = pending.value;
    if (p) await file(stop, p.bytes, p.format, p.at, p.title, p.adjust);
  }

  /** Takes in files that were dropped or chosen. Large and binary ones are refused from their first bytes. */
  async function takeInFile(f: File): Promise<void> {
    const head = new Uint8Array(await f.slice(0, 4096).arrayBuffer());
    const looks = decodeText(head);
    if ('notText' in looks && !/capture/.test(looks.notText))
      return trouble(
        `${f.name} is ${looks.notText}, not text. Send the text that the program prints, or a table copied from its page.`,
      );
    if (f.size > MOST_TEXT)
      return trouble(
        `${f.name} has ${Math.round(f.size / 1024 / 1024)} MiB; up to ${MOST_TEXT / 1024 / 1024} MiB are taken. Send the part around the time of the try.`,
      );
    await takeIn(new Uint8Array(await f.arrayBuffer()));
  }

  /** A typed line lives in the case itself, under its stop. */
  async function typeFact(text: string, charactersSaid = false): Promise<void> {
    const open = current.value;
    if (!open || text.trim() === '') return;
    const bytes = new TextEncoder().encode(text);
    misread.value = null;
    const found = await analyst.recognise(open.id, open.document, open.files, bytes, {}, {});
    if (found.is !== 'text') return;
    if (found.lookAlikes.length > 0 && !charactersSaid) {
      misread.value = { bytes, typed: text, lookAlikes: found.lookAlikes };
      return;
    }
    const stop = found.assignment.sure ? found.assignment.stop : (openStop.value ?? found.assignment.stop);
    const next = withTyped(open.document, stop, { text: text.trim(), at: new Date().toISOString() });
    const name = open.document.path.find((s) => s.id === stop)?.name ?? stop;
    openStop.value = stop;
    await change(
      next,
      found.format
        ? `Noted at ${name}: ${text.trim()}`
        : `Kept at ${name} as a note, not understood: ${text.trim()}`,
      [],
      true,
    );
  }

  async function removeEvidence(fileName: string): Promise<void> {
    const open = current.value;
    if (!open) return;
    await change(
      withoutEvidence(open.document, fileName),
      typedPlace(fileName)
        ? 'Typed line removed, and its facts with it.'
        : 'Evidence removed, and its facts with it.',
    );
  }

  /** Columns of tables that were put right in any case of this browser. */
  async function shapes(): Promise<Shapes> {
    if (knownShapes === null) {
      try {
        knownShapes = JSON.parse((await cabinet.note(SHAPES)) ?? '{}') as Shapes;
      } catch {
        knownShapes = {};
      }
    }
    return knownShapes;
  }

  /** Says what the columns of a copied table are; the next table of the same shape is read like that. */
  async function setColumns(
    fileName: string,
    columns: NonNullable<EvidenceEntry['columns']>,
    signature: string,
  ): Promise<void> {
    knownShapes = { ...(await shapes()), [signature]: columns };
    await cabinet.setNote(SHAPES, JSON.stringify(knownShapes));
    await changeEntry(
      fileName,
      (e) => ({ ...e, columns }),
      'Columns put right; the next table of this shape is read like that.',
    );
  }

  /** The owner says that a mend was made: what is known of that place is from before. */
  async function changeMade(mend: MendView): Promise<void> {
    const open = current.value;
    if (!open || mend.shownBy === null) return;
    const { stop, shownBy, title } = mend;
    await change(
      withChange(open.document, { stop, yields: shownBy, title, at: new Date().toISOString() }),
      'Noted as made. What was known of it is from before; let the client try, or send the listing once more.',
    );
  }

  /** Says whether a listing is whole; of a part nothing follows that it does not show. */
  async function setPart(fileName: string, part: boolean): Promise<void> {
    const open = current.value;
    if (!open) return;
    await change(
      withPart(open.document, fileName, part),
      part ? 'Only a part: nothing follows from what it does not show.' : 'Taken for the whole listing.',
    );
  }

  async function changeEntry(
    fileName: string,
    by: (entry: EvidenceEntry) => EvidenceEntry,
    text: string,
  ): Promise<void> {
    const open = current.value;
    if (!open) return;
    await change(withEntry(open.document, fileName, by), text);
  }

  /** Moves a piece of evidence to the stop that it is really from. */
  async function moveEvidence(fileName: string, stop: string): Promise<void> {
    const open = current.value;
    if (!open) return;
    await change(
      withEntry(open.document, fileName, (e) => ({ ...e, stop })),
      `Moved to ${open.document.path.find((s) => s.id === stop)?.name ?? stop}.`,
    );
  }

  async function decline(id: string): Promise<void> {
    const open = current.value;
    if (open) await change(withDeclined(open.document, id), 'Not asked for again in this case.');
  }

  async function edit(part: Partial<CaseDocument>, text: string): Promise<void> {
    const open = current.value;
    if (open) await change({ ...open.document, ...part }, text);
  }

  /** Tries it from another place: the client, the client over IPv6, a machine beside the server. */
  async function lookFrom(key: string): Promise<void> {
    viewpoint.value = key;
    rehearsed.value = null;
    await analyse();
    if (view.value) openStop.value = endingStop(view.value);
  }

  /** What a technician fills in about a device; null takes it away. */
  async function setSettings(stop: string, settings: StopSettings | null): Promise<string | null> {
    const open = current.value;
    if (!open) return null;
    const next = JSON.parse(JSON.stringify(withSettings(open.document, stop, settings))) as CaseDocument;
    const { CaseError, checkCaseDocument } = await import('../lib/caseFormat.ts');
    try {
      checkCaseDocument(next);
    } catch (error) {
      return error instanceof CaseError
        ? error.message.replace(/^case\.json: path\[\d+\]\.settings\.?/, '')
        : String(error);
    }
    await change(next, settings ? 'Settings kept; the crossing follows them.' : 'Settings taken away.');
    return null;
  }

  async function shelf() {
    const open = current.value;
    return open ? analyst.shelf(open.id, open.document, open.files) : null;
  }

  async function reading(file: string) {
    const open = current.value;
    return open ? analyst.reading(open.id, open.document, open.files, file) : null;
  }

  async function openings() {
    const open = current.value;
    return open ? analyst.openings(open.id, open.document, open.files) : null;
  }

  async function choose(key: string): Promise<void> {
    endpoint.value = key;
    rehearsed.value = null;
    await analyse();
    if (view.value) openStop.value = endingStop(view.value);
  }

  function textOf(fileName: string): string {
    const typed = typedPlace(fileName);
    if (typed)
      return current.value?.document.path.find((s) => s.id === typed.stop)?.typed?.[typed.index]?.text ?? '';
    const bytes = current.value?.files.get(fileName);
    const decoded = bytes ? decodeText(bytes) : null;
    return decoded && 'text' in decoded ? decoded.text : '(this file is not text)';
  }

  function exported(): { document: CaseDocument; files: Map<string, Uint8Array> } | null {
    const open = current.value;
    return open ? { document: open.document, files: filesOf(open.document, open.files) } : null;
  }

  function trouble(text: string): void {
    message.value = { kind: 'trouble', text, canUndo: false };
  }

  return {
    current,
    view,
    document,
    endpoint,
    openStop,
    pending,
    message,
    working,
    keptAt,
    shownSource,
    rehearsed,
    canUndo,
    canRedo,
    open,
    show,
    close,
    undo,
    redo,
    takeIn,
    takeInFile,
    typeFact,
    assign,
    readingSize,
    stopReading,
    misread,
    sayCharacters,
    setColumns,
    setPart,
    changeMade,
    removeEvidence,
    moveEvidence,
    decline,
    answer,
    refuseStop,
    edit,
    choose,
    viewpoint,
    lookFrom,
    setSettings,
    openings,
    shelf,
    reading,
    shelfOpen,
    proposed,
    textOf,
    exported,
    trouble,
  };
});

/** The stop to look at first: where it ends, else the first one in fog, else the last. */
function endingStop(view: BenchView): string | null {
  const ids = new Set(view.stops.map((s) => s.id));
  const real = view.crossing.stops.filter((s) => ids.has(s.id));
  const program = view.crossing.stops.find((s) => s.id === 'program' && s.ends);
  return (
    (program
      ? real[real.length - 1]
      : (real.find((s) => s.ends) ?? real.find((s) => s.lamp === 'fogged') ?? real[real.length - 1])
    )?.id ?? null
  );
}
