import type { Fact, FactKind } from '../facts/index.ts';
import type { CaseFacts, ReadFile } from './caseFacts.ts';

type Of<K extends FactKind> = Extract<Fact, { readonly kind: K }>;

/** The facts of a kind in one piece of evidence. */
export const toldIn = <K extends FactKind>(piece: Pick<ReadFile, 'facts'>, kind: K): Of<K>[] =>
  piece.facts.filter((f): f is Of<K> => f.kind === kind);

/** The newest piece of evidence at a stop that holds a fact of the kind; null where none does. */
export const newestWith = (facts: CaseFacts, stop: string, kind: FactKind): ReadFile | null =>
  facts.files.filter((f) => f.stop === stop && f.facts.some((x) => x.kind === kind)).pop() ?? null;

/** The facts of a kind in the newest piece of evidence at a stop that holds any. */
export function newestOf<K extends FactKind>(facts: CaseFacts, stop: string, kind: K): Of<K>[] {
  const piece = newestWith(facts, stop, kind);
  return piece ? toldIn(piece, kind) : [];
}
