import { bsdFilterProgram } from '../devices/index.ts';
import type { Program } from '../rules/index.ts';
import type { CaseFacts } from '../ledger/index.ts';
import type { NotedFact } from '../facts/index.ts';

/** A machine's own BSD packet filter from its listings; null where neither its rules nor that it is off are known. */
export function listedBsdFilter(facts: CaseFacts, stop: string): Program | null {
  const newest = (topic: string): { file: string; facts: NotedFact[] } | null => {
    const file = facts.files
      .filter((f) => f.stop === stop && f.facts.some((x) => x.kind === 'noted' && x.topic === topic))
      .pop();
    return file
      ? { file: file.file, facts: file.facts.filter((x): x is NotedFact => x.kind === 'noted') }
      : null;
  };
  if (newest('bsdEnabled')?.facts.find((f) => f.topic === 'bsdEnabled')?.value === false)
    return bsdFilterProgram([], false);
  const rules = newest('bsdRulesListed');
  return rules
    ? bsdFilterProgram(
        rules.facts
          .filter((f) => f.topic === 'bsdRules')
          .map((f) => ({ text: f.text, source: { file: rules.file, ...f.at } })),
        true,
      )
    : null;
}
