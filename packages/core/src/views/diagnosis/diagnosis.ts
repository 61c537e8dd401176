import { exposureChange, type Exposure } from '../../exposure/index.ts';
import { checkDialled } from '../../intake/index.ts';
import type { FaultId } from '../../faults/index.ts';
import { awaited, type CaseFacts } from '../../ledger/index.ts';
import { mendChain, sceneFrom, type Mend, type MendStep } from '../../mend/index.ts';
import { buildSite } from '../../model/index.ts';
import { TooMuchWork } from '../../rules/index.ts';
import type { Site } from '../../site/index.ts';
import { mendWords, type MendWords, type StopNames } from '../../words/index.ts';
import { openChecks } from '../bench/checks.ts';
import { neverArrives } from '../bench/crossingView.ts';
import { stopNames } from '../bench/names.ts';
import { aimOf, packetsFor } from '../bench/packet.ts';
import type { FoundFault } from './foundFault.ts';
import { healthy } from './healthy.ts';
import { openFaults, otherLineFault } from './openFaults.ts';
import { nextChecks, type NextCheck } from './nextChecks.ts';
import { recognised } from './recognised.ts';
import { benchView } from '../bench/view.ts';

export interface DiagnosisMend {
  readonly fault: FaultId;
  readonly stop: string;
  readonly words: MendWords;
  readonly opens: readonly Exposure[];
  readonly closes: readonly Exposure[];
}

/** What is wrong in a case, what is to be asked next, and what to change. */
export interface Diagnosis {
  readonly verdict: { readonly sure: boolean; readonly fault: FaultId | null; readonly text: string };
  readonly faults: readonly FoundFault[];
  readonly alsoBroken: readonly FoundFault[];
  readonly nextChecks: readonly NextCheck[];
  readonly mends: readonly DiagnosisMend[];
}

/** How sure a fault is that the evidence alone decides: what nobody looked at may be wrong as well. */
const DECIDED = 0.97;
/** How likely a fault is that is there if all that nobody told of is as it should be. */
const SUSPECTED = 0.8;
/** How likely one is at a stop of which everything was listed. */
const FOUND = 0.97;

/**
 * The faults on the way of the client's packets, from the evidence alone: the one that ends them first, and
 * what would end them after it. Nothing is guessed where the evidence leaves it open: then it is asked for.
 */
export function diagnosis(facts: CaseFacts): Diagnosis {
  const names = stopNames(facts);
  const site = buildSite(facts);
  const aim = aimOf(facts);
  const { verdict } = benchView(facts);
  const steps = walkOf(facts, site) ?? [];
  const isSure = verdict.sure && (verdict.lamp === 'lit' ? !failsAllTheSame(facts) : isDecided(steps));
  const isHealthy = isSure && verdict.lamp === 'lit';
  const decided = isSure && !isHealthy ? steps.flatMap((s) => (s.mend ? [s] : [])) : [];
  const world = isHealthy ? null : completedWorld(facts);
  const mends = isSure ? decided : (world?.suspects ?? []);
  const likely = isSure || !world ? DECIDED : likelyAt(world.facts, mends[0]?.mend);
  const faultOf = ({ mend }: { mend: Mend | null }, probability: number): FoundFault[] =>
    mend
      ? [
          {
            id: mend.fault,
            stop: mend.stop,
            probability,
            text: mendWords(mend, names).wrong,
            evidence: mend.evidence,
          },
        ]
      : [];
  const [first, ...later] = mends;
  // A network in which nothing is wrong was tried in a way that proves nothing.
  const shownBy = isSure && !isHealthy ? [] : recognised(facts);
  const records = isHealthy ? shownBy.filter((r) => r.id.startsWith('test-')) : shownBy;
  const guesses = world ? guessed(world, names) : [];
  const ranked = weighed([
    ...records.filter((r) => r.probability >= likely || isHealthy),
    ...(first ? faultOf(first, likely) : guesses),
    ...records,
  ]);
  // Behind what is sure stands what would be wrong if the rest is as it should be.
  const known = new Set(mends.map((s) => s.mend?.fault));
  const behind = isSure && first ? (world?.suspects ?? []).filter((s) => !known.has(s.mend?.fault)) : [];
  const unseen = isSure
    ? [...behind.flatMap((s) => faultOf(s, SUSPECTED)), ...(first ? guesses : [])]
    : ranked.slice(MOST_SUSPECTS);
  const isDone = isSure && awaited(facts).length === 0;
  return {
    verdict: { sure: isSure, fault: isSure ? (first?.mend?.fault ?? null) : null, text: verdict.headline },
    faults: ranked.slice(0, MOST_SUSPECTS),
    alsoBroken: [...later.flatMap((s) => faultOf(s, likely)), ...unseen],
    nextChecks: isDone ? [] : nextChecks(openChecks(facts, site, aim, steps[0]?.trace ?? null), facts, names),
    mends: decided.flatMap((step) => mendOf(step, names)),
  };
}

