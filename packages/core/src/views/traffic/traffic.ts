import { serves, type CaseDocument } from '../../case/index.ts';
import type { Became } from '../../ledger/index.ts';
import { parseAddress } from '../../net/index.ts';
import { clockText, watchedTries, type TimelineSummary, type Wanted } from '../../traffic/index.ts';
import {
  clockAheadText,
  unwatchedText,
  watchedText,
  type Teller,
  type TrafficStory,
} from '../../words/index.ts';

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

export const isServed = ({ endpoints }: TrafficAim, protocol: string, port: number): boolean =>
  serves(endpoints, protocol, port);

export const serviceText = (protocol: string, port: number): string =>
  port === 0 ? protocol.toUpperCase() : `${protocol.toUpperCase()} ${port}`;

const telling = ({ became }: TrafficRow): number => (became === 'not-answered' ? 0 : 1);

export function storyOf(aim: TrafficAim, rows: readonly TrafficRow[]): TrafficStory {
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

export function lampOf({ tries }: TrafficStory): TrafficView['lamp'] {
  const last = tries.findLast((t) => t.isClient) ?? tries.at(-1);
  if (!last || last.became === 'came' || last.became === 'only-answers') return 'fogged';
  return last.became === 'answered' || last.became === 'let-in' ? 'lit' : 'shut';
}

export interface TimedTry {
  readonly seconds: number;
  readonly from: string;
  readonly service: string;
  readonly became: Became;
  readonly count: number;
}

/** What came at each moment, those of one sender and fate as one. */
export function watchedOf(aim: TrafficAim, tries: readonly TimedTry[]): string[] {
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
export const ownFirst = (rows: readonly TrafficRow[]): TrafficRow[] => {
  const rank = (r: TrafficRow): number => (r.isService ? 0 : 2) - (r.isClient ? 1 : 0);
  return [...rows].sort((a, b) => rank(a) - rank(b));
};

export const numbered = (n: number, one: string, many: string): string =>
  `${n.toLocaleString('en')} ${n === 1 ? one : many}`;
