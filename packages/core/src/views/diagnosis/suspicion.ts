import type { AskKind } from '../../asks/index.ts';
import type { CaseDocument, Observation } from '../../case/index.ts';
import type { FaultId } from '../../faults/index.ts';
import { answers, type CaseFacts, type ReadFile } from '../../ledger/index.ts';
import type { SourceRef } from '../../place/index.ts';
import {
  asksOf,
  checkWords,
  gradeText,
  inSentence,
  leadingText,
  lowered,
  placeText,
  unnamedText,
  vantageText,
  type Grade,
  type StopNames,
} from '../../words/index.ts';
import { stopNames } from '../bench/names.ts';
import { diagnosis, type Diagnosis } from './diagnosis.ts';
import { candidatesOf } from './gain.ts';
import type { FoundFault } from './foundFault.ts';
import { stillPossible, type Possible } from './stillPossible.ts';

export interface SuspectView {
  readonly fault: FaultId;
  readonly stop: string;
  /** The stop's name. */
  readonly at: string;
  readonly grade: Grade;
  readonly word: string;
  readonly text: string;
  readonly evidence: readonly SourceRef[];
}

/** A place of which something may still be wrong, and what would show most of it. */
export interface OpenPlace {
  readonly key: string;
  readonly text: string;
  readonly stop: string;
  readonly kinds: number;
  /** The ask that shows the most of them; null: nothing that is printed shows any. */
  readonly settledBy: { readonly title: string; readonly kinds: number } | null;
}

/** What may be wrong, how likely, and what tells the suspects apart. */
export interface SuspicionView {
  /** What is suspected most, for the bench, or how much is possible; null: the verdict says it. */
  readonly line: { readonly text: string; readonly isNamed: boolean } | null;
  readonly sure: boolean;
  readonly suspects: readonly SuspectView[];
  /** What is wrong besides, or would be behind the first. */
  readonly also: readonly SuspectView[];
  /** Where something may still be wrong, the likeliest first; empty once the verdict is sure. */
  readonly open: readonly OpenPlace[];
  readonly checks: readonly {
    readonly id: string;
    readonly text: string;
    readonly minutes: number;
  }[];
}

/** How many kinds of fault were possible after each answer. */
export type Shrinking = readonly { readonly after: string; readonly kinds: number }[];

const MOST_CHECKS = 5;

export function suspicionView(facts: CaseFacts): SuspicionView {
  const names = stopNames(facts);
  const found = diagnosis(facts);
  // The verdict says what is sure; more may be wrong behind it, as long as nobody has looked.
  const isSaid = found.verdict.sure || found.verdict.fault !== null;
  const suspects = found.faults.map((f) => suspectOf(f, names));
  const [first] = suspects;
  const open = found.verdict.sure ? [] : openPlaces(facts, names);
  return {
    line: isSaid ? null : lineOf(first, open),
    sure: found.verdict.sure,
    suspects,
    also: found.alsoBroken.map((f) => suspectOf(f, names)),
    open,
    checks: found.nextChecks.slice(0, MOST_CHECKS).map(({ id, text, minutes }) => ({ id, text, minutes })),
  };
}

function lineOf(first: SuspectView | undefined, open: readonly OpenPlace[]): SuspicionView['line'] {
  if (first && first.grade !== 'possible') {
    const text = leadingText(first.grade, inSentence(first.at), lowered(first.text));
    return { text, isNamed: true };
  }
  const kinds = open.reduce((sum, o) => sum + o.kinds, 0);
  const asks = open.flatMap((o) => o.settledBy ?? []);
  const [best = null] = asks.sort((a, b) => b.kinds - a.kinds);
  return kinds > 0 ? { text: unnamedText(kinds, best), isNamed: false } : null;
}

/** Likelihoods from which on people would say so. */
const GRADES: readonly (readonly [number, Grade])[] = [
  [0.95, 'found'],
  [0.75, 'likely'],
  [0.4, 'even'],
];

function suspectOf({ id, stop, probability, text, evidence }: FoundFault, names: StopNames): SuspectView {
  const grade = GRADES.find(([least]) => probability >= least)?.[1] ?? 'possible';
  return { fault: id, stop, at: names(stop), grade, word: gradeText(grade), text, evidence };
}

