import type { AskKind } from '../../asks/index.ts';
import type { Observation, ServiceEndpoint } from '../../case/index.ts';
import { exposureChange, type Exposure } from '../../exposure/index.ts';
import { checkDialled } from '../../intake/index.ts';
import type { FaultId } from '../../faults/index.ts';
import { awaited, type CaseFacts } from '../../ledger/index.ts';
import { mendChain, sceneFrom, type Mend, type MendStep } from '../../mend/index.ts';
import { buildSite } from '../../model/index.ts';
import { TooMuchWork } from '../../rules/index.ts';
import type { Site } from '../../site/index.ts';
import { checkWords, mendWords, type MendWords, type StopNames } from '../../words/index.ts';
import { openChecks, type Check } from '../bench/checks.ts';
import { neverArrives } from '../bench/crossingView.ts';
import { stopNames } from '../bench/names.ts';
import { aimOf, packetFor } from '../bench/packet.ts';
import type { FoundFault } from './foundFault.ts';
import { healthy } from './healthy.ts';
import { openFaults, otherLineFault } from './openFaults.ts';
import { recognised } from './recognised.ts';
import { benchView } from '../bench/view.ts';

export interface NextCheck {
  readonly id: string;
  readonly stop: string;
  readonly yields: AskKind;
  /** From where it is tried; null: it is no try. */
  readonly vantage: Observation['vantage'] | null;
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
  const found = (facts.document.service?.endpoints ?? []).flatMap((endpoint) =>
    walked(facts, site, endpoint),
  );
  const shown = found.find((f) => isDecided(f.steps)) ?? found.find((f) => !isAnswered(f.steps)) ?? found[0];
  const steps = shown?.steps ?? [];
  const isSure = verdict.sure && (verdict.lamp === 'lit' ? !failsAllTheSame(facts) : isDecided(steps));
  const decided = isSure && verdict.lamp === 'shut' ? steps.flatMap((s) => (s.mend ? [s] : [])) : [];
  const mends = isSure ? decided : suspectedSteps(facts);
  const completed = isSure ? facts : healthy(facts);
  const likely = isSure ? DECIDED : likelyAt(completed, mends[0]?.mend);
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
  const isHealthy = isSure && verdict.lamp === 'lit';
  const shownBy = isSure ? [] : recognised(facts);
  const tests = isHealthy ? recognised(facts).filter((r) => r.id.startsWith('test-')) : [];
  const walk = first ? faultOf(first, likely) : [];
  const guesses = isSure || first ? [] : guessed(facts, names);
  const ranked = weighed([
    ...tests,
    ...shownBy.filter((r) => r.probability >= likely),
    ...walk,
    ...guesses,
    ...shownBy,
  ]);
  // Behind what is sure stands what would be wrong if the rest is as it should be.
  const known = new Set(mends.map((s) => s.mend?.fault));
  const behind = isSure && first ? suspectedSteps(facts).filter((s) => !known.has(s.mend?.fault)) : [];
  const unseen = [
    ...behind.flatMap((s) => faultOf(s, SUSPECTED)),
    ...(isSure && first ? guessed(facts, names) : []),
    ...(isSure ? [] : ranked.slice(MOST_SUSPECTS)),
  ];
  const checks =
    isSure && awaited(facts).length === 0 ? [] : openChecks(facts, site, aim, steps[0]?.trace ?? null);
  return {
    verdict: { sure: isSure, fault: isSure ? (first?.mend?.fault ?? null) : null, text: verdict.headline },
    faults: ranked.slice(0, MOST_SUSPECTS),
    alsoBroken: [...later.flatMap((s) => faultOf(s, likely)), ...unseen],
    nextChecks:
      isSure && awaited(facts).length === 0
        ? []
        : ordered(
            checks.map((c) => nextCheck(c, facts, names)),
            facts,
            names,
          ),
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

/** What an open crossing points to, where the rest is as it should be. */
function guessed(facts: CaseFacts, names: StopNames): FoundFault[] {
  const completed = healthy(facts);
  const site = buildSite(completed);
  const [endpoint] = facts.document.service?.endpoints ?? [];
  const steps = endpoint ? walked(completed, site, endpoint).flatMap((w) => w.steps) : [];
  const last = steps[steps.length - 1];
  if (!last) return [];
  const { address } = last.scene.packet.destination;
  return [...openFaults(completed, last.trace, names), ...otherLineFault(site, address)];
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
  return { id, stop, yields, vantage: null, text: title, minutes };
}

/** Tries that tell apart what listings do not show, by what they cost a lay person. */
const TRIES: readonly (readonly [Observation['vantage'], 'client' | 'host', string])[] = [
  ['client', 'client', 'A try by the address, from where the client is'],
  ['outside', 'client', 'A try from another network outside'],
  ['lan', 'host', 'A try from another machine beside the server'],
  ['client-by-name', 'client', 'A try by the name, from where the client is'],
];

/** Records that are worth a look where every listing seems right. */
const RECORDS: readonly (readonly ['gateway' | 'host' | 'edge' | 'client', AskKind])[] = [
  ['gateway', 'mappings'],
  ['gateway', 'sessions'],
  ['gateway', 'leases'],
  ['host', 'configuration'],
  ['client', 'name'],
  ['host', 'neighbours'],
  ['edge', 'status'],
  ['host', 'drop-log'],
  ['gateway', 'counters'],
];

/** The checks as they settle most: tries and records stand behind what the crossing needs. */
function ordered(checks: readonly NextCheck[], facts: CaseFacts, names: StopNames): NextCheck[] {
  const { path, observations, declined } = facts.document;
  const first = (role: string): string | undefined => path.find((s) => s.role === role)?.id;
  const tried = new Set((observations ?? []).map((o) => o.vantage));
  const tries = TRIES.flatMap(([vantage, role, text]): NextCheck[] => {
    const stop = first(role);
    const id = `${stop}/dial/${vantage}`;
    return stop === undefined || tried.has(vantage) || declined?.includes(id)
      ? []
      : [{ id, stop, yields: 'dial', vantage, text, minutes: 2 }];
  });
  const had = new Set(checks.map((c) => c.id));
  const given = new Set(facts.files.flatMap((f) => (f.asked ? [f.asked] : [])));
  const records = RECORDS.flatMap(([role, yields]): NextCheck[] => {
    const stop = first(role);
    const id = `${stop}/${yields}`;
    return stop === undefined || had.has(id) || given.has(id) || declined?.includes(id)
      ? []
      : [nextCheck({ id, stop, yields, reason: { why: 'forwards' } }, facts, names)];
  });
  const [one, ...rest] = checks;
  return [...(one ? [one] : []), ...tries.slice(0, 1), ...rest, ...tries.slice(1), ...records];
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
