import type { Observation } from '../../../case/index.ts';
import type { CaseFacts } from '../../../ledger/index.ts';
import { parseTarget, type Address } from '../../../net/index.ts';
import type { SourceRef } from '../../../place/index.ts';
import { shownFaultText, type ShownFault } from '../../../words/index.ts';
import type { FoundFault } from '../foundFault.ts';

/** What a detector looks at: facts, the caller's words in small letters, what was tried, and the stops. */
export interface Told {
  readonly facts: CaseFacts;
  readonly says: string;
  readonly tries: readonly Observation[];
  readonly client: string;
  readonly host: string;
  readonly gateway: string;
  readonly carrier: string;
}

/** One kind of sign; null where it is not there. */
export type Detector = (t: Told) => FoundFault | null;

/** What a record itself shows. */
export const SHOWN = 0.97;
/** What a program's own words say (a greeting, an error that the caller reads out). */
export const LIKELY = 0.96;
/** What only fits together. */
export const FITS = 0.7;
/** What may be meant as it is. */
export const MAY_BE = 0.3;

export const fault = (
  id: ShownFault,
  stop: string,
  probability: number,
  evidence: readonly SourceRef[] = [],
  of = '',
): FoundFault => ({ id, stop, probability, text: shownFaultText(id, of), evidence });

/** What came of the tries from some places. */
export const outcomesOf = (
  { tries }: Told,
  ...vantages: readonly Observation['vantage'][]
): ReadonlySet<string> => new Set(tries.filter((o) => vantages.includes(o.vantage)).map((o) => o.outcome));

const onlyOf = (set: ReadonlySet<string>, ...wanted: readonly string[]): boolean =>
  set.size > 0 && [...set].every((o) => wanted.includes(o));
export const fails = (set: ReadonlySet<string>): boolean => onlyOf(set, 'lost', 'refused');
export const works = (set: ReadonlySet<string>): boolean => onlyOf(set, 'answered');

/** The server's address as a try from beside it used it. */
export function triedServer({ tries }: Told): Address | null {
  const near = tries.filter((o) => o.vantage === 'lan').map((o) => parseTarget(o.to)?.address ?? null);
  return near.find((a) => a !== null) ?? null;
}