function openPlaces(facts: CaseFacts, names: StopNames): OpenPlace[] {
  const places = new Map<
    string,
    { at: Possible; kinds: number; share: number; asks: Map<AskKind, number> }
  >();
  for (const p of candidatesOf(facts)) {
    const key = `${p.place} ${p.stop}`;
    const group = places.get(key) ?? { at: p, kinds: 0, share: 0, asks: new Map<AskKind, number>() };
    group.kinds++;
    group.share += p.share;
    if (p.shownBy) group.asks.set(p.shownBy, (group.asks.get(p.shownBy) ?? 0) + 1);
    places.set(key, group);
  }
  return [...places]
    .sort(([, a], [, b]) => b.share - a.share)
    .map(([key, { at, kinds, asks }]): OpenPlace => {
      const [best] = [...asks].sort((a, b) => b[1] - a[1]);
      return {
        key,
        text: placeText(at.place, names(at.stop)),
        stop: at.stop,
        kinds,
        settledBy: best ? { title: checkWords(best[0], names(at.stop)).title, kinds: best[1] } : null,
      };
    });
}

/** More answers than these are not walked through: the oldest ones stand together. */
const MOST_STEPS = 16;

/** How the kinds of fault that were possible became fewer, from the first line of the case on. */
export function shrinking(facts: CaseFacts): Shrinking {
  const names = stopNames(facts);
  const answersInOrder = stepsOf(facts);
  const first = Math.max(0, answersInOrder.length - MOST_STEPS);
  return Array.from({ length: answersInOrder.length - first + 1 }, (_, i) => {
    const known = answersInOrder.slice(0, first + i);
    const last = known[known.length - 1];
    const before = asOf(facts, known);
    const found = diagnosis(before);
    const kinds = found.verdict.sure ? found.faults.length : kindsOf(before, found);
    return { after: last ? stepText(last, facts, names) : 'The first line', kinds };
  });
}

/** What is found stays in question until everything is; what nothing has ruled out is counted once. */
const kindsOf = (facts: CaseFacts, { faults }: Diagnosis): number =>
  new Set([...stillPossible(facts).map((p) => p.fault), ...faults.map((f) => f.id)]).size;

type Step = { readonly file: ReadFile } | { readonly seen: Observation };

/** Pieces as they came, and tries among them where both have a time. */
function stepsOf({ document: { evidence = [], observations = [] }, files }: CaseFacts): Step[] {
  const pieces = evidence.flatMap((e) => {
    const file = files.find((f) => f.file === e.file);
    return file ? [{ step: { file }, at: e.at }] : [];
  });
  const steps: { step: Step; at: string | undefined }[] = [...pieces];
  for (const seen of observations) {
    const behind = steps.findIndex((s) => seen.at !== undefined && s.at !== undefined && s.at > seen.at);
    steps.splice(behind < 0 ? steps.length : behind, 0, { step: { seen }, at: seen.at });
  }
  return steps.map((s) => s.step);
}

/** The case as it was when no more than these had come. */
function asOf(facts: CaseFacts, known: readonly Step[]): CaseFacts {
  const given = new Set(known.flatMap((s) => ('file' in s ? [s.file.file] : [])));
  const { document } = facts;
  const later = new Set((document.evidence ?? []).flatMap((e) => (given.has(e.file) ? [] : [e.file])));
  const before: CaseDocument = {
    ...document,
    evidence: (document.evidence ?? []).filter((e) => given.has(e.file)),
    observations: known.flatMap((s) => ('seen' in s ? [s.seen] : [])),
  };
  return { ...facts, document: before, files: facts.files.filter((f) => !later.has(f.file)) };
}

function stepText(step: Step, { document }: CaseFacts, names: StopNames): string {
  if ('seen' in step) return `A try ${vantageText(step.seen.vantage)}`;
  const { file } = step;
  const role = document.path.find((s) => s.id === file.stop)?.role;
  const asked = role && asksOf(role).find((ask) => answers(file, ask));
  return asked ? checkWords(asked, names(file.stop)).title : `A piece of ${inSentence(names(file.stop))}`;
}
