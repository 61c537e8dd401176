import type { Run } from '../../crossing/index.ts';
import type { CaseFacts } from '../../ledger/index.ts';
import type { MendStep } from '../../mend/index.ts';
import { isReachable } from '../../net/index.ts';
import { nth, type SourceRef } from '../../place/index.ts';
import type { Caption } from '../../words/index.ts';
import type { Column, State } from './column.ts';
import { unreached } from './emptyCrossing.ts';
import { nameCaption, type Aim } from './packet.ts';

const clientOf = (path: CaseFacts['document']['path']): string => path[0]?.id ?? 'client';

/**
 * Where a run ended, as a column: dialled addresses that lead elsewhere end at the name (or at the client who
 * typed them).
 */
export function endColumn(run: Run, aim: Aim, { path }: CaseFacts['document']): string | null {
  if (run.ending.kind === 'elsewhere' || run.ending.kind === 'not-routed')
    return aim.name ? 'name' : clientOf(path);
  // A gateway that does not forward has no program of its own there.
  const isAtServer = path.some((s) => s.id === run.stop && s.role === 'host');
  return run.ending.kind === 'closed-port' && isAtServer ? 'program' : run.stop;
}

/** One or two words beside a stop's lamp. */
export function wordOf(column: Column, s: State): string {
  const would = s.beyond;
  if (s.lamp === 'fogged') return 'not known';
  if (s.lamp === 'aside') return 'not on this way';
  if (s.lamp === 'shut') return would ? 'would end' : 'shut';
  if (column.kind === 'program') return would ? 'would answer' : 'answers';
  return `${would ? 'would pass' : 'lit'}${s.turned ? ' · turned' : ''}`;
}

/** Where in the evidence stands what a stop does with the packet. */
export function sourceOf(s: State): SourceRef | null {
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

/** The line under a stop's name. */
export function captionOf(
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
