import type { PathStop } from '../case/index.ts';
import { type CaseFacts } from './caseFacts.ts';
import type { Reading } from '../facts/index.ts';
import { votesOf, type Whose } from './votes.ts';

/** Which stop a piece of evidence is from. */
export interface Assignment {
  readonly stop: string;
  /** False: another stop is possible; ask, this one first. */
  readonly sure: boolean;
  /** All stops it may be from, likeliest first. */
  readonly candidates: readonly string[];
  /** Why this one. */
  readonly why: Whose;
}

/** Weight from which a vote decides without asking. */
const SURE = 3;

/**
 * A stop that stands for what runs inside the server: evidence is the server's own unless it says otherwise.
 */
const isContainer = (stop: PathStop): boolean => stop.found?.reason.by === 'container';

/** Assigns a reading by what its facts say about whose they are. */
export function assignStop(reading: Reading, facts: CaseFacts): Assignment {
  const path = facts.document.path;
  const first = (role: string): string | null => path.find((s) => s.role === role)?.id ?? null;
  const hosts = path.filter((s) => s.role === 'host');
  const host = (hosts.filter((s) => !isContainer(s)).pop() ?? hosts.pop())?.id ?? path[path.length - 1]!.id;
  const gateway = first('gateway') ?? host;
  const client = first('client') ?? path[0]!.id;
  const votes = new Map<string, { weight: number; why: Whose }>();
  for (const vote of reading.facts.flatMap((fact) => votesOf(fact, facts, { host, gateway, client }))) {
    const before = votes.get(vote.stop);
    votes.set(
      vote.stop,
      before && before.weight >= vote.weight ? before : { weight: vote.weight, why: vote.why },
    );
  }
  const ranked = [...votes.entries()].sort((a, b) => b[1].weight - a[1].weight);
  const [best, second] = ranked;
  const order = [...new Set([...ranked.map(([stop]) => stop), host, gateway, ...path.map((s) => s.id)])];
  if (!best) return { stop: order[0]!, sure: false, candidates: order, why: { by: 'nothing' } };
  const sure = best[1].weight >= SURE && (second === undefined || second[1].weight < best[1].weight);
  return { stop: best[0], sure, candidates: order, why: best[1].why };
}
