import type { AskKind } from '../../asks/index.ts';
import type { ServiceEndpoint } from '../../case/index.ts';
import { exposureChange, type Exposure } from '../../exposure/index.ts';
import { checkDialled } from '../../intake/index.ts';
import type { FaultId } from '../../faults/index.ts';
import { awaited, type CaseFacts } from '../../ledger/index.ts';
import { mendChain, sceneFrom, type Mend, type MendStep } from '../../mend/index.ts';
import { buildSite } from '../../model/index.ts';
import type { SourceRef } from '../../place/index.ts';
import { TooMuchWork } from '../../rules/index.ts';
import type { Site } from '../../site/index.ts';
import { checkWords, mendWords, type MendWords } from '../../words/index.ts';
import { openChecks, type Check } from '../bench/checks.ts';
import { neverArrives } from '../bench/crossingView.ts';
import { stopNames } from '../bench/names.ts';
import { aimOf, packetFor } from '../bench/packet.ts';
import { healthy } from './healthy.ts';
import { recognised } from './recognised.ts';
import { benchView } from '../bench/view.ts';

/** A fault that was found, how likely it is, and on what that rests. */
export interface FoundFault {
  readonly id: FaultId;
  readonly stop: string;
  readonly probability: number;
  readonly text: string;
  readonly evidence: readonly SourceRef[];
}

export interface NextCheck {
  readonly id: string;
  readonly stop: string;
  readonly yields: AskKind;
  readonly text: string;
  readonly minutes: number;
}

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
/** What is left to what nobody has thought of. */
const SHARE = 0.95;

/**
 * The faults on the way of the client's packets, from the evidence alone: the one that ends them first, and
 * what would end them after it. Nothing is guessed where the evidence leaves it open: then it is asked for.
 */
export function diagnosis(facts: CaseFacts): Diagnosis {
  const names = stopNames(facts);
  const site = buildSite(facts);
  const aim = aimOf(facts);
  const { verdict } = benchView(facts);
  const found = (facts.document.service?.endpoints ?? []).flatMap((endpoint) =>
    walked(facts, site, endpoint),
  );
  const shown = found.find((f) => isDecided(f.steps)) ?? found.find((f) => !isAnswered(f.steps)) ?? found[0];
  const steps = shown?.steps ?? [];
  const isSure = verdict.sure && (verdict.lamp === 'lit' ? !failsAllTheSame(facts) : isDecided(steps));
  const decided = isSure && verdict.lamp === 'shut' ? steps.flatMap((s) => (s.mend ? [s] : [])) : [];
  const mends = isSure ? decided : suspectedSteps(facts);
  const likely = isSure ? DECIDED : SUSPECTED;
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
  const shownBy = isSure ? [] : recognised(facts);
  const found1 = first ? faultOf(first, likely) : [];
  const ranked = weighed([...shownBy.filter((r) => r.probability >= likely), ...found1, ...shownBy]);
  // Behind what is sure stands what would be wrong if the rest is as it should be.
  const known = new Set(mends.map((s) => s.mend?.fault));
  const unseen =
    isSure && first
      ? suspectedSteps(facts)
          .filter((s) => !known.has(s.mend?.fault))
          .flatMap((s) => faultOf(s, SUSPECTED))
      : [];
  const checks =
    isSure && awaited(facts).length === 0 ? [] : openChecks(facts, site, aim, steps[0]?.trace ?? null);
  return {
    verdict: { sure: isSure, fault: isSure ? (first?.mend?.fault ?? null) : null, text: verdict.headline },
    faults: ranked.slice(0, MOST_SUSPECTS),
    alsoBroken: [...later.flatMap((s) => faultOf(s, likely)), ...unseen],
    nextChecks: checks.map((c) => nextCheck(c, facts, names)),
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

/** No more suspects than these are named. */
const MOST_SUSPECTS = 5;

/** Each fault once, in its order; together no likelier than certainty. */
function weighed(list: readonly FoundFault[]): FoundFault[] {
  const once = list.filter((f, i) => list.findIndex((o) => o.id === f.id && o.stop === f.stop) === i);
  let rest = 1;
  return once.map((f) => {
    const probability = Math.min(f.probability, rest) * (f.probability < DECIDED ? SHARE : 1);
    rest -= probability;
    return { ...f, probability };
  });
}

/** What is wrong by what is known, if the rest is as it should be. */
function suspectedSteps(facts: CaseFacts): (MendStep & { readonly mend: Mend | null })[] {
  const completed = healthy(facts);
  const site = buildSite(completed);
  const found = (facts.document.service?.endpoints ?? []).flatMap((e) => walked(completed, site, e));
  const shown = found.find((f) => f.steps[0]?.mend && !isAnswered(f.steps)) ?? found[0];
  return (shown?.steps ?? []).filter((s) => s.mend !== null);
}

interface Walked {
  readonly steps: readonly MendStep[];
}

/** Both ends of a range of ports are tried: a row may leave one of them out. */
function walked(facts: CaseFacts, site: Site, endpoint: ServiceEndpoint): Walked[] {
  const last = endpoint.portEnd ?? endpoint.port;
  const ends = last > endpoint.port ? [endpoint, { ...endpoint, port: last }] : [endpoint];
  return ends.flatMap((e) => {
    const packet = packetFor(facts, last > endpoint.port ? { ...aimOf(facts), port: null } : aimOf(facts), e);
    return packet ? [{ steps: mendChain(facts, sceneFrom(facts, packet, site)) }] : [];
  });
}

const isAnswered = ([first]: readonly MendStep[]): boolean => first?.trace.outcome === 'answered';
const isDecided = ([first]: readonly MendStep[]): boolean =>
  first !== undefined &&
  first.mend !== null &&
  (first.trace.outcome !== 'unknown' || neverArrives(first.trace.shown));

function nextCheck(
  { id, stop, yields }: Check,
  facts: CaseFacts,
  names: ReturnType<typeof stopNames>,
): NextCheck {
  const role = facts.document.path.find((p) => p.id === stop)?.role ?? null;
  const port = facts.document.service?.endpoints?.[0]?.port ?? null;
  const { title, minutes } = checkWords(yields, names(stop), aimOf(facts).name, port, role);
  return { id, stop, yields, text: title, minutes };
}

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
