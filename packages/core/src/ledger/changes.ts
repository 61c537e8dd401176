import type { CaseDocument, Change } from '../case/index.ts';
import { answers } from './answers.ts';
import type { CaseFacts, ReadFile } from './caseFacts.ts';

/** A piece without a time is from before every change: it was there when the change was worked out. */
const isBefore = (file: Pick<ReadFile, 'at'>, change: Change): boolean =>
  file.at === null || Date.parse(file.at) < Date.parse(change.at);
/** A name is looked up anywhere. */
const isAt = (file: Pick<ReadFile, 'stop'>, change: Change): boolean =>
  file.stop === change.stop || change.yields === 'name';

/** The change since which a piece of evidence is stale; null where it is not. */
export const staleSince = (file: ReadFile, document: CaseDocument): Change | null =>
  document.changes?.find((c) => isAt(file, c) && isBefore(file, c) && answers(file, c.yields)) ?? null;

/** Changes that no evidence shows yet. */
export const awaited = (facts: CaseFacts): Change[] =>
  (facts.document.changes ?? []).filter(
    (c) => !facts.files.some((f) => isAt(f, c) && !isBefore(f, c) && answers(f, c.yields)),
  );
