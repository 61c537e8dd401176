import type { CaseFacts } from '../../ledger/index.ts';
import type { FoundFault } from './foundFault.ts';
import { RECORDS } from './shown/records.ts';
import { SAYS } from './shown/says.ts';
import type { Told } from './shown/told.ts';
import { TRIES } from './shown/tries.ts';

const DETECTORS = [...SAYS, ...RECORDS, ...TRIES];

/** Faults that records, tries and words show by themselves, the surest first. */
export function recognised(facts: CaseFacts): FoundFault[] {
  const { path, observations, client } = facts.document;
  const first = (role: string): string => path.find((s) => s.role === role)?.id ?? role;
  const told: Told = {
    facts,
    says: (client?.says ?? '').toLowerCase(),
    tries: observations ?? [],
    client: first('client'),
    host: first('host'),
    gateway: path.some((s) => s.role === 'gateway') ? first('gateway') : first('edge'),
    carrier: first('carrier'),
  };
  return DETECTORS.flatMap((d) => d(told) ?? []).sort((a, b) => b.probability - a.probability);
}
