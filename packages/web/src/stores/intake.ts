import {
  decodeText,
  withEntry,
  withEvidence,
  withObservation,
  withTyped,
  type EvidenceEntry,
} from '@bright-ferry/core/case';
import { saidOf, withPorts } from '@bright-ferry/core/intake';
import type { LookAlike } from '@bright-ferry/core/reading';
import { asAnswer, type Adjustments, type Recognised, type Shapes } from '@bright-ferry/core/views';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import { newId } from '../storage/cabinet.ts';
import { useAnalysis } from './analysis.ts';
import { useHistory } from './history.ts';
import { useNotices } from './notices.ts';
import { useSelection } from './selection.ts';
import { services } from './services.ts';
import { keptPieces, keptText, refusal, SHAPES, shapesOf, titleFor } from './kept.ts';

/** Texts above this are not taken in whole, bytes. */
export const MOST_TEXT = 32 * 1024 * 1024;

/** From here on a text takes long enough to say that it is being read, bytes. */
const LARGE = 1024 * 1024;

/** Evidence that is waiting for its stop. */
export interface Pending {
  readonly bytes: Uint8Array;
  readonly adjust: Adjustments;
  readonly title: string;
  readonly candidates: readonly string[];
  readonly why: string;
  readonly at: string;
  readonly format: string | null;
  readonly found: Extract<Recognised, { is: 'text' }>;
}

/** Evidence, or a typed line, in which letters stand where digits belong. */
export interface Misread {
  readonly bytes: Uint8Array;
  readonly typed: string | null;
  readonly lookAlikes: readonly LookAlike[];
}

export type Asked = Pending | Misread;

/**
 * What comes in: pasted, dropped or typed. It asks for the stop and for misread characters only where the
 * content leaves them open.
 */
