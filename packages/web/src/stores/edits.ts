import {
  typedPlace,
  withChange,
  withDeclined,
  withEntry,
  withoutEvidence,
  withPart,
  withPieces,
  withWhole,
  withSettings,
  withWatched,
  newStopId,
  withMoved,
  withName,
  withNewStop,
  withObservation,
  withProtocol,
  withoutStop,
  withRole,
  type CaseDocument,
  type EvidenceEntry,
  type Observation,
} from '@bright-ferry/core/case';
import type { AskKind } from '@bright-ferry/core/asks';
import { kindsFor, type StopSettings } from '@bright-ferry/core/devices';
import { withHeard, type Heard } from '@bright-ferry/core/intake';
import { accept, dismiss, type Proposal } from '@bright-ferry/core/proposals';
import type { Role } from '@bright-ferry/core/site';
import type { MendView, TrialView, VantageCell } from '@bright-ferry/core/views';
import { defineStore } from 'pinia';
import { newId } from '../storage/cabinet.ts';
import { useHistory, type Edit } from './history.ts';

/** Edits of the case on the bench, each one step of its history. */
export const useEdits = defineStore('edits', () => {
  const history = useHistory();

  const edit = (by: Edit, text: string): Promise<void> => history.change(by, text);

  /** Takes what the evidence suggests about the case, or refuses it for good. */
  const answer = (proposal: Proposal, isTaken: boolean): Promise<void> =>
    edit(
      (d) => (isTaken ? accept(d, proposal) : dismiss(d, proposal.id)),
      isTaken ? 'Taken into the case.' : 'Not asked again in this case.',
    );

  /** A stop that the evidence had put on the crossing is not there. */
  async function refuseStop(id: string): Promise<void> {
    const { document } = history;
    if (!document) return;
    const next = dismiss(document, id);
    const lost = (document.evidence?.length ?? 0) - (next.evidence?.length ?? 0);
    const pieces = lost === 1 ? 'piece' : 'pieces';
    const told = lost > 0 ? `, with ${lost} ${pieces} of evidence from there` : '';
    await history.change((d) => dismiss(d, id), `Taken off the crossing${told}.`);
  }

  /** What the caller said, put right. */
  const setHeard = (heard: Heard): Promise<void> =>
    edit((d) => withHeard(d, heard), 'Put right: what was heard.');

  const rename = (stop: string, name: string): Promise<void> =>
    edit((d) => withName(d, stop, name), `Called ${name.trim() || stop} from now on.`);

  /** Says what kind of stop it is; settings that such a stop cannot have go. */
  async function setRole(stop: string, role: Role): Promise<void> {
    const settings = history.document?.path.find((s) => s.id === stop)?.settings;
    const keeps = settings === undefined || kindsFor(role).includes(settings.kind);
    await edit(
      (d) => withRole(d, stop, role, keeps),
      `${history.nameOf(stop)} is another kind of stop now${keeps ? '' : '; what was filled in about it is gone'}.`,
    );
  }

  const moveStop = (stop: string, by: -1 | 1): Promise<void> =>
    edit((d) => withMoved(d, stop, by), `${history.nameOf(stop)} moved along the way.`);

  async function addStop(role: Role, name: string, before: string | null): Promise<void> {
    await edit(
      (d) => withNewStop(d, { id: newStopId(d, role), role, name }, before),
      `${name} put on the way.`,
    );
  }

  /** Takes a stop off the way, and what came from there. */
  async function removeStop(stop: string): Promise<void> {
    const { document } = history;
    if (!document) return;
    const pieces = document.evidence?.filter((e) => e.stop === stop).length ?? 0;
    const told =
      pieces > 0 ? `, with ${pieces} ${pieces === 1 ? 'piece' : 'pieces'} of evidence from there` : '';
    await edit((d) => withoutStop(d, stop), `${history.nameOf(stop)} taken off the way${told}.`);
  }

  /** What the client, or whoever tried, sees now. */
  const observe = (trial: TrialView, outcome: Observation['outcome'], other = false): Promise<void> =>
    edit(
      (d) =>
        withObservation(d, {
          vantage: trial.vantage,
          from: trial.from,
          to: trial.to,
          outcome,
          at: new Date().toISOString(),
          ...(other ? { other } : {}),
        }),
      'Noted what was seen.',
    );

  /** Which protocol a port is for, where nobody had said. */
  const setProtocol = (port: number, protocols: readonly ('tcp' | 'udp')[]): Promise<void> =>
    edit(
      (d) => withProtocol(d, port, protocols),
      `Port ${port} is for ${protocols.join(' and ').toUpperCase()}.`,
    );

  /** What was seen from one place of the grid. */
  const observeFrom = (
    { vantage, from, to }: Pick<VantageCell, 'vantage' | 'from' | 'to'>,
    outcome: Observation['outcome'],
    other = false,
  ): Promise<void> =>
    edit(
      (d) =>
        withObservation(d, {
          vantage,
          ...(from === null ? {} : { from }),
          to: to ?? '',
          outcome,
          at: new Date().toISOString(),
          ...(other ? { other } : {}),
        }),
      'Noted what was seen.',
    );

  const removeEvidence = (file: string): Promise<void> =>
    edit(
      (d) => withoutEvidence(d, file),
      typedPlace(file)
        ? 'Typed line removed, and its facts with it.'
        : 'Evidence removed, and its facts with it.',
    );

  /** Moves a piece of evidence to the stop that it is really from. */
  const moveEvidence = (file: string, stop: string): Promise<void> =>
    edit((d) => withEntry(d, file, (e) => ({ ...e, stop })), `Moved to ${history.nameOf(stop)}.`);

  /** What was sent together is two pieces, the second from that line on; lines count from 1. */
  async function splitEvidence(file: string, line: number): Promise<void> {
    const entry = history.document?.evidence?.find((e) => e.file === file);
    if (!entry) return;
    const lines = history.textOf(file).split(/(?<=\n)/);
    const parts = [lines.slice(0, line - 1), lines.slice(line - 1)].map((l) => l.join(''));
    await putInstead([file], entry, parts, 'Parted into two pieces.');
  }

  /** Two pieces are one, cut where it was sent. */
  async function joinEvidence(first: string, second: string): Promise<void> {
    const entry = history.document?.evidence?.find((e) => e.file === first);
    if (!entry) return;
    const text = [first, second].map((f) => history.textOf(f).replace(/\n?$/, '\n')).join('');
    await putInstead([first, second], entry, [text], 'Joined into one piece.');
  }

  /** What a person said of characters and columns told of the pieces as they were, and goes with them. */
  async function putInstead(
    files: readonly string[],
    { stop, at, command, asked }: EvidenceEntry,
    texts: readonly string[],
    text: string,
  ): Promise<void> {
    const pieces = texts.map((t) => {
      const file = `evidence/${stop}/piece-${newId().slice(-6)}.txt`;
      const said = { ...(at ? { at } : {}), ...(command ? { command } : {}), ...(asked ? { asked } : {}) };
      return { entry: { stop, file, ...said }, bytes: new TextEncoder().encode(t) };
    });
    await history.change(
      (d) =>
        withPieces(
          d,
          files,
          pieces.map((p) => p.entry),
        ),
      text,
      pieces.map((p) => [p.entry.file, p.bytes] as const),
    );
  }

  /** A person's word that nothing is missing in these pieces. */
  const setWhole = (files: readonly string[]): Promise<void> =>
    edit((d) => withWhole(d, files), 'Taken for all that there is.');

  /** Says whether a listing is whole; of a part nothing follows that it does not show. */
  const setPart = (file: string, isPart: boolean): Promise<void> =>
    edit(
      (d) => withPart(d, file, isPart),
      isPart ? 'Only a part: nothing follows from what it does not show.' : 'Taken for the whole listing.',
    );

  /** A case that is settled goes to the end of the desk; it can be opened again. */
  const setClosed = (isClosed: boolean): Promise<void> =>
    edit(
      ({ closed: _, ...d }) => (isClosed ? { ...d, closed: new Date().toISOString() } : d) as CaseDocument,
      isClosed ? 'Closed. It stays on the desk, at its end.' : 'Open again.',
    );

  const decline = (id: string): Promise<void> =>
    edit((d) => withDeclined(d, id), 'Not asked for again in this case.');

  /** The owner says that a mend was made: what is known of that place is from before. */
  async function changeMade({ stop, shownBy, title, settings }: MendView): Promise<void> {
    if (shownBy === null) return;
    const at = new Date().toISOString();
    await edit((d) => {
      const before = d.path.find((s) => s.id === stop)?.settings;
      const change = { stop, yields: shownBy, title, at };
      return settings && before
        ? withChange(withSettings(d, stop, settings), { ...change, before })
        : withChange(d, change);
    }, 'Noted as made. What was known of it is from before; let the client try, or send the listing once more.');
  }

  /** The client tries now, while that is being recorded. */
  async function triesNow(stop: string, yields: AskKind): Promise<void> {
    const at = new Date().toISOString();
    await edit(
      (d) => withWatched(d, { stop, yields, at }),
      'Noted: they try now. Bring what was recorded, and it is looked for at this moment.',
    );
  }

  /**
   * What a technician fills in about a device; null takes it away. Returns what is wrong with it; null: it
   * was kept.
   */
  async function setSettings(stop: string, settings: StopSettings | null): Promise<string | null> {
    if (!history.document) return null;
    const next = JSON.parse(JSON.stringify(withSettings(history.document, stop, settings))) as CaseDocument;
    const { CaseError, checkCaseDocument } = await import('../lib/caseFormat.ts');
    try {
      checkCaseDocument(next);
    } catch (error) {
      if (!(error instanceof CaseError)) return String(error);
      return error.message.replace(/^case\.json: path\[\d+\]\.settings\.?/, '');
    }
    await edit(
      (d) => withSettings(d, stop, settings),
      settings ? 'Settings kept; the crossing follows them.' : 'Settings taken away.',
    );
    return null;
  }

  return {
    answer,
    setHeard,
    rename,
    setRole,
    moveStop,
    addStop,
    removeStop,
    observe,
    observeFrom,
    setProtocol,
    refuseStop,
    removeEvidence,
    moveEvidence,
    setPart,
    splitEvidence,
    joinEvidence,
    setWhole,
    decline,
    setClosed,
    changeMade,
    triesNow,
    setSettings,
  };
});
