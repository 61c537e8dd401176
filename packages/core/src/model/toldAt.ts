import type { ToldFactOf, ToldKind } from '../facts/index.ts';
import { factsOf, type CaseFacts } from '../ledger/index.ts';
import type { SourceRef } from '../place/index.ts';

/** What is told of a kind at one stop, with its sources. */
export const toldAt = <K extends ToldKind>(
  facts: CaseFacts,
  stop: string,
  kind: K,
): { fact: ToldFactOf<K>; source: SourceRef }[] =>
  factsOf(facts, kind).flatMap(({ stop: own, fact, source }) =>
    own === stop ? [{ fact: fact as unknown as ToldFactOf<K>, source }] : [],
  );
