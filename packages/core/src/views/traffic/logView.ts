import type { Became } from '../../ledger/index.ts';
import { clockText, fateOf, type Fate, type LogSummary } from '../../traffic/index.ts';
import { becameText, trafficDetail, trafficHeadline } from '../../words/index.ts';
import {
  isServed,
  lampOf,
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

const FATES: Readonly<Record<Fate, Became>> = {
  'kept-out': 'kept-out',
  'let-in': 'let-in',
  'not-said': 'came',
};

const logTries = ({ entries }: LogSummary, aim: TrafficAim): TimedTry[] =>
  entries
    .filter((e) => isServed(aim, e.protocol, e.port))
    .map((e) => ({
      seconds: e.seconds,
      from: e.source,
      service: serviceText(e.protocol, e.port),
      became: FATES[fateOf(e.action)],
      count: 1,
    }));

/** A drop log, as far as it is read. */
export function logView(summary: LogSummary, aim: TrafficAim): TrafficView {
  const rows = summary.groups.map((g): TrafficRow => {
    const became = FATES[g.fate];
    return {
      from: g.source,
      service: serviceText(g.protocol, g.port),
      became,
      word: g.fate === 'not-said' ? g.action : becameText(became),
      count: g.count,
      first: clockText(g.first),
      last: clockText(g.last),
      at: g.line,
      isClient: g.source === aim.client,
      isService: isServed(aim, g.protocol, g.port),
    };
  });
  const story = storyOf(aim, rows);
  const more = summary.kinds - summary.groups.length;
  return {
    lamp: lampOf(story),
    headline: trafficHeadline(story),
    detail: trafficDetail(story),
    watched: watchedOf(aim, logTries(summary, aim)),
    counted:
      `${numbered(summary.packets, 'packet', 'packets')} ` +
      'in ' +
      `${numbered(summary.lines, 'line', 'lines')}`,
    rows: ownFirst(rows),
    timeline: summary.timeline,
    problems: [
      ...summary.unread.map((u) => `Line ${u.line} is not understood: ${u.text}`),
      ...(summary.unreadCount > summary.unread.length
        ? [`${summary.unreadCount - summary.unread.length} further lines are not understood.`]
        : []),
      ...(more > 0 ? [`${more} further kinds of tries are counted, not listed.`] : []),
    ],
    lines: keptLines(summary, aim),
  };
}

/** The lines of the service's and the client's tries, under the one that names the fields. */
function keptLines({ entries, head }: LogSummary, aim: TrafficAim): string[] {
  const own = entries.filter((e) => isServed(aim, e.protocol, e.port) || e.source === aim.client);
  return own.length === 0 ? [] : [...(head === null ? [] : [head]), ...own.map((e) => e.text)];
}
