import { bsdFilterProgram } from '../devices/index.ts';
import type { Program } from '../rules/index.ts';
import { newestOf, newestWith, toldIn, type CaseFacts } from '../ledger/index.ts';

/**
 * A machine's own BSD packet filter from its listings; null where neither its rules nor that it is off are
 * known.
 */
export function listedBsdFilter(facts: CaseFacts, stop: string): Program | null {
  if (newestOf(facts, stop, 'bsd-enabled').some((f) => !f.value)) return bsdFilterProgram([], false);
  const listing = newestWith(facts, stop, 'bsd-rules-listed');
  if (!listing) return null;
  const { file } = listing;
  return bsdFilterProgram(
    toldIn(listing, 'bsd-rule').map((f) => ({ text: f.value, source: { file, ...f.at } })),
    true,
  );
}
