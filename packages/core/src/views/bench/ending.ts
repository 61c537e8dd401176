import type { BenchView } from './types.ts';

/** The stop at which the packet ends; where that is not known, the one that is asked next. */
export function endingStop({ crossing, next, stops }: BenchView): string | null {
  const ids = new Set(stops.map((s) => s.id));
  const real = crossing.stops.filter((s) => ids.has(s.id));
  const last = real[real.length - 1];
  const endsAtProgram = crossing.stops.some((s) => s.id === 'program' && s.ends);
  if (endsAtProgram) return last?.id ?? null;
  const asked = next.kind === 'check' ? real.find((s) => s.id === next.stop) : undefined;
  const found = real.find((s) => s.ends) ?? asked ?? real.find((s) => s.lamp === 'fogged') ?? last;
  return found?.id ?? null;
}
