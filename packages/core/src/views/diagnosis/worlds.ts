import type { CaseFacts } from '../../ledger/index.ts';
import { type Mend, mendChain, type MendStep, sceneFrom } from '../../mend/index.ts';
import type { Site } from '../../site/index.ts';
import { openFaults, otherLineFault, pastNextGateway } from './openFaults.ts';
import type { FoundFault } from './foundFault.ts';
import type { StopNames } from '../../words/index.ts';
import { aimOf, packetsFor } from '../bench/packet.ts';
import { isForked } from '../../crossing/index.ts';
import { neverArrives } from '../bench/crossingView.ts';
import { buildSite } from '../../model/index.ts';
import { INVENTED } from './assumedFiles.ts';
import { healthy } from './healthy.ts';

/** The case with what nobody told of as it should be, and how its packets fare. */
export interface World {
  readonly facts: CaseFacts;
  readonly site: Site;
  readonly steps: readonly MendStep[];
  /** What is wrong by what is known. */
  readonly suspects: readonly MendStep[];
}

/**
 * A name that nobody has looked up cannot lead astray by what was taken for its answer, nor a forward past an
 * address that stands in for the server's.
 */
export const isInvented = ({ files }: CaseFacts, { fault }: Mend): boolean =>
  (fault.startsWith('name-') &&
    files.some((f) => f.file.startsWith('assumed/') && f.facts.some((x) => x.kind === 'name'))) ||
  (/^fwd-(?:target|shadowed)/.test(fault) && files.some((f) => f.format === INVENTED));
/** What an open crossing points to, where the rest is as it should be. */
export function guessed({ facts, site, steps }: World, names: StopNames): FoundFault[] {
  const last = steps[steps.length - 1];
  if (!last) return [];
  const { address } = last.scene.packet.destination;
  return [
    ...pastNextGateway(site, last.trace),
    ...openFaults(facts, last.trace, names),
    ...otherLineFault(site, address),
  ];
}

/** The mends of the packet that tells most: a decided one, else one that is not answered. */
export function walkOf(facts: CaseFacts, site: Site): readonly MendStep[] | null {
  const aim = aimOf(facts);
  const all = (facts.document.service?.endpoints ?? [])
    .flatMap((e) => packetsFor(facts, aim, e))
    .map((packet) => mendChain(facts, sceneFrom(facts, packet, site)));
  return (
    all.find(isDecided) ??
    all.find((steps) => steps[0]?.mend && !isAnswered(steps)) ??
    all.find((steps) => !isAnswered(steps)) ??
    all[0] ??
    null
  );
}

export const isAnswered = ([first]: readonly MendStep[]): boolean => first?.trace.outcome === 'answered';

export const isDecided = ([first]: readonly MendStep[]): boolean =>
  first !== undefined &&
  first.mend !== null &&
  (first.trace.outcome !== 'unknown' || neverArrives(first.trace.shown)) &&
  !isForked(first.trace);
export function completedWorld(facts: CaseFacts): World {
  const completed = healthy(facts);
  const site = buildSite(completed);
  const steps = walkOf(completed, site) ?? [];
  return {
    facts: completed,
    site,
    steps,
    suspects: steps.filter((s) => s.mend && !isInvented(completed, s.mend)),
  };
}
