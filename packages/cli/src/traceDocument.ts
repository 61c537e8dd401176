import type { Ending, Leg, Trace } from '@bright-ferry/core/crossing';
import { formatEndpoint, type Header } from '@bright-ferry/core/net';
import type { SourceRef } from '@bright-ferry/core/place';
import { assumptionText, endingText, type StopNames, needLine } from '@bright-ferry/core/words';

interface EvidenceRef {
  readonly file: string;
  readonly line: number;
}

export interface TraceDocument {
  readonly outcome: Trace['outcome'];
  readonly stop: string | null;
  readonly direction: 'forward' | 'reply';
  readonly seen: { readonly source: string; readonly destination: string } | null;
  readonly because: {
    readonly kind: string;
    readonly text: string;
    readonly evidence: readonly EvidenceRef[];
  };
  readonly needs: readonly string[];
  /** What was taken for granted; empty where evidence covers all. */
  readonly assumed: readonly string[];
  /** Where the outcome changes by itself with time; missing otherwise. */
  readonly overTime?: readonly { readonly phase: string; readonly outcome: string }[];
  readonly legs: readonly LegDocument[];
}

interface LegDocument {
  readonly stop: string;
  readonly direction: 'forward' | 'reply';
  readonly form: Leg['form'];
  readonly in: string | null;
  readonly out: string | null;
  readonly before: { readonly source: string; readonly destination: string };
  readonly after: { readonly source: string; readonly destination: string };
  /** The rule that decided at this stop, in the device's words. */
  readonly rule: string | null;
  readonly evidence: readonly EvidenceRef[];
}

/** A trace in the shape of the headless contract. */
export function traceDocument(t: Trace, names: StopNames): TraceDocument {
  const { ending, stop } = t.shown;
  const text =
    t.outcome === 'unknown'
      ? 'The evidence does not decide it: ' +
        `${t.needs[0] ? needLine(t.needs[0].need, names) : endingText(ending, stop, names)}.`
      : sentence(endingText(ending, stop, names));
  return {
    outcome: t.outcome,
    stop: t.stop,
    direction: t.direction,
    seen: t.seen ? ends(t.seen) : null,
    because: { kind: ending.kind, text, evidence: refs(sourcesOf(ending)) },
    needs: t.outcome === 'unknown' ? needsOf(t, names) : [],
    assumed: t.assumed.map((a) => assumptionText(a, names)),
    ...(t.overTime.length > 0
      ? { overTime: t.overTime.map(({ phase, outcome }) => ({ phase, outcome })) }
      : {}),
    legs: t.shown.legs.map(legDocument),
  };
}

const sentence = (text: string): string => `${text.charAt(0).toUpperCase()}${text.slice(1)}.`;
const ends = (h: Pick<Header, 'source' | 'destination'>) => ({
  source: formatEndpoint(h.source),
  destination: formatEndpoint(h.destination),
});
const refs = (sources: readonly (SourceRef | null)[]): EvidenceRef[] =>
  sources.filter((s): s is SourceRef => s !== null).map(({ file, line }) => ({ file, line }));

function sourcesOf(ending: Ending): (SourceRef | null)[] {
  switch (ending.kind) {
    case 'rule':
      return [ending.rule.source];
    case 'policy':
      return [ending.chain.source];
    case 'listener':
      return [ending.socket?.source ?? null];
    case 'special-route':
      return [ending.by.source];
    case 'link-down':
      return [ending.interface.source];
    default:
      return 'source' in ending ? [ending.source] : [];
  }
}

function legDocument(leg: Leg): LegDocument {
  const chain = leg.events.filter((e) => e.event === 'chain' && e.result.rule).pop();
  const rule = chain?.event === 'chain' ? chain.result.rule : null;
  return {
    stop: leg.stop,
    direction: leg.lane,
    form: leg.form,
    in: leg.in,
    out: leg.out,
    before: ends(leg.before),
    after: ends(leg.after),
    rule: rule?.text ?? null,
    evidence: refs([rule?.source ?? null]),
  };
}

/** What would settle an unknown outcome; where nothing can be asked for, where the packet is last seen. */
const needsOf = ({ needs, shown }: Trace, names: StopNames): string[] =>
  needs.length > 0
    ? needs.map((q) => needLine(q.need, names))
    : [endingText(shown.ending, shown.stop, names)];
