import {
  typedPlace,
  withEntry,
  withoutEvidence,
  withPart,
  withPieces,
  withWhole,
  type EvidenceEntry,
} from '@bright-ferry/core/case';
import { newId } from '../../storage/cabinet.ts';
import type { Edits, History } from './types.ts';

/** Edits of what was sent: whose it is, whether it is whole, parted, joined, removed. */
export function evidenceEdits(history: History, edit: Edits) {
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

  return { removeEvidence, moveEvidence, splitEvidence, joinEvidence, setWhole, setPart };
}
