import { exposureChange, type Exposure } from '../../exposure/index.ts';
import { dialSlips } from '../bench/dialSlips.ts';
import { type FaultId } from '../../faults/index.ts';
import { awaited, type CaseFacts } from '../../ledger/index.ts';
import { announcedMend, otherSteps, sceneFrom, type Mend, type MendStep } from '../../mend/index.ts';
import { buildSite } from '../../model/index.ts';
import { TooMuchWork } from '../../rules/index.ts';
import type { Site } from '../../site/index.ts';
import { mendWords, type MendWords } from '../../words/index.ts';
import { openChecks } from '../bench/checks.ts';
import { stopNames } from '../bench/names.ts';
import { aimOf, packetsFor } from '../bench/packet.ts';
import type { FoundFault } from './foundFault.ts';
import { beforeChecks, nextChecks, outerChecks, restChecks } from './nextChecks.ts';
import { once, type NextCheck } from './openChecks.ts';
import { pastRelay } from './pastRelay.ts';
import { recognised } from './recognised.ts';
import { benchView } from '../bench/view.ts';
import { mappingOff } from './openFaults.ts';
import { completedWorld, guessed, isDecided, walkOf } from './worlds.ts';
import { BY_GUESS, likelyAt, MOST_SUSPECTS, SUSPECTED, weighed } from './suspects.ts';