/**
 * What the client sees speaks against a way on which nothing is wrong: something that nobody looked at is, as
 * long as no newer try was seen to work.
 */
function failsAllTheSame({ document }: CaseFacts): boolean {
  const { dials, symptom = 'unknown' } = document.client ?? {};
  // What cannot be dialled as it is written reaches nothing, whatever it was taken for.
  if (dials !== undefined && checkDialled(dials, document.service?.endpoints ?? []).length > 0) return true;
  if (symptom === 'connects-then-fails' || symptom === 'sometimes') return true;
  const own = document.observations?.findLast(
    (o) => o.vantage === 'client' || o.vantage === 'client-by-name',
  );
  return symptom !== 'unknown' && own?.outcome !== 'answered';
}

/**
 * A fault at a stop of which everything is known is there, whatever else may be wrong as well; where it rests
 * on an address that was only taken to be so, it is likely.
 */
function likelyAt({ files, document }: CaseFacts, mend: Mend | null | undefined): number {
  if (!mend) return SUSPECTED;
  const role = document.path.find((s) => s.id === mend.stop)?.role;
  const isByAddress = role === 'client' || /^fwd-(?:target|shadowed)/.test(mend.fault);
  const isAssumed = files.some(
    (f) =>
      f.file.startsWith('assumed/') &&
      f.facts.some((x) => x.kind !== 'setting') &&
      (f.stop === mend.stop || (isByAddress && f.facts.some((x) => ADDRESSES.has(x.kind)))),
  );
  return isAssumed ? SUSPECTED : FOUND;
}

const ADDRESSES: ReadonlySet<string> = new Set(['labelled', 'name', 'address']);

/** No more suspects than these are named. */
const MOST_SUSPECTS = 5;

/** Each fault once, in its order; together no likelier than certainty. */
function weighed(list: readonly FoundFault[]): FoundFault[] {
  const once = list.filter((f, i) => list.findIndex((o) => o.id === f.id && o.stop === f.stop) === i);
  let rest = 1;
  return once.map((f) => {
    const probability = Math.min(f.probability, rest);
    rest -= probability;
    return { ...f, probability };
  });
}

/** The case with what nobody told of as it should be, and how its packets fare. */
interface World {
  readonly facts: CaseFacts;
  readonly site: Site;
  readonly steps: readonly MendStep[];
  /** What is wrong by what is known. */
  readonly suspects: readonly MendStep[];
}

function completedWorld(facts: CaseFacts): World {
  const completed = healthy(facts);
  const site = buildSite(completed);
  const steps = walkOf(completed, site) ?? [];
  return { facts: completed, site, steps, suspects: steps.filter((s) => s.mend !== null) };
}

/** What an open crossing points to, where the rest is as it should be. */
function guessed({ facts, site, steps }: World, names: StopNames): FoundFault[] {
  const last = steps[steps.length - 1];
  if (!last) return [];
  const { address } = last.scene.packet.destination;
  return [...openFaults(facts, last.trace, names), ...otherLineFault(site, address)];
}

/** The mends of the packet that tells most: a decided one, else one that is not answered. */
function walkOf(facts: CaseFacts, site: Site): readonly MendStep[] | null {
  const aim = aimOf(facts);
  const all = (facts.document.service?.endpoints ?? [])
    .flatMap((e) => packetsFor(facts, aim, e))
    .map((packet) => mendChain(facts, sceneFrom(facts, packet, site)));
  return (
    all.find(isDecided) ??
    all.find((steps) => steps[0]?.mend && !isAnswered(steps)) ??
    all.find((steps) => !isAnswered(steps)) ??
    all[0] ??
    null
  );
}

const isAnswered = ([first]: readonly MendStep[]): boolean => first?.trace.outcome === 'answered';
const isDecided = ([first]: readonly MendStep[]): boolean =>
  first !== undefined &&
  first.mend !== null &&
  (first.trace.outcome !== 'unknown' || neverArrives(first.trace.shown));

/** A mend with the exact difference of what outside senders reach before and after it. */
function mendOf({ scene, mend }: MendStep, names: ReturnType<typeof stopNames>): DiagnosisMend[] {
  if (!mend) return [];
  const after = mend.apply?.(scene);
  const change = after ? changeOf(scene.site, after.site) : { opened: [], closed: [] };
  return [
    {
      fault: mend.fault,
      stop: mend.stop,
      words: mendWords(mend, names),
      opens: change.opened,
      closes: change.closed,
    },
  ];
}

function changeOf(before: Site, after: Site): ReturnType<typeof exposureChange> {
  try {
    return exposureChange(before, after);
  } catch (error) {
    if (error instanceof TooMuchWork) return { opened: [], closed: [] };
    throw error;
  }
}
