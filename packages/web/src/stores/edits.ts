import { withDeclined, type CaseDocument } from '@bright-ferry/core/case';
import { withHeard, type Heard } from '@bright-ferry/core/intake';
import { accept, dismiss, type Proposal } from '@bright-ferry/core/proposals';
import { defineStore } from 'pinia';
import { evidenceEdits } from './edits/evidence.ts';
import { seenEdits } from './edits/seen.ts';
import type { Edits } from './edits/types.ts';
import { wayEdits } from './edits/way.ts';
import { useHistory } from './history.ts';

/** Edits of the case on the bench, each one step of its history. */
export const useEdits = defineStore('edits', () => {
  const history = useHistory();

  const edit: Edits = (by, text) => history.change(by, text);

  /** Takes what the evidence suggests about the case, or refuses it for good. */
  const answer = (proposal: Proposal, isTaken: boolean): Promise<void> =>
    edit(
      (d) => (isTaken ? accept(d, proposal) : dismiss(d, proposal.id)),
      isTaken ? 'Taken into the case.' : 'Not asked again in this case.',
    );

  /** What the caller said, put right. */
  const setHeard = (heard: Heard): Promise<void> =>
    edit((d) => withHeard(d, heard), 'Put right: what was heard.');

  /** A case that is settled goes to the end of the desk; it can be opened again. */
  const setClosed = (isClosed: boolean): Promise<void> =>
    edit(
      ({ closed: _, ...d }) => (isClosed ? { ...d, closed: new Date().toISOString() } : d) as CaseDocument,
      isClosed ? 'Closed. It stays on the desk, at its end.' : 'Open again.',
    );

  const decline = (id: string): Promise<void> =>
    edit((d) => withDeclined(d, id), 'Not asked for again in this case.');

  return {
    answer,
    setHeard,
    decline,
    setClosed,
    ...wayEdits(history, edit),
    ...evidenceEdits(history, edit),
    ...seenEdits(edit),
  };
});
