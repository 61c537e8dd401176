import { parseAddress, type Address } from '../net/index.ts';
import type { SourceRef } from '../place/index.ts';
import { factsOf, type CaseFacts, type Located } from './caseFacts.ts';
import type { LabelKind, LabelledFact } from '../facts/index.ts';

const labelledOf = (facts: CaseFacts, stop: string | null, what: LabelKind): Located<LabelledFact>[] =>
  factsOf(facts, 'labelled').filter((l) => (stop === null || l.stop === stop) && l.fact.what === what);

/** The value that stands for a label at a stop: the newest printed one, else the newest typed one. */
export function labelledAddress(
  facts: CaseFacts,
  stop: string | null,
  what: LabelKind,
): { address: Address; source: SourceRef; prefix: number | null } | null {
  for (const l of labelledOf(facts, stop, what).reverse()) {
    const address = parseAddress(l.fact.value);
    if (address) return { address, source: l.source, prefix: l.fact.prefix ?? null };
  }
  return null;
}
