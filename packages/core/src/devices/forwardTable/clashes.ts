import { type Doubt } from '../../rules/index.ts';
import { type ForwardRow } from './row.ts';
import { type ForwardManner } from './manner.ts';

/** A forward that is in force, with what makes it doubtful. */
export interface Live {
  readonly row: ForwardRow;
  readonly text: string;
  readonly doubts: readonly Doubt[];
}

/** Two rows that claim one port and send it to different places. */
function claims({ row: a }: Live, { row: b }: Live): boolean {
  const protocols = a.protocol === 'both' || b.protocol === 'both' || a.protocol === b.protocol;
  const lines = a.line === undefined || b.line === undefined || a.line === b.line;
  return (
    protocols &&
    lines &&
    a.outside.first <= b.outside.last &&
    b.outside.first <= a.outside.last &&
    (a.insideAddress?.bits !== b.insideAddress?.bits ||
      a.insideFirst - a.outside.first !== b.insideFirst - b.outside.first)
  );
}

export function clashes(live: readonly Live[], clash: ForwardManner['clash']): readonly Live[] {
  if (clash === 'first') return live;
  if (clash === 'last') return [...live].reverse();
  const rivals = rivalsOf(live);
  if (clash === 'refused') return live.filter((_, i) => !rivals[i]?.some((other) => other < i));
  return live.map((l, i) =>
    rivals[i]?.some((other) => other > i)
      ? { ...l, doubts: [...l.doubts, { doubt: 'later-row-claims' as const }] }
      : l,
  );
}

/**
 * For each row the numbers of those that claim one of its ports for another place. Rows are swept in the
 * order of their ports, so that only those with a port in common are compared.
 */
function rivalsOf(live: readonly Live[]): readonly (readonly number[])[] {
  const rivals: number[][] = live.map(() => []);
  const order = live.map((_, i) => i).sort((a, b) => firstPort(live[a]) - firstPort(live[b]));
  let open: number[] = [];
  for (const i of order) {
    const row = live[i];
    if (!row) continue;
    open = open.filter((j) => (live[j]?.row.outside.last ?? 0) >= row.row.outside.first);
    for (const j of open) {
      const other = live[j];
      if (!other || !claims(row, other)) continue;
      rivals[i]?.push(j);
      rivals[j]?.push(i);
    }
    open.push(i);
  }
  return rivals;
}

const firstPort = (live: Live | undefined): number => live?.row.outside.first ?? 0;
