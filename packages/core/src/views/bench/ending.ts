import type { BenchView } from './types.ts';

/** The stop to look at first: where it ends, else the first one in fog, else the last. */
export function endingStop(view: BenchView): string | null {
  const ids = new Set(view.stops.map((s) => s.id));
  const real = view.crossing.stops.filter((s) => ids.has(s.id));
  const last = real[real.length - 1];
  const endsAtProgram = view.crossing.stops.some((s) => s.id === 'program' && s.ends);
  if (endsAtProgram) return last?.id ?? null;
  const found = real.find((s) => s.ends) ?? real.find((s) => s.lamp === 'fogged') ?? last;
  return found?.id ?? null;
}