export const useIntake = defineStore('intake', () => {
  const { cabinet } = services();
  const history = useHistory();
  const analysis = useAnalysis();
  const notices = useNotices();
  const selection = useSelection();
  /** What is asked, oldest first: nothing that came in is lost while a question is open. */
  const questions = shallowRef<readonly Asked[]>([]);
  const asked = computed(() => questions.value[0] ?? null);
  const pending = computed(() => (asked.value && 'candidates' in asked.value ? asked.value : null));
  const misread = computed(() => (asked.value && 'lookAlikes' in asked.value ? asked.value : null));
  /** Bytes of a large text that is being read. */
  const readingSize = ref<number | null>(null);
  let knownShapes: Shapes | null = null;
  /** Settles when the texts that came before have been taken in or asked about. */
  let inTurn: Promise<void> = Promise.resolve();

  watch(
    () => history.current?.id,
    (id) => {
      questions.value = [];
      if (id !== undefined) void takeUp(id);
    },
    { immediate: true },
  );

  /** What waits is kept in the browser as well, so that a reload loses nothing. */
  function ask(next: readonly Asked[]): void {
    questions.value = next;
    const id = history.current?.id;
    if (id !== undefined) void cabinet.setNote(waitingKey(id), keptText(next));
  }

  /** Asks again what was still asked when the case was left. */
  async function takeUp(id: string): Promise<void> {
    const kept = keptPieces(await cabinet.note(waitingKey(id)));
    if (kept.length > 0) await cabinet.setNote(waitingKey(id), keptText([]));
    for (const { bytes, adjust, typed } of kept) {
      if (history.current?.id !== id) return;
      await (typed === null ? takeIn(bytes, adjust) : typeFact(typed));
    }
  }

  const wait = (question: Asked): void => ask([...questions.value, question]);
  /** The oldest question is answered. */
  const answered = (): void => ask(questions.value.slice(1));

  /** What is asked is left out of the case. */
  function leaveOut(): void {
    answered();
  }

  /**
   * Pieces that wait are looked at again: what came in since may tell whose they are. They keep their order.
   */
  async function settleWaiting(): Promise<void> {
    for (const question of questions.value) {
      if (!('candidates' in question)) continue;
      const found = await analysis.ask('recognise', {
        bytes: question.bytes,
        adjust: question.adjust,
        shapes: {},
      });
      if (found?.is !== 'text' || !found.assignment.sure || !questions.value.includes(question)) continue;
      ask(questions.value.filter((q) => q !== question));
      await file(found.assignment.stop, question);
      return;
    }
  }

  /**
   * One text after the other: where a text belongs is told by what is in already, so that two that come at
   * once may not be read beside each other.
   */
  function takeIn(bytes: Uint8Array, adjust: Adjustments = {}, charactersSaid = false): Promise<void> {
    const of = history.current?.id;
    const turn = inTurn.then(() => {
      if (history.current?.id === of) return takeNow(bytes, adjust, charactersSaid);
      notices.trouble('Another case was opened before the text was read; it was not taken in.');
    });
    inTurn = turn.catch(() => undefined);
    return turn;
  }

  async function takeNow(bytes: Uint8Array, adjust: Adjustments, charactersSaid: boolean): Promise<void> {
    if (!history.current) return;
    const shapes = await knownColumns();
    const found = await whileReading(bytes.length, () =>
      analysis.ask('recognise', { bytes, adjust, shapes }),
    );
    if (found === null) return notices.trouble('Stopped; nothing was taken in.');
    if (found.is !== 'text') return notices.trouble(refusal(found));
    if (found.lookAlikes.length > 0 && !charactersSaid) {
      wait({ bytes, typed: null, lookAlikes: found.lookAlikes });
      return;
    }
    const at = new Date().toISOString();
    const kept: Adjustments = { ...adjust, ...(found.columns ? { columns: found.columns } : {}) };
    const { format, assignment } = found;
    const piece = { bytes, adjust: kept, title: titleFor(found, adjust), at, format, found };
    if (!assignment.sure && format) {
      wait({ ...piece, candidates: assignment.candidates, why: assignment.why });
      return;
    }
    await file(format ? assignment.stop : (selection.openStop ?? assignment.stop), piece);
  }

  /** Shows that a large text is being read. */
  async function whileReading<T>(size: number, work: () => Promise<T>): Promise<T> {
    if (size >= LARGE) readingSize.value = size;
    try {
      return await work();
    } finally {
      readingSize.value = null;
    }
  }

  /** The technician says whether letters stand for digits. */
  async function sayCharacters(isTaken: boolean): Promise<void> {
    const { value: question } = misread;
    if (!question) return;
    answered();
    const corrections = question.lookAlikes.map(({ line, from, to }) => ({ line, from, to }));
    if (question.typed === null) return takeIn(question.bytes, isTaken ? { corrections } : {}, true);
    const typed = corrections.reduce((text, c) => text.split(c.from).join(c.to), question.typed);
    return typeFact(isTaken ? typed : question.typed, true);
  }

  async function file(
    stop: string,
    { bytes, format, at, title, adjust, found }: Omit<Pending, 'candidates' | 'why'>,
  ): Promise<void> {
    if (!history.document) return;
    const path = `evidence/${stop}/${format ?? 'note'}-${newId().slice(-6)}.txt`;
    selection.openStop = stop;
    const shown = analysis.view?.next;
    const next = shown?.kind === 'check' ? shown : null;
    await history.change(
      (d) => withEvidence(d, { stop, file: path, at, ...adjust, ...asAnswer(found, stop, next) }),
      `Put to ${history.nameOf(stop)}: ${title}.`,
      [[path, bytes]],
    );
    await analysis.putFoundStops();
    await settleWaiting();
  }

  /** The technician says whose the waiting piece is. */
  async function assign(stop: string): Promise<void> {
    const { value: piece } = pending;
    if (!piece) return;
    answered();
    await file(stop, piece);
  }

  /** Takes in files that were dropped or chosen. Large and binary ones are refused from their first bytes. */
  async function takeInFile(f: File): Promise<void> {
    const head = new Uint8Array(await f.slice(0, 4096).arrayBuffer());
    const looks = decodeText(head);
    if ('notText' in looks && !/capture/.test(looks.notText))
      return notices.trouble(
        `${f.name} is ${looks.notText}, not text. Send the text that the program prints, or a table ` +
          'copied from its page.',
      );
    if (f.size > MOST_TEXT)
      return notices.trouble(
        `${f.name} has ${Math.round(f.size / 1024 / 1024)} MiB; up to ${MOST_TEXT / 1024 / 1024} MiB ` +
          'are taken. Send the part around the time of the try, or bring it to Traffic, which counts ' +
          'logs and captures of any size.',
      );
    await takeIn(new Uint8Array(await f.arrayBuffer()));
  }

  /** Ports of the service, and what came of the try that is shown, are no facts of a device. */
  async function takeSaid(text: string): Promise<boolean> {
    const said = saidOf(text);
    if (said?.said === 'ports') {
      await history.change((d) => withPorts(d, said.endpoints), `Noted for the service: ${text}`);
      return true;
    }
    const trial = analysis.view?.trial;
    if (said?.said !== 'outcome' || !trial) return false;
    const { vantage, from, to } = trial;
    const at = new Date().toISOString();
    const seen = { vantage, from, to, outcome: said.outcome, at };
    await history.change((d) => withObservation(d, seen), `Noted what was seen: ${text}`);
    return true;
  }

  /** A typed line lives in the case itself, under its stop. */
  async function typeFact(line: string, charactersSaid = false): Promise<void> {
    const text = line.trim();
    if (!history.document || text === '' || (await takeSaid(text))) return;
    const bytes = new TextEncoder().encode(text);
    const found = await analysis.ask('recognise', { bytes, adjust: {}, shapes: {} });
    if (found?.is !== 'text') return;
    if (found.lookAlikes.length > 0 && !charactersSaid) {
      wait({ bytes, typed: text, lookAlikes: found.lookAlikes });
      return;
    }
    const { assignment, format } = found;
    const stop = assignment.sure ? assignment.stop : (selection.openStop ?? assignment.stop);
    const name = history.nameOf(stop);
    selection.openStop = stop;
    await history.change(
      (d) => withTyped(d, stop, { text, at: new Date().toISOString() }),
      format ? `Noted at ${name}: ${text}` : `Kept at ${name} as a note, not understood: ${text}`,
    );
    await analysis.putFoundStops();
  }

  /** Columns of tables that were put right in any case of this browser. */
  async function knownColumns(): Promise<Shapes> {
    knownShapes ??= shapesOf(await cabinet.note(SHAPES));
    return knownShapes;
  }

  /** Says what the columns of a copied table are; the next table of the same shape is read like that. */
  async function setColumns(
    fileName: string,
    columns: NonNullable<EvidenceEntry['columns']>,
    signature: string,
  ): Promise<void> {
    knownShapes = { ...(await knownColumns()), [signature]: columns };
    await cabinet.setNote(SHAPES, JSON.stringify(knownShapes));
    if (!history.document) return;
    await history.change(
      (d) => withEntry(d, fileName, (e) => ({ ...e, columns })),
      'Columns put right; the next table of this shape is read like that.',
    );
  }

  return {
    questions,
    pending,
    misread,
    readingSize,
    leaveOut,
    takeIn,
    takeInFile,
    typeFact,
    sayCharacters,
    assign,
    setColumns,
  };
});

const waitingKey = (id: string): string => `waiting/${id}`;
