import { sameAddress, sameEndpoint, type Header } from '../net/index.ts';
import { explore, type Question } from '../rules/index.ts';
import type { Site } from '../site/index.ts';
import { assumptionsOf, type Assumption } from './assumed.ts';
import { follow } from './follow.ts';
import { withSender } from './sender.ts';
import type { Run } from './types.ts';

/** The verdict on one packet. */
export interface Trace {
  readonly packet: Header;
  readonly outcome: 'answered' | 'refused' | 'lost' | 'unknown';
  /** null for unknown, and where the possible ways agree on the outcome but not on the place */
  readonly stop: string | null;
  readonly direction: 'forward' | 'reply';
  readonly seen: Run['seen'];
  /** The run that is shown: the only one, or the one that gets furthest. */
  readonly shown: Run;
  /** The other ways that it may go; empty where nothing is open. */
  readonly others: readonly Run[];
  /** What would settle it: an unknown outcome, or the place of a known one. */
  readonly needs: readonly Question[];
  /** What the run that is shown takes for granted. */
  readonly assumed: readonly Assumption[];
  /** Where the outcome changes by itself with time: what it is at first, and later. Empty otherwise. */
  readonly overTime: readonly {
    readonly phase: 'at first' | 'after a while';
    readonly outcome: Trace['outcome'];
    readonly run: Run;
  }[];
}

export interface TraceOptions {
  /** Keep every step for the explanation. Default true; without it only the verdict is right. */
  readonly explain?: boolean;
}

/**
 * What happens to one new connection or first datagram. Pure: the same site and packet give the same trace.
 */
export function trace(site: Site, packet: Header, { explain = true }: TraceOptions = {}): Trace {
  const whole = withSender(site, packet.source.address);
  const { results, answers, questions, complete } = explore(
    (ask) => follow(whole, packet, ask, explain),
    questionsOverTime,
  );
  const first = results[0]!;
  if (results.some((r) => r.outcome === 'open') || disagree(results) || !complete) {
    const shown = furthest(results);
    return {
      packet,
      outcome: 'unknown',
      stop: null,
      direction: shown.direction,
      seen: null,
      shown,
      others: results.filter((r) => r !== shown),
      needs: settling(questions),
      assumed: assumptionsOf(whole, shown, packet),
      overTime: phases(results, answers, questions, complete),
    };
  }
  const tried = site.tries?.find(
    (t) =>
      t.transport === packet.transport &&
      sameAddress(t.source, packet.source.address) &&
      sameEndpoint(t.destination, packet.destination),
  );
  if (tried && tried.outcome !== first.outcome && first.outcome !== 'open')
    return {
      packet,
      outcome: 'unknown',
      stop: null,
      direction: first.direction,
      seen: null,
      shown: first,
      others: results.slice(1),
      needs: [
        {
          key: 'try-differs',
          need: { need: 'try-differs', tried: tried.outcome, worked: first.outcome },
          settle: null,
        },
      ],
      assumed: assumptionsOf(whole, first, packet),
      overTime: [],
    };
  const sameStop = results.every((r) => r.stop === first.stop && r.direction === first.direction);
  // What ends it if all that is open lets it pass ends it for sure; what may end it before is asked for.
  const shown = sameStop ? first : furthest(results);
  return {
    packet,
    outcome: first.outcome as Exclude<Run['outcome'], 'open'>,
    stop: sameStop ? first.stop : null,
    direction: shown.direction,
    seen: shown.seen,
    shown,
    others: results.filter((r) => r !== shown),
    needs: sameStop ? [] : settling(questions),
    assumed: assumptionsOf(whole, shown, packet),
    overTime: [],
  };
}

/**
 * Whether a packet is lost on ways that part, each with an end of its own: then none of the places is sure.
 * Where they are one way that may end sooner or later, the farthest end is.
 */
export const isForked = ({ outcome, shown, others }: Trace): boolean =>
  (outcome === 'lost' || outcome === 'refused') &&
  others.some((other) =>
    other.legs.some((leg, i) => shown.legs[i]?.stop !== leg.stop || shown.legs[i]?.lane !== leg.lane),
  );

/** Disagreement ends the exploration early, unless a run is still needed to tell what changes with time. */
const questionsOverTime = (results: readonly Run[]): boolean =>
  disagree(results) && results.length >= MOST_PHASE_RUNS;

/** Runs within which a change over time has to show. */
const MOST_PHASE_RUNS = 8;

/** The outcomes before and after, where time is the only thing that is open. */
function phases(
  results: readonly Run[],
  answers: readonly ReadonlyMap<string, number>[],
  questions: readonly Question[],
  complete: boolean,
): Trace['overTime'] {
  const timed = questions.filter((q) => q.overTime);
  if (timed.length !== 1 || !complete) return [];
  const key = timed[0]!.key;
  // Where it did not come up it made no difference: so it goes at both times.
  const groups = [0, 1].map((answer) =>
    results.filter((_, i) => (answers[i]?.get(key) ?? answer) === answer),
  );
  if (groups.some((g) => g.length === 0 || g.some((r) => r.outcome === 'open') || disagree(g))) return [];
  return groups.map((g, i) => ({
    phase: i === 0 ? 'at first' : 'after a while',
    outcome: g[0]!.outcome as Exclude<Run['outcome'], 'open'>,
    run: g[0]!,
  }));
}

function disagree(results: readonly Run[]): boolean {
  const first = results[0]!;
  if (results.length > 0 && first.outcome === 'open') return true;
  return results.some(
    (r) => r.outcome !== first.outcome || (r.outcome === 'answered' && !sameSeen(r.seen, first.seen)),
  );
}

const sameSeen = (a: Run['seen'], b: Run['seen']): boolean =>
  a === b ||
  (a !== null &&
    b !== null &&
    sameEndpoint(a.source, b.source) &&
    sameEndpoint(a.destination, b.destination));

const RANK: Readonly<Record<Run['outcome'], number>> = { answered: 3, open: 2, refused: 1, lost: 0 };

function furthest(results: readonly Run[]): Run {
  return results.reduce((best, run) =>
    RANK[run.outcome] > RANK[best.outcome] ||
    (run.outcome === best.outcome && run.legs.length > best.legs.length)
      ? run
      : best,
  );
}

/** Questions that evidence can settle come first. */
function settling(questions: readonly Question[]): Question[] {
  return [...questions].sort((a, b) => Number(a.settle === null) - Number(b.settle === null));
}
