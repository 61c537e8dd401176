import { last, nth } from '../place/index.ts';
import type { PathStop } from '../case/index.ts';
import { isReachable, parseAddress } from '../net/index.ts';
import { type CaseFacts } from './caseFacts.ts';
import type { Reading } from '../facts/index.ts';
import { votesOf } from './votes.ts';
import { type Whose } from './whose.ts';

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

/** Weights of a prompt that names a stop, and of a stop's own address. */
const BY_PROMPT = 5;
const BY_ADDRESS = 6;

/**
 * The stop that the prompt of a piece is of: the one with pieces of the same prompt, or of that name; and the
 * stops with pieces of other prompts alone, which it is not.
 */
function promptVote(
  { promptHost }: Reading,
  { document, files }: CaseFacts,
): { readonly stop: string | null; readonly others: readonly string[]; readonly why: Whose } | null {
  if (promptHost === undefined) return null;
  const prompts = (stop: string): ReadonlySet<string> =>
    new Set(files.flatMap((f) => (f.stop === stop && f.promptHost !== undefined ? [f.promptHost] : [])));
  const own =
    document.path.find((s) => prompts(s.id).has(promptHost)) ??
    document.path.find((s) => s.name?.toLowerCase() === promptHost);
  const others = document.path.filter((s) => s !== own && prompts(s.id).size > 0).map((s) => s.id);
  return { stop: own?.id ?? null, others, why: { by: 'prompt', host: promptHost } };
}

/** Listeners on a public address that no stop is known to have may be the gateway's as well. */
function isUnknownPublic({ facts }: Reading, { document }: CaseFacts, why: Whose): boolean {
  if (why.by !== 'listener' && why.by !== 'listeners') return false;
  const isBehind = document.path.some((s) => s.role === 'gateway');
  return (
    isBehind &&
    facts.some((f) => {
      const address = f.kind === 'socket' ? parseAddress(f.address) : null;
      return address !== null && isReachable(address);
    })
  );
}

/** Assigns a reading by what its facts say about whose they are. */
export function assignStop(reading: Reading, facts: CaseFacts): Assignment {
  const path = facts.document.path;
  const first = (role: string): string | null => path.find((s) => s.role === role)?.id ?? null;
  const hosts = path.filter((s) => s.role === 'host');
  const host = (hosts.filter((s) => !isContainer(s)).pop() ?? hosts.pop())?.id ?? last(path).id;
  const gateway = first('gateway') ?? host;
  const client = first('client') ?? nth(path, 0).id;
  const votes = new Map<string, { weight: number; why: Whose }>();
  for (const vote of reading.facts.flatMap((fact) => votesOf(fact, facts, { host, gateway, client }))) {
    const before = votes.get(vote.stop);
    votes.set(
      vote.stop,
      before && before.weight >= vote.weight ? before : { weight: vote.weight, why: vote.why },
    );
  }
  const prompted = promptVote(reading, facts);
  if (prompted?.stop) votes.set(prompted.stop, { weight: BY_PROMPT, why: prompted.why });
  for (const stop of prompted?.others ?? []) {
    const vote = votes.get(stop);
    // Its own addresses prove more than what its prompt is called.
    if (vote && vote.weight < BY_ADDRESS) votes.delete(stop);
  }
  const ranked = [...votes.entries()].sort((a, b) => b[1].weight - a[1].weight);
  const [best, second] = ranked;
  const order = [...new Set([...ranked.map(([stop]) => stop), host, gateway, ...path.map((s) => s.id)])];
  if (!best) return { stop: nth(order, 0), sure: false, candidates: order, why: { by: 'nothing' } };
  const isDisputed = best[1].why.by === 'prompt' && second !== undefined && second[1].weight >= SURE;
  const sure =
    best[1].weight >= SURE &&
    !isDisputed &&
    !isUnknownPublic(reading, facts, best[1].why) &&
    (second === undefined || second[1].weight < best[1].weight);
  return { stop: best[0], sure, candidates: order, why: best[1].why };
}
