import type { CaseDocument, Change } from '../../case/index.ts';
import type { Header } from '../../net/index.ts';
import { awaited, type CaseFacts } from '../../ledger/index.ts';
import { mendChain, sceneFrom, type MendStep } from '../../mend/index.ts';
import { buildSite } from '../../model/index.ts';
import { heldText, mendWords, type StopNames } from '../../words/index.ts';
import type { Aim } from './packet.ts';
import type { CrossingView, TrialView, VerdictView } from './types.ts';
import { heldVerdict, verdictOf } from './verdict.ts';

/** The case with changes that were said to be made and that nothing shows yet: their rehearsal's copy. */
export interface Held {
  /** What follows on that copy; its first step may have a further mend. */
  readonly steps: readonly MendStep[];
  readonly titles: readonly string[];
  readonly stops: ReadonlySet<string>;
}

/**
 * Holds true what was said to be made, until a try or a listing decides; null where nothing was, or where it
 * was not the change that the evidence from before it calls for.
 */
export function heldSteps(facts: CaseFacts, packet: Header, names: StopNames): Held | null {
  const changes = awaited(facts);
  if (changes.length === 0) return null;
  const { document } = facts;
  const rest = (document.changes ?? []).filter((c) => !changes.includes(c));
  const before: CaseFacts = {
    ...facts,
    document: { ...document, changes: rest, path: pathBefore(document, changes) },
  };
  const steps = mendChain(before, sceneFrom(before, packet, buildSite(before)));
  const isMade = ({ mend }: MendStep): boolean =>
    mend !== null && changes.some((c) => c.stop === mend.stop && c.title === mendWords(mend, names).title);
  const open = steps.findIndex((s) => !isMade(s));
  if (open !== changes.length) return null;
  return {
    steps: steps.slice(open),
    titles: changes.map((c) => c.title),
    stops: new Set(changes.map((c) => c.stop)),
  };
}

/** The stops as they were filled in before changes were taken into their settings. */
const pathBefore = ({ path }: CaseDocument, changes: readonly Change[]): CaseDocument['path'] =>
  path.map((s) => {
    const settings = changes.find((c) => c.stop === s.id && c.before)?.before;
    return settings ? { ...s, settings } : s;
  });

/** Somebody tried since, and it did not work: what was said to be made is not held true any more. */
export const isRefuted = (trial: TrialView | null): boolean =>
  trial?.last !== undefined && trial.last !== null && !trial.last.stale && trial.last.outcome !== 'answered';

/** The verdict on the copy, said to be one that a try decides. */
export function verdictOfHeld(
  facts: CaseFacts,
  aim: Aim,
  { steps, titles }: Held,
  names: StopNames,
): VerdictView {
  if (steps[0]?.trace.outcome === 'answered') return heldVerdict(titles, names, steps[0].trace.assumed);
  const verdict = verdictOf(facts, aim, steps, [], names);
  return { ...verdict, sure: false, detail: `${heldText(titles)} ${verdict.detail}`.trim() };
}

/** From the first changed place on the crossing shows what would be. */
export function heldCrossing(view: CrossingView, { stops }: Held): CrossingView {
  const from = view.stops.findIndex((s) => stops.has(s.id));
  return {
    ...view,
    stops: view.stops.map((s, i) =>
      i >= from && from >= 0 && s.lamp === 'lit' && !s.beyond
        ? { ...s, beyond: true, word: i === from ? 'as it was made' : 'would pass' }
        : s,
    ),
  };
}
