import type { Became } from '../../ledger/index.ts';
import { clockText, type CaptureSummary } from '../../traffic/index.ts';
import { endText, trafficDetail, trafficHeadline } from '../../words/index.ts';
import { toldFlows, type ToldFlow } from './told.ts';
import {
  isServed,
  lampOf,
  MOST_ROWS,
  numbered,
  ownFirst,
  serviceText,
  storyOf,
  watchedOf,
  type TimedTry,
  type TrafficAim,
  type TrafficRow,
  type TrafficView,
} from './traffic.ts';

const flowTries = (flows: readonly ToldFlow[], aim: TrafficAim): TimedTry[] =>
  flows
    .filter(({ flow }) => isServed(aim, flow.protocol, flow.destinationPort))
    .map(({ flow: f, became }) => ({
      seconds: f.first,
      from: f.source,
      service: serviceText(f.protocol, f.destinationPort),
      became,
      count: f.there.packets,
    }));

/** What failed tells more than what worked. */
const RANK: Readonly<Record<Became, number>> = {
  refused: 0,
  'answer-refused': 0,
  'answer-lost': 0,
  'not-answered': 1,
  'kept-out': 1,
  came: 2,
  'only-answers': 2,
  'let-in': 3,
  answered: 3,
};

/** A capture, as far as it is read. */
export function captureView(summary: CaptureSummary, aim: TrafficAim): TrafficView {
  const flows = toldFlows(summary.flows);
  const rows = flows
    .map(({ flow: f, became, by }): TrafficRow => {
      return {
        from: f.source,
        service: serviceText(f.protocol, f.destinationPort),
        became,
        word: endText(became, by),
        by,
        count: f.there.packets,
        first: clockText(f.first),
        last: clockText(f.last),
        at: f.frame,
        isClient: f.source === aim.client,
        isService: isServed(aim, f.protocol, f.destinationPort),
      };
    })
    .sort((a, b) => RANK[a.became] - RANK[b.became] || b.count - a.count)
    .slice(0, MOST_ROWS);
  const story = storyOf(aim, rows);
  return {
    lamp: lampOf(story),
    headline: trafficHeadline(story),
    detail: trafficDetail(story),
    watched: watchedOf(aim, flowTries(flows, aim)),
    counted:
      `${numbered(summary.packets, 'packet', 'packets')} in ` +
      `${numbered(summary.flows.length, 'conversation', 'conversations')}`,
    rows: ownFirst(rows),
    timeline: null,
    problems:
      summary.brokenAt === null
        ? []
        : [`The capture is damaged or breaks off at byte ${summary.brokenAt}: what came later is not in it.`],
    lines: [],
  };
}
