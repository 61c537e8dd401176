import type { AskKind } from '../../asks/index.ts';
import type { Observation } from '../../case/index.ts';
import { FAULTS, NEAR_IS_FINE, type FaultSign } from '../../faults/index.ts';
import type { CaseFacts } from '../../ledger/index.ts';
import { stillPossible, type Possible } from './stillPossible.ts';

/** A kind of fault that may be there, by how likely it is against the others; together they are 1. */
export interface Candidate extends Possible {
  readonly share: number;
}

/** How often a caller sees something else than what happens, and another one's try is told wrongly. */
const MISHEARD = 0.05;
const MISTOLD = 0.02;

/** What the catalogue does not have. */
const SOMETHING_ELSE = 0.03;

/** Everything that may be wrong, as likely as it is common and fits to what was seen. */
export function candidatesOf(facts: CaseFacts): readonly Candidate[] {
  const { client, observations = [] } = facts.document;
  const symptom = client?.symptom ?? 'unknown';
  const seen = (vantages: readonly Observation['vantage'][]): Observation['outcome'] | undefined =>
    observations.findLast((o) => vantages.includes(o.vantage) && !o.other)?.outcome;
  const own = seen(['client', 'client-by-name']);
  const near = seen(['lan']);
  const all = stillPossible(facts).map((p) => ({
    ...p,
    share:
      FAULTS[p.fault].weight *
      (symptom === 'unknown' ? 1 : fits(FAULTS[p.fault].sees, symptom, MISHEARD)) *
      (own === 'lost' || own === 'refused' ? fits(FAULTS[p.fault].sees, own, MISTOLD) : 1) *
      (near === undefined ? 1 : nearFits(p, near === 'answered')),
  }));
  const sum = all.reduce((n, c) => n + c.share, 0) / (1 - SOMETHING_ELSE);
  return all.map((c) => ({ ...c, share: c.share / sum }));
}

/** How often the commonest of several signs is the one that is seen. */
const COMMONEST = 0.7;

function fits(sees: readonly FaultSign[], sign: FaultSign, otherwise: number): number {
  if (!sees.includes(sign)) return otherwise;
  if (sees.length === 1) return 1 - otherwise;
  return (1 - otherwise) * (sees[0] === sign ? COMMONEST : (1 - COMMONEST) / (sees.length - 1));
}

/** What is wrong before the server, or only from afar, is not felt beside it. */
const isFineNear = ({ place, fault }: Possible): boolean =>
  (place !== 'host' && place !== 'program') || NEAR_IS_FINE.has(fault);
const nearFits = (p: Possible, isAnswered: boolean): number =>
  isFineNear(p) === isAnswered ? 1 - MISTOLD : MISTOLD;

/** bits (Shannon 1948 §6) */
const bits = (share: number): number => (share <= 0 ? 0 : -share * Math.log2(share));

/**
 * How much less is open once a listing is there, in bits: each fault that it would show is then named, or all
 * of them are ruled out.
 */
export function gainOfListing(candidates: readonly Candidate[], stop: string, yields: AskKind): number {
  const shown = candidates.filter((c) => c.stop === stop && c.shownBy === yields);
  const mass = shown.reduce((n, c) => n + c.share, 0);
  return shown.reduce((n, c) => n + bits(c.share), 0) + bits(1 - mass);
}