export interface DiagnosisMend {
  readonly fault: FaultId;
  readonly stop: string;
  readonly words: MendWords;
  readonly opens: readonly Exposure[];
  readonly closes: readonly Exposure[];
  /** Which of several ways it belongs to, from 1; missing: there is one. */
  readonly variant?: number;
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

/**
 * How likely it is that a fault which is certainly there explains everything, as long as nobody looked at the
 * server behind it.
 */
const NOT_ALONE = 0.9;

/** From here on a fault is taken to be there. */
const CERTAIN = 0.95;

/**
 * The faults on the way of the client's packets, from the evidence alone: the one that ends them first, and
 * what would end them after it. Nothing is guessed where the evidence leaves it open: then it is asked for.
 */
export function diagnosis(given: CaseFacts): Diagnosis {
  const facts = pastRelay(given);
  const names = stopNames(facts);
  const site = buildSite(facts);
  const aim = aimOf(facts);
  const { verdict, afterwards } = benchView(facts);
  const steps = walkOf(facts, site) ?? [];
  const isSure = verdict.sure && (verdict.lamp === 'lit' ? !failsAllTheSame(facts, steps) : isDecided(steps));
  const isHealthy = isSure && verdict.lamp === 'lit' && afterwards === null;
  const decided = isSure && !isHealthy ? steps.flatMap((s) => (s.mend ? [s] : [])) : [];
  const world = isHealthy ? null : completedWorld(facts);
  const mends = isSure ? decided : (world?.suspects ?? []);
  const likely = isSure || !world ? DECIDED : likelyAt(world.facts, mends[0]);
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
  const seen = recognised(facts);
  const shownBy = isSure && !isHealthy ? [] : seen;
  const records = isHealthy ? shownBy.filter((r) => r.id.startsWith('test-')) : shownBy;
  const off = isSure ? null : mappingOff(facts);
  const guesses = world ? guessed(world, names) : [];
  const ranked = weighed([
    ...records.filter((r) => r.probability >= likely || isHealthy),
    ...(off ? [off] : []),
    ...(first ? faultOf(first, likely) : guesses),
    ...records,
    ...(first ? guesses : []),
  ]);
  // Behind what is sure stands what would be wrong if the rest is as it should be.
  const known = new Set(mends.map((s) => s.mend?.fault));
  const behind = isSure && first ? (world?.suspects ?? []).filter((s) => !known.has(s.mend?.fault)) : [];
  const unseen = isSure
    ? [...behind.flatMap((s) => faultOf(s, SUSPECTED)), ...(first ? guesses : [])]
    : ranked.slice(MOST_SUSPECTS);
  // What is dialled in a wrong way is wrong whatever is wrong behind it.
  const dialled = decided.length > 0 ? seen.filter((r) => r.id.startsWith('dial-')) : [];
  const isDone = isSure && awaited(facts).length === 0;
  const top = ranked[0];
  // What hangs on a guessed address is settled by that address, and by no try.
  const isPursued = (first !== undefined && likely === BY_GUESS) || (top?.probability ?? 0) >= SUSPECTED;
  const isCertain = top !== undefined && top.probability >= CERTAIN;
  const wanted = () => openChecks(facts, site, aim, steps[0]?.trace ?? null);
  const host = facts.document.path.find((s) => s.role === 'host')?.id;
  const isAtHost = isCertain && ranked.every((f) => f.stop === host || f.probability === 0);
  const rest = isCertain
    ? once([
        ...(isAtHost && !isSure ? outerChecks(wanted(), facts, names) : []),
        ...beforeChecks(facts, names, steps[0]?.trace.needs ?? [], top.stop),
        ...(isFound(top) && !isCleared(facts, [...steps, ...(world?.suspects ?? [])], steps, top)
          ? restChecks(
              facts,
              names,
              guesses.some((g) => g.stop === host),
            )
          : []),
      ])
    : [];
  const isAlone = rest.length === 0;
  const further = (): NextCheck[] => (isDone ? [] : nextChecks(wanted(), facts, names, isPursued));
  return {
    verdict: {
      sure: isSure && isAlone,
      fault: isSure ? (first?.mend?.fault ?? null) : null,
      text: verdict.headline,
    },
    faults: ranked
      .slice(0, MOST_SUSPECTS)
      .map((f) => (isAlone ? f : { ...f, probability: Math.min(f.probability, NOT_ALONE) })),
    alsoBroken: [...dialled, ...later.flatMap((s) => faultOf(s, likely)), ...unseen],
    nextChecks: isAlone ? further() : rest,
    mends: [
      ...waysOf(facts, decided, names),
      ...(afterwards ? nextStep(facts, site) : []).flatMap((step) => mendOf(step, names)),
    ],
  };
}

/**
 * What the client sees speaks against a way on which nothing is wrong: something that nobody looked at is, as
 * long as no newer try was seen to work.
 */
function failsAllTheSame(facts: CaseFacts, steps: readonly MendStep[]): boolean {
  const { document } = facts;
  const { symptom = 'unknown' } = document.client ?? {};
  // What cannot be dialled as it is written reaches nothing, whatever it was taken for.
  const endpoints = document.service?.endpoints ?? [];
  const arrived = steps[0]?.trace.shown.legs.findLast((l) => l.lane === 'forward')?.before.destination.port;
  // A row or a lease may lead another port to the service's own.
  const isLed = endpoints.some(
    (e) => arrived !== undefined && arrived >= e.port && arrived <= (e.portEnd ?? e.port),
  );
  if (dialSlips(facts).some((p) => p.kind !== 'port-other' || !isLed)) return true;
  if (symptom === 'connects-then-fails' || symptom === 'sometimes') return true;
  // A try by the address says nothing of the name, which may have an address of another family as well.
  const isNamed = aimOf(facts).name !== null;
  const own = document.observations?.findLast(
    (o) => o.vantage === 'client-by-name' || (!isNamed && o.vantage === 'client'),
  );
  return symptom !== 'unknown' && own?.outcome !== 'answered';
}

/** A fault that is there, on the way to the server: more may be wrong behind it. */
const isFound = ({ id, probability }: FoundFault): boolean =>
  probability >= CERTAIN && !NOTHING_BEHIND.test(id);

/** Where these are found nothing inbound can work, or nothing is wrong: what is behind matters not. */
const NOTHING_BEHIND = /^(?:carrier-|test-|host-|listen-|container-|announces-|link-down)/;

/** All that is behind the fault is known to be in order, or its own faults are named. */
function isCleared(
  { document }: CaseFacts,
  found: readonly MendStep[],
  steps: readonly MendStep[],
  top: FoundFault,
): boolean {
  const last = steps[steps.length - 1];
  const host = document.path.find((s) => s.role === 'host')?.id;
  if (top.stop === host || found.some((s) => s.mend?.stop === host)) return true;
  return last !== undefined && last.trace.outcome === 'answered';
}

/** The mends in their order, and behind them those of another way. */
function waysOf(
  facts: CaseFacts,
  steps: readonly MendStep[],
  names: ReturnType<typeof stopNames>,
): DiagnosisMend[] {
  const mends = (list: readonly MendStep[]) => list.flatMap((step) => mendOf(step, names));
  const or = steps[0]?.mend?.or;
  if (!or) return mends(steps);
  return [steps, otherSteps(facts, steps, or)].flatMap((way, i) =>
    mends(way).map((m) => ({ ...m, variant: i + 1 })),
  );
}

/** A mend with the exact difference of what outside senders reach before and after it. */
function mendOf(
  { scene, mend }: Pick<MendStep, 'scene' | 'mend'>,
  names: ReturnType<typeof stopNames>,
): DiagnosisMend[] {
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

/** What mends the connection after the first one, which is answered. */
function nextStep(facts: CaseFacts, site: Site): Pick<MendStep, 'scene' | 'mend'>[] {
  const packets = (facts.document.service?.endpoints ?? []).flatMap((e) =>
    packetsFor(facts, aimOf(facts), e),
  );
  const found = packets.flatMap((packet) => {
    const mend = announcedMend(facts, packet);
    return mend ? [{ scene: sceneFrom(facts, packet, site), mend }] : [];
  });
  return found.slice(0, 1);
}

function changeOf(before: Site, after: Site): ReturnType<typeof exposureChange> {
  try {
    return exposureChange(before, after);
  } catch (error) {
    if (error instanceof TooMuchWork) return { opened: [], closed: [] };
    throw error;
  }
}
