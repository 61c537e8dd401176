import type { Leg, Run, Trace } from '../../crossing/index.ts';
import type { CaseFacts } from '../../ledger/index.ts';
import type { MendStep } from '../../mend/index.ts';
import { nth } from '../../place/index.ts';
import { captionText, type StopNames } from '../../words/index.ts';
import type { Aim } from './packet.ts';
import type { CrossingView, StopView } from './types.ts';
import { type Column, type State } from './column.ts';
import { captionOf, endColumn, sourceOf, wordOf } from './crossingCaptions.ts';
import { wireOf } from './wires.ts';

/** Outcomes that the trace calls unknown but that surely never reach the server. */
export const neverArrives = (run: Run): boolean =>
  run.ending.kind === 'astray' || run.ending.kind === 'elsewhere';

/**
 * The columns of the picture: the path, with the name behind the client and the program behind the server.
 */
function columnsOf(facts: CaseFacts, aim: Aim, names: StopNames, program: string): Column[] {
  const out: Column[] = [];
  facts.document.path.forEach((stop, i) => {
    out.push({
      id: stop.id,
      name: names(stop.id),
      kind: i === 0 && stop.role === 'client' ? 'client' : 'stop',
    });
    if (i === 0 && aim.name) out.push({ id: 'name', name: 'Name', kind: 'name' });
  });
  return [...out, { id: 'program', name: program, kind: 'program' }];
}

/** Puts a chain of traces (the case, then one copy per mend) into one picture. */
export function crossingView(
  facts: CaseFacts,
  aim: Aim,
  steps: readonly MendStep[],
  names: StopNames,
): CrossingView {
  const first = nth(steps, 0).trace;
  const columns = columnsOf(facts, aim, names, programName(facts, steps));
  const fogged = fogOf(first);
  const states = columns
    .map((column) => stateOf(column, steps, aim, facts.document, fogged))
    .map((state, i, all) =>
      isAside(nth(columns, i), state, first, all.slice(i + 1)) ? aside(state) : state,
    );
  const endAt = states.findIndex((s) => s.ends);
  const stops = columns.map((column, i): StopView => {
    const s = nth(states, i);
    return {
      id: column.id,
      name: column.name,
      caption: captionText(captionOf(column, s, facts, aim, steps), names),
      lamp: s.lamp,
      word: wordOf(column, s),
      turned: s.turned,
      beyond: s.beyond || (endAt >= 0 && i > endAt),
      ends: s.ends,
      source: sourceOf(s),
    };
  });
  const wires = columns
    .slice(1)
    .map((column, i) => wireOf(nth(columns, i), column, i, states, endAt, steps, aim));
  return { stops, wires };
}

function fogOf(trace: Trace): ReadonlySet<string> {
  if (trace.outcome !== 'unknown' || neverArrives(trace.shown)) return new Set();
  const stops = trace.needs.map((q) => q.settle?.stop).filter((s): s is string => s !== undefined);
  return new Set([
    ...stops,
    ...(trace.shown.outcome === 'open' && trace.shown.stop ? [trace.shown.stop] : []),
  ]);
}

const legAt = (run: Run, stop: string, lane: 'forward' | 'reply'): Leg | null =>
  run.legs.find((l) => l.stop === stop && l.lane === lane) ?? null;

function stateOf(
  column: Column,
  steps: readonly MendStep[],
  aim: Aim,
  document: CaseFacts['document'],
  fogged: ReadonlySet<string>,
): State {
  for (const [i, step] of steps.entries()) {
    const run = step.trace.shown;
    const end = step.trace.outcome === 'answered' ? null : endColumn(run, aim, document);
    const stop =
      column.kind === 'program'
        ? (run.legs.filter((l) => l.lane === 'forward').pop()?.stop ?? '')
        : column.id;
    const leg = legAt(run, stop, 'forward');
    const back = legAt(run, stop, 'reply');
    const base = { leg, back, step, beyond: i > 0, turned: turns(column, leg) };
    const certain = step.trace.outcome !== 'unknown' || neverArrives(run);
    if (column.kind === 'program') {
      if (end === 'program' && certain) return { ...base, lamp: 'shut', ends: i === 0, turned: false };
      if (run.ending.kind === 'listener')
        return {
          ...base,
          lamp: i === 0 && !certain && fogged.size > 0 && fogged.has(stop) ? 'fogged' : 'lit',
          ends: false,
          turned: false,
        };
      continue;
    }
    if (column.kind === 'name') {
      if (end === 'name') return { ...base, lamp: 'shut', ends: i === 0, turned: true };
      if (aim.address) return { ...base, beyond: false, lamp: 'lit', ends: false, turned: true };
      return {
        ...base,
        beyond: false,
        lamp: aim.trouble === 'not-looked-up' ? 'fogged' : 'shut',
        ends: aim.trouble !== 'not-looked-up',
        turned: false,
      };
    }
    if (column.kind === 'client' && end !== column.id)
      return { ...base, beyond: false, lamp: 'lit', ends: false };
    if (end === column.id) return { ...base, lamp: certain ? 'shut' : 'fogged', ends: certain && i === 0 };
    if (leg && (i === 0 || step.trace.outcome !== 'unknown' || certain))
      return { ...base, lamp: i === 0 && fogged.has(column.id) ? 'fogged' : 'lit', ends: false };
  }
  return {
    leg: null,
    back: null,
    step: nth(steps, 0),
    beyond: true,
    turned: false,
    lamp: 'fogged',
    ends: false,
  };
}

/**
 * Whether the packet surely does not cross a stop: nobody needs to know anything of it, and the packet was at
 * one behind it. A client inside does not cross the carrier.
 */
const isAside = (column: Column, state: State, trace: Trace, behind: readonly State[]): boolean =>
  column.kind === 'stop' &&
  state.lamp === 'fogged' &&
  state.leg === null &&
  (trace.outcome !== 'unknown' || neverArrives(trace.shown)) &&
  behind.some((s) => s.step.trace === trace && s.leg !== null);

const aside = (state: State): State => ({ ...state, lamp: 'aside', beyond: false });

function turns(column: Column, leg: Leg | null): boolean {
  return (
    column.kind === 'stop' &&
    leg !== null &&
    leg.out !== null &&
    leg.events.some((e) => e.event === 'translated')
  );
}

function programName(facts: CaseFacts, steps: readonly MendStep[]): string {
  for (const { trace } of steps) {
    const { ending } = trace.shown;
    if (ending.kind === 'listener' && ending.socket?.program) return ending.socket.program;
    if (ending.kind === 'closed-port' && ending.near[0]?.program) return ending.near[0].program;
  }
  return facts.document.service?.name || 'Program';
}
