import type { AllowListSettings, AllowRow } from '../devices/index.ts';
import type { CaseFacts } from '../ledger/index.ts';
import type { NotedFact } from '../facts/index.ts';

/**
 * The allow lists of a perimeter from what was pasted: all of them add up. What they do not let in may still be let in by one that
 * nobody has sent. Null where there is none, or where rows refuse too.
 */
export function listedAllowList(
  facts: CaseFacts,
  stop: string,
): { settings: AllowListSettings; perhaps: string } | null {
  const noted = (f: { facts: readonly unknown[] }, topic: string): NotedFact[] =>
    (f.facts as NotedFact[]).filter((x) => x.kind === 'noted' && x.topic === topic);
  const files = facts.files.filter(
    (f) =>
      f.stop === stop && ['allowRows', 'allowNothing', 'allowRefuses'].some((t) => noted(f, t).length > 0),
  );
  if (files.length === 0 || files.some((f) => noted(f, 'allowRefuses').length > 0)) return null;
  return {
    settings: {
      kind: 'allow-list',
      lists: files.map((f) => ({
        name: f.file.replace(/^.*\//, ''),
        rows: noted(f, 'allowRows').map((n) => n.value as unknown as AllowRow),
      })),
    },
    perhaps: 'whether a further list also belongs to this machine is not known (lists add up)',
  };
}
