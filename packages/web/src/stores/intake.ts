import { withEvidence, withObservation, withTyped } from '@bright-ferry/core/case';
import { saidOf, withPorts } from '@bright-ferry/core/intake';
import { asAnswer, type Adjustments } from '@bright-ferry/core/views';
import { defineStore } from 'pinia';
import { ref, watch } from 'vue';
import { newId } from '../storage/cabinet.ts';
import { useAnalysis } from './analysis.ts';
import { useHistory } from './history.ts';
import { useColumns } from './intake/columns.ts';
import { whyRefused } from './intake/files.ts';
import { refusal, titleFor } from './intake/kept.ts';
import { useWaiting, type Pending } from './intake/waiting.ts';
import { useNotices } from './notices.ts';
import { useSelection } from './selection.ts';

/** From here on a text takes long enough to say that it is being read, bytes. */
const LARGE = 1024 * 1024;

/**
 * What comes in: pasted, dropped or typed. It asks for the stop and for misread characters only where the
 * content leaves them open.
 */
export const useIntake = defineStore('intake', () => {
  const history = useHistory();
  const analysis = useAnalysis();
  const notices = useNotices();
  const selection = useSelection();
  const waiting = useWaiting();
  const { questions, pending, misread, ask, wait, answered, leaveOut } = waiting;
  const { knownColumns, setColumns } = useColumns();
  /** Bytes of a large text that is being read. */
  const readingSize = ref<number | null>(null);
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

  /** Asks again what was still asked when the case was left. */
  async function takeUp(id: string): Promise<void> {
    for (const { bytes, adjust, typed } of await waiting.takeOut(id)) {
      if (history.current?.id !== id) return;
      await (typed === null ? takeIn(bytes, adjust) : typeFact(typed));
    }
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
    const why = await whyRefused(f);
    if (why !== null) return notices.trouble(why);
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
