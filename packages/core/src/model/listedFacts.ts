import type { Fact } from '../facts/index.ts';
import type { AgedReading } from '../ledger/index.ts';
import type { SourceRef, Span } from '../place/index.ts';

/** The facts of a kind among the readings of one stop, each with its place. */
export const of = <K extends Fact['kind']>(
  readings: readonly AgedReading[],
  kind: K,
): { fact: Extract<Fact, { kind: K }>; source: SourceRef }[] =>
  readings.flatMap((r) =>
    r.facts
      .filter((f): f is Extract<Fact, { kind: K }> => f.kind === kind)
      .map((fact) => ({ fact, source: ref(r.file, fact.at) })),
  );

const ref = (file: string, at: Span): SourceRef => ({ file, ...at });
