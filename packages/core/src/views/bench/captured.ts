import { awaited, cameTo, type CaseFacts, type TrafficRecord } from '../../ledger/index.ts';
import type { Trace } from '../../crossing/index.ts';
import { parseAddress, type Transport } from '../../net/index.ts';
import { cameCaption } from '../../words/index.ts';
import type { Check } from './checks.ts';
import { neverArrives } from './crossingView.ts';
import { portsOf } from './logged.ts';
import type { CrossingView } from './types.ts';

/** How far the client's own packets were seen to come, and whether that is where they died. */
export interface Captured {
  readonly record: TrafficRecord;
  /** How they died there; null: they went on, or nobody saw what became of them. */
  readonly died: 'refused' | 'not-answered' | null;
  /** Whether what is known ends them before, or has them answered. */
  readonly differs: boolean;
}

/** A question that came once may have been answered after the capture was stopped. */
const REPEATED = 2;

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
  const record = cameTo(facts, isServed, packet.source.address);
  if (!record) return null;
  const ids = facts.document.path.map((s) => s.id);
  const isLast = record.stop === ids[ids.length - 1];
  const died = isLast && record.by === 'capture' ? howItDied(record) : null;
  const at = ids.indexOf(record.stop);
  const endsAt = shown.direction === 'forward' && shown.stop !== null ? ids.indexOf(shown.stop) : ids.length;
  const isSettled = outcome === 'unknown' ? neverArrives(shown) : outcome !== 'answered';
  const isEnded = isSettled && endsAt < at;
  return { record, died, differs: isEnded || (outcome === 'answered' && died !== null) };
}

function howItDied({ became, transport, count }: TrafficRecord): Captured['died'] {
  if (became === 'refused') return 'refused';
  // Silence of a UDP service may be its manner.
  return became === 'not-answered' && transport === 'tcp' && count >= REPEATED ? 'not-answered' : null;
}

/** What is asked before the place to which they were seen to come tells nothing that is in question. */
export function checksFrom(
  { document: { path } }: CaseFacts,
  { record }: Captured,
  checks: readonly Check[],
): Check[] {
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
      if (i === at && died !== null) return { ...s, ...ended(died), caption, source: record.source };
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

const ended = (died: NonNullable<Captured['died']>) =>
  ({
    lamp: 'shut',
    word: died === 'refused' ? 'refuses' : 'gives no answer',
    ends: true,
    beyond: false,
  }) as const;
