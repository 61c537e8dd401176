import { serves, type CaseDocument } from '../../case/index.ts';
import type { Became } from '../../ledger/index.ts';
import { parseAddress } from '../../net/index.ts';
import {
  clockText,
  fateOf,
  watchedTries,
  type CaptureSummary,
  type Fate,
  type LogSummary,
  type TimelineSummary,
  type Wanted,
} from '../../traffic/index.ts';
import {
  becameText,
  clockAheadText,
  endText,
  trafficDetail,
  trafficHeadline,
  unwatchedText,
  watchedText,
  type Teller,
  type TrafficStory,
} from '../../words/index.ts';
import { toldFlows, type ToldFlow } from './told.ts';

/** One row of a record: who, where to, what became of it, and how often. */
export interface TrafficRow {
  readonly from: string;
  /** `TCP 8211` */
  readonly service: string;
  readonly became: Became;
  readonly word: string;
  /** Who told it, where a capture shows that. */
  readonly by?: Teller | null;
  readonly count: number;
  /** As the record's own clock has it; null: it has none. */
  readonly first: string | null;
  readonly last: string | null;
  /** Line of a log, packet of a capture. */
  readonly at: number;
  readonly isClient: boolean;
  /** Whether it went to a port of the service. */
  readonly isService: boolean;
}

/** What one record of traffic says of a case. */
export interface TrafficView {
  /** `lit`: the newest try of the service got through; `shut`: it did not; `fogged`: there is none. */
  readonly lamp: 'lit' | 'shut' | 'fogged';
  readonly headline: string;
  readonly detail: string;
  /** What came when the client was told to try, in sentences; empty: it was not. */
  readonly watched: readonly string[];
  readonly counted: string;
  /** Those of the client and of the service first; then what failed, then most packets first. */
  readonly rows: readonly TrafficRow[];
  readonly timeline: TimelineSummary | null;
  readonly problems: readonly string[];
  /** Lines that show the service’s tries, to be kept as evidence; empty for captures. */
  readonly lines: readonly string[];
}

/** The service and the client that a record is looked at for. */
export interface TrafficAim {
  readonly endpoints: readonly {
    readonly protocol: string;
    readonly port: number;
    readonly portEnd?: number;
  }[];
  readonly client: string | null;
  /** When the client was told to try, seconds since 1970. */
  readonly moments?: readonly number[];
}

export const trafficAim = ({ service, client, watched = [] }: CaseDocument): TrafficAim => ({
  endpoints: service?.endpoints ?? [],
  client: client?.address ?? null,
  moments: watched.map((w) => Date.parse(w.at) / 1000).filter((s) => !Number.isNaN(s)),
});

/** Ports of a range that are looked for by themselves. */
const MOST_PORTS = 4096;
/** Rows that are shown; all are counted. */
export const MOST_ROWS = 20_000;

/** What is kept line by line of a log, for a case. */
export function wantedOf({ endpoints, client }: TrafficAim): Wanted {
  const address = client === null ? null : parseAddress(client);
  const ports = endpoints.flatMap(({ port, portEnd = port }) =>
    Array.from({ length: Math.min(portEnd - port + 1, MOST_PORTS) }, (_, i) => port + i),
  );
  return {
    ports,
    sources: address?.family === 4 ? [Number(BigInt.asIntN(32, address.bits))] : [],
    others: address?.family === 6 && client !== null ? [client] : [],
  };
}

const isServed = ({ endpoints }: TrafficAim, protocol: string, port: number): boolean =>
  serves(endpoints, protocol, port);

const FATES: Readonly<Record<Fate, Became>> = {
  'kept-out': 'kept-out',
  'let-in': 'let-in',
  'not-said': 'came',
};

const serviceText = (protocol: string, port: number): string =>
  port === 0 ? protocol.toUpperCase() : `${protocol.toUpperCase()} ${port}`;

const telling = ({ became }: TrafficRow): number => (became === 'not-answered' ? 0 : 1);

function storyOf(aim: TrafficAim, rows: readonly TrafficRow[]): TrafficStory {
  return {
    tries: rows
      .filter((r) => r.isService)
      // Before and behind a translation one question stands twice: what became of it is told by one of them.
      .sort((a, b) => (a.last ?? '').localeCompare(b.last ?? '') || telling(a) - telling(b)),
    elsewhere: rows.filter((r) => r.isClient && !r.isService && r.became !== 'answered'),
    client: aim.client,
    services: aim.endpoints.map((e) => serviceText(e.protocol, e.port)),
  };
}

function lampOf({ tries }: TrafficStory): TrafficView['lamp'] {
  const last = tries.findLast((t) => t.isClient) ?? tries.at(-1);
  if (!last || last.became === 'came' || last.became === 'only-answers') return 'fogged';
  return last.became === 'answered' || last.became === 'let-in' ? 'lit' : 'shut';
}

interface TimedTry {
  readonly seconds: number;
  readonly from: string;
  readonly service: string;
  readonly became: Became;
  readonly count: number;
}

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

/** What came at each moment, those of one sender and fate as one. */
function watchedOf(aim: TrafficAim, tries: readonly TimedTry[]): string[] {
  const moments = aim.moments ?? [];
  if (moments.length === 0) return [];
  const watched = watchedTries(tries, moments, (t) => t.from === aim.client);
  if (watched.is !== 'found') return [unwatchedText(watched.is, tries.length > 0)];
  const { ahead, seen } = watched;
  const said = seen.map((list, i) => {
    const groups = new Map<string, TimedTry>();
    for (const t of list) {
      const key = `${t.from} ${t.service} ${t.became}`;
      groups.set(key, { ...t, count: t.count + (groups.get(key)?.count ?? 0) });
    }
    return watchedText(clockText((moments[i] ?? NaN) + ahead), [...groups.values()], aim.client);
  });
  return ahead === 0 ? said : [...said, clockAheadText(ahead)];
}

/** The service's and the client's rows before all others. */
const ownFirst = (rows: readonly TrafficRow[]): TrafficRow[] => {
  const rank = (r: TrafficRow): number => (r.isService ? 0 : 2) - (r.isClient ? 1 : 0);
  return [...rows].sort((a, b) => rank(a) - rank(b));
};

const numbered = (n: number, one: string, many: string): string =>
  `${n.toLocaleString('en')} ${n === 1 ? one : many}`;

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
    counted: `${numbered(summary.packets, 'packet', 'packets')} in ${numbered(summary.lines, 'line', 'lines')}`,
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
