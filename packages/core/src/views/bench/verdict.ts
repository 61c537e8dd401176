import { isForked, type Assumption } from '../../crossing/index.ts';
import { awaited, type CaseFacts, type TrafficRecord } from '../../ledger/index.ts';
import type { MendStep } from '../../mend/index.ts';
import { nth, type SourceRef } from '../../place/index.ts';
import {
  assumptionText,
  verdictWords,
  type Further,
  type StopNames,
  type Verdict,
} from '../../words/index.ts';
import { neverArrives } from './crossingView.ts';
import type { Check } from './check.ts';
import type { Captured } from './captured.ts';
import type { Logged } from './logged.ts';
import type { Aim } from './packet.ts';
import type { Lamp, TrialView, VerdictView } from './types.ts';

const LAMPS = {
  answered: 'lit',
  held: 'lit',
  'not-known': 'fogged',
  astray: 'shut',
  refused: 'shut',
  lost: 'shut',
  'kept-out': 'shut',
  captured: 'shut',
  'record-differs': 'fogged',
  'no-such-name': 'shut',
  'no-address': 'shut',
  'not-looked-up': 'fogged',
  'nothing-dialled': 'fogged',
  changed: 'fogged',
  'works-since': 'lit',
  'seen-to-work': 'fogged',
  'seen-otherwise': 'fogged',
} as const satisfies Record<Verdict['verdict'], Lamp>;

function shown(
  verdict: Verdict,
  names: StopNames,
  standsIn: boolean,
  evidence: readonly SourceRef[],
  assumed: readonly Assumption[] = [],
): VerdictView {
  const lamp = LAMPS[verdict.verdict];
  const rests = lamp === 'shut' ? evidence : [];
  return {
    lamp,
    ...verdictWords(verdict, names, standsIn),
    sure: lamp !== 'fogged',
    assumed: assumed.map((a) => assumptionText(a, names)),
    evidence: rests,
  };
}

/**
 * The verdict in one sentence, from the case itself (first step) and what would come after its mend.
 * @param cameTo how far the client's packets were seen to come
 */
export function verdictOf(
  facts: CaseFacts,
  aim: Aim,
  steps: readonly MendStep[],
  checks: readonly Check[],
  names: StopNames,
  cameTo: TrafficRecord | null = null,
): VerdictView {
  const { trace, mend } = nth(steps, 0);
  const run = trace.shown;
  const evidence =
    mend?.evidence ?? (run.ending.kind === 'rule' && run.ending.rule.source ? [run.ending.rule.source] : []);
  const verdict = verdictData(facts, steps, checks, new Set(evidence.map((e) => e.file)).size, cameTo);
  return shown(verdict, names, aim.clientStandsIn, evidence, trace.assumed);
}

function verdictData(
  facts: CaseFacts,
  steps: readonly MendStep[],
  checks: readonly Check[],
  pieces: number,
  cameTo: TrafficRecord | null,
): Verdict {
  const { trace, mend } = nth(steps, 0);
  const { ending, stop } = trace.shown;
  if (trace.outcome === 'answered')
    return {
      verdict: 'answered',
      program: ending.kind === 'listener' ? (ending.socket?.program ?? null) : null,
      stop,
      destination: trace.packet.destination,
    };
  const astray = neverArrives(trace.shown);
  if ((trace.outcome === 'unknown' && !astray) || isForked(trace)) {
    const passed = trace.shown.legs.filter((l) => l.lane === 'forward' && l.out !== null);
    return {
      verdict: 'not-known',
      need: checks[0] ?? null,
      ending,
      stop,
      passed: passed[passed.length - 1]?.stop ?? null,
      cameTo: cameTo && { stop: cameTo.stop, by: cameTo.by },
    };
  }
  let how: 'astray' | 'refused' | 'lost' = 'lost';
  if (astray) how = 'astray';
  else if (trace.outcome === 'refused') how = 'refused';
  return {
    verdict: how,
    place: mend ? placeOf(mend.stop, facts) : stop,
    mend: mend ?? null,
    ending,
    stop,
    pieces,
    further: furtherOf(steps.slice(1)),
  };
}

function furtherOf(after: readonly MendStep[]): Further {
  const [next] = after;
  if (!next) return { then: 'not-followed' };
  const later = after.find((s) => s.trace.outcome !== 'answered' && s.mend);
  if (later?.mend) return { then: 'mend', mend: later.mend };
  return { then: next.trace.outcome === 'answered' ? 'answered' : 'not-known' };
}

