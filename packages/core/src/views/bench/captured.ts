import {
  arrivalOf,
  awaited,
  diedOnReturn,
  type Arrival,
  type CaseFacts,
  type Death,
} from '../../ledger/index.ts';
import type { Trace } from '../../crossing/index.ts';
import { parseAddress, type Transport } from '../../net/index.ts';
import { cameCaption } from '../../words/index.ts';
import type { Check } from './check.ts';
import { neverArrives } from './crossingView.ts';
import { portsOf } from './logged.ts';
import type { CrossingView } from './types.ts';

/** How far the client's own packets were seen to come, held against what is known. */
export interface Captured extends Arrival {
  /** Whether what is known ends them before, or has them answered. */
  readonly differs: boolean;
}

/**
 * What captures, session tables and logs show of the client's packets; null: nothing, or something was
 * changed since.
 */
export function captured(facts: CaseFacts, trace: Trace): Captured | null {
  const { packet, shown, outcome } = trace;
  if (parseAddress(facts.document.client?.address ?? '') === null || awaited(facts).length > 0) return null;
  const ports = portsOf(trace);
  const isServed = (transport: Transport, port: number): boolean =>
    transport === packet.transport && ports.has(port);
  const arrival = arrivalOf(facts, isServed, packet.source.address);
  if (!arrival) return null;
  const ids = facts.document.path.map((s) => s.id);
  const endsAt = shown.direction === 'forward' && shown.stop !== null ? ids.indexOf(shown.stop) : ids.length;
  const isSettled = outcome === 'unknown' ? neverArrives(shown) : outcome !== 'answered';
  const isEnded = isSettled && endsAt < ids.indexOf(arrival.record.stop);
  return { ...arrival, differs: isEnded || (outcome === 'answered' && arrival.died !== null) };
}

/**
 * Where packets died at a place, what is asked of those before it tells nothing. Where they were answered,
 * all of them may still hold the answer back, their own machine first.
 */
export function checksFrom(
  { document: { path } }: CaseFacts,
  { record, died }: Captured,
  checks: readonly Check[],
): readonly Check[] {
  if (died === null) return checks;
  // Where an answer goes, its own machine's routes say first.
  const rank = (c: Check): number => (c.yields === 'routes' ? 0 : 1) + (c.stop === record.stop ? 0 : 2);
  if (diedOnReturn(died)) return [...checks].sort((a, b) => rank(a) - rank(b));
  const ids = path.map((s) => s.id);
  const from = ids.indexOf(record.stop);
  return checks.filter((c) => ids.indexOf(c.stop) >= from);
}

/** The picture of a way on which packets were seen so far. */
export function capturedCrossing(view: CrossingView, { record, died }: Captured): CrossingView {
  const at = view.stops.findIndex((s) => s.id === record.stop);
  return {
    ...view,
    stops: view.stops.map((s, i) => {
      const caption = i === at ? cameCaption(record.by, died) : s.caption;
      if (i === at && died !== null && !diedOnReturn(died))
        return { ...s, ...ended(died), caption, source: record.source };
      if (i > at || (s.lamp === 'lit' && !s.beyond)) return s;
      return {
        ...s,
        caption,
        lamp: 'lit',
        word: i < at ? 'seen to pass' : 'seen to arrive',
        ends: false,
        beyond: false,
      };
    }),
  };
}

const ended = (died: Death) =>
  ({
    lamp: 'shut',
    word: died === 'refused' ? 'refuses' : 'gives no answer',
    ends: true,
    beyond: false,
  }) as const;
