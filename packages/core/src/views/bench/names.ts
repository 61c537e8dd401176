import type { CaseFacts } from '../../ledger/index.ts';
import { ROLE_NAMES, type StopNames } from '../../words/index.ts';

/** How stops are called: by their given name, else by their role. */
export function stopNames(facts: CaseFacts): StopNames {
  const names = new Map(facts.document.path.map((s) => [s.id, s.name ?? ROLE_NAMES[s.role] ?? s.id]));
  return (id) => (id === null ? 'network' : (names.get(id) ?? (id === 'internet' ? 'internet' : id)));
}
