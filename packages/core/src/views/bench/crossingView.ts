import type { Leg, Run, Trace } from '../../crossing/index.ts';
import type { CaseFacts } from '../../ledger/index.ts';
import type { MendStep } from '../../mend/index.ts';
import { isReachable } from '../../net/index.ts';
import { nth, type SourceRef } from '../../place/index.ts';
import { captionText, type Caption, type StopNames } from '../../words/index.ts';
import { nameCaption, type Aim } from './packet.ts';
import type { CrossingView, StopView } from './types.ts';
import { type Column, type State } from './column.ts';
import { unreached } from './emptyCrossing.ts';
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

const clientOf = (path: CaseFacts['document']['path']): string => path[0]?.id ?? 'client';

/**
 * Where a run ended, as a column: dialled addresses that lead elsewhere end at the name (or at the client who
 * typed them).
 */
function endColumn(run: Run, aim: Aim, { path }: CaseFacts['document']): string | null {
  if (run.ending.kind === 'elsewhere' || run.ending.kind === 'not-routed')
    return aim.name ? 'name' : clientOf(path);
  // A gateway that does not forward has no program of its own there.
  const isAtServer = path.some((s) => s.id === run.stop && s.role === 'host');
  return run.ending.kind === 'closed-port' && isAtServer ? 'program' : run.stop;
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

function wordOf(column: Column, s: State): string {
  const would = s.beyond;
  if (s.lamp === 'fogged') return 'not known';
  if (s.lamp === 'aside') return 'not on this way';
  if (s.lamp === 'shut') return would ? 'would end' : 'shut';
  if (column.kind === 'program') return would ? 'would answer' : 'answers';
  return `${would ? 'would pass' : 'lit'}${s.turned ? ' · turned' : ''}`;
}

function sourceOf(s: State): SourceRef | null {
  const ended = s.leg?.events.find((e) => e.event === 'ended');
  if (ended?.event === 'ended') {
    const { ending } = ended;
    if (ending.kind === 'rule') return ending.rule.source;
    if (ending.kind === 'policy') return ending.chain.source;
    if ('source' in ending && ending.source) return ending.source;
  }
  for (const e of s.leg?.events ?? []) if (e.event === 'translated' && e.rule?.source) return e.rule.source;
  return null;
}

function captionOf(
  column: Column,
  s: State,
  facts: CaseFacts,
  aim: Aim,
  steps: readonly MendStep[],
): Caption {
  if (column.kind === 'name') {
    if (aim.address) return { caption: 'address', address: aim.address };
    return { caption: nameCaption(aim) };
  }
  if (endsHere(column, s, aim, facts)) {
    const { mend, trace } = s.step;
    return mend && (mend.stop === column.id || column.kind === 'program')
      ? { caption: 'mend', mend }
      : { caption: 'ended', ending: trace.shown.ending, stop: trace.shown.stop };
  }
  if (s.lamp === 'aside') return { caption: 'aside' };
  if (s.lamp === 'fogged') {
    const need = nth(steps, 0).trace.needs.find((q) => q.settle?.stop === column.id);
    if (need) return { caption: 'need', need: need.need };
    return unreached(facts, column.id);
  }
  switch (column.kind) {
    case 'client':
      return { caption: 'address', address: s.step.scene.packet.source.address };
    case 'program': {
      const { ending } = s.step.trace.shown;
      return ending.kind === 'listener' && ending.socket
        ? { caption: 'listens', address: ending.socket.address }
        : { caption: 'takes-it' };
    }
    default:
      return passCaption(column, s, facts);
  }
}

function passCaption(column: Column, s: State, facts: CaseFacts): Caption {
  const turned = s.leg?.events.find((e) => e.event === 'translated' && e.side === 'destination');
  if (turned?.event === 'translated') return { caption: 'forwards', to: turned.to };
  const role = facts.document.path.find((p) => p.id === column.id)?.role;
  if (role === 'carrier')
    return { caption: 'carries', toPublic: isReachable(s.step.scene.packet.destination.address) };
  const passed = s.leg?.events
    .filter((e) => e.event === 'chain' && (e.hook === 'input' || e.hook === 'forward'))
    .pop();
  if (passed?.event === 'chain' && passed.result.rule)
    return { caption: 'rule', text: passed.result.rule.text };
  return { caption: role === 'host' ? 'lets-in' : 'passes-on' };
}

const endsHere = (column: Column, s: State, aim: Aim, facts: CaseFacts): boolean =>
  s.lamp === 'shut' && endColumn(s.step.trace.shown, aim, facts.document) === column.id;

function programName(facts: CaseFacts, steps: readonly MendStep[]): string {
  for (const { trace } of steps) {
    const { ending } = trace.shown;
    if (ending.kind === 'listener' && ending.socket?.program) return ending.socket.program;
    if (ending.kind === 'closed-port' && ending.near[0]?.program) return ending.near[0].program;
  }
  return facts.document.service?.name || 'Program';
}