/** A mend of the client's own text needs no place. */
const placeOf = (stop: string, facts: CaseFacts): string | null =>
  facts.document.path.find((s) => s.id === stop)?.role === 'client' ? null : stop;

/** What was seen since speaks against a verdict that says it cannot be; null: it does not. */
export function seenAgainst(
  facts: CaseFacts,
  { trace, mend }: MendStep,
  trial: TrialView,
  names: StopNames,
): VerdictView | null {
  const { last } = trial;
  const differs = trace.needs.map((q) => q.need).find((n) => n.need === 'try-differs');
  if (differs?.need === 'try-differs') {
    const { tried, worked } = differs;
    return shown({ verdict: 'seen-otherwise', tried, worked }, names, false, [], trace.assumed);
  }
  if (last?.outcome !== 'answered' || last.other || last.stale) return null;
  const change = awaited(facts).findLast((c) => last.at !== null && Date.parse(c.at) <= Date.parse(last.at));
  if (change) return shown({ verdict: 'works-since', title: change.title }, names, false, []);
  if (trace.outcome !== 'unknown' || !neverArrives(trace.shown)) return null;
  const { ending, stop } = trace.shown;
  const place = mend ? placeOf(mend.stop, facts) : stop;
  return shown({ verdict: 'seen-to-work', place, mend: mend ?? null, ending, stop }, names, false, []);
}

/** A verdict where there is no packet to follow. */
export const verdictWithoutPacket = (aim: Aim, evidence: readonly SourceRef[]): VerdictView =>
  shown(withoutPacket(aim), (id) => id ?? '', false, evidence);

function withoutPacket({ trouble, name }: Aim): Verdict {
  return trouble === null || trouble === 'no-dial' || name === null
    ? { verdict: 'nothing-dialled' }
    : { verdict: trouble, name };
}

/** What was said to be made is enough, if it was made as it was said. */
export const heldVerdict = (
  titles: readonly string[],
  names: StopNames,
  assumed: MendStep['trace']['assumed'],
): VerdictView => ({ ...shown({ verdict: 'held', titles }, names, false, [], assumed), sure: false });

/** A log on the way shows the packet kept out. */
export function loggedVerdict({ record, isClient, client }: Logged, names: StopNames): VerdictView {
  const { stop, from, transport, port, count, last, source } = record;
  const insteadOf = isClient ? null : (client ?? 'unsaid');
  const served = { transport, port };
  const verdict: Verdict = { verdict: 'kept-out', stop, from, served, count, last, insteadOf };
  // That it came so far is seen, and not taken for granted.
  const view = shown(verdict, names, false, [source]);
  return isClient ? view : { ...view, lamp: 'fogged', sure: false };
}

/** The server's own capture shows the client's packets die there; null: it does not. */
export function capturedVerdict({ record, died }: Captured, names: StopNames): VerdictView | null {
  if (died === null) return null;
  const { stop, from, transport, port, count, source } = record;
  const verdict: Verdict = { verdict: 'captured', stop, from, served: { transport, port }, count, died };
  return shown(verdict, names, false, [source]);
}

/** What was recorded of the client's packets speaks against what is known; null: it does not. */
export function recordedAgainst(
  facts: CaseFacts,
  { record, differs }: Captured,
  { trace, mend }: MendStep,
  names: StopNames,
): VerdictView | null {
  if (!differs) return null;
  const { ending, stop } = trace.shown;
  const isAnswered = trace.outcome === 'answered';
  const place = mend ? placeOf(mend.stop, facts) : stop;
  const worked = isAnswered ? null : { place, mend: mend ?? null, ending, stop };
  const verdict: Verdict = { verdict: 'record-differs', at: record.stop, by: record.by, worked };
  return { ...shown(verdict, names, false, []), evidence: [record.source] };
}

/** The place where it ends was changed since the evidence of it was taken: what is there now is not known. */
export function awaitingVerdict(facts: CaseFacts, { mend }: MendStep, names: StopNames): VerdictView | null {
  const change = mend && awaited(facts).find((c) => c.stop === mend.stop || c.yields === 'name');
  return change
    ? shown({ verdict: 'changed', stop: change.stop, title: change.title }, names, false, [])
    : null;
}
