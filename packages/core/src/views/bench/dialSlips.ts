import { checkDialled, type DialProblem } from '../../intake/index.ts';
import type { CaseFacts } from '../../ledger/index.ts';

/**
 * What is wrong with what the client dials. A relay leases ports of its own, whatever the service's are: its
 * leases tell which of them is right.
 */
export function dialSlips({ document }: CaseFacts): DialProblem[] {
  const { dials } = document.client ?? {};
  const slips = dials === undefined ? [] : checkDialled(dials, document.service?.endpoints ?? []);
  const hasRelay = document.path.some((s) => s.role === 'relay');
  return hasRelay ? slips.filter((p) => p.kind !== 'port-other') : slips;
}
