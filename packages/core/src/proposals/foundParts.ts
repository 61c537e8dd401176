import type { PathStop } from '../case/index.ts';
import type { CaseFacts } from '../ledger/index.ts';
import { addressKind, type Address } from '../net/index.ts';
import type { Site, Machine } from '../site/index.ts';
import type { SourceRef } from '../place/index.ts';

export const stopsOf = (facts: CaseFacts, role: string): PathStop[] =>
  facts.document.path.filter((s) => s.role === role);

export const machineOf = (site: Site, stop: PathStop | undefined): Machine | undefined =>
  site.machines.find((m) => m.id === stop?.id);

export const isPrivate = (a: Address): boolean => addressKind(a).kind === 'private';

/** An id that the path does not have yet. */

export function freeId(facts: CaseFacts, wanted: string): string {
  const taken = new Set(facts.document.path.map((s) => s.id));
  for (let n = 1; ; n++) {
    const id = n === 1 ? wanted : `${wanted}-${n}`;
    if (!taken.has(id)) return id;
  }
}

export const sources = (...list: readonly (SourceRef | null | undefined)[]): SourceRef[] =>
  list.filter((s): s is SourceRef => s !== null && s !== undefined);
