import { addressIntersection, addressSet, toPrefixes, type Prefix } from '../../net/index.ts';
import { type Doubt } from '../../rules/index.ts';
import { type ForwardRow } from './row.ts';
import { type ForwardManner } from './manner.ts';

/** What a later row claims of an earlier one. */
export interface Rival {
  readonly protocol: 'tcp' | 'udp' | 'both';
  readonly ports: { readonly first: number; readonly last: number };
  /** Senders that both let in; null: anyone */
  readonly sources: readonly Prefix[] | null;
}

/** A forward that is in force, with what makes it doubtful. */
export interface Live {
  readonly row: ForwardRow;
  readonly text: string;
  readonly doubts: readonly Doubt[];
  /** What later rows claim of it, where it is not known which of two rows counts. */
  readonly rivals: readonly Rival[];
}

/** What two rows claim both and send to different places; null: nothing. */
function dispute({ row: a }: Live, { row: b }: Live): Rival | null {
  const protocol = shared(a.protocol, b.protocol);
  const ports = {
    first: Math.max(a.outside.first, b.outside.first),
    last: Math.min(a.outside.last, b.outside.last),
  };
  const lines = a.line === undefined || b.line === undefined || a.line === b.line;
  const agree =
    a.insideAddress?.bits === b.insideAddress?.bits &&
    a.insideFirst - a.outside.first === b.insideFirst - b.outside.first &&
    !a.unsure &&
    !b.unsure;
  if (protocol === null || ports.first > ports.last || !lines || agree) return null;
  const sources = sharedSources(a.sources, b.sources);
  return sources !== null && sources.length === 0 ? null : { protocol, ports, sources };
}

function shared(a: Rival['protocol'], b: Rival['protocol']): Rival['protocol'] | null {
  if (a === 'both') return b;
  return b === 'both' || a === b ? a : null;
}

function sharedSources(a: Rival['sources'], b: Rival['sources']): Rival['sources'] {
  if (a === null) return b;
  return b === null ? a : toPrefixes(addressIntersection(addressSet(...a), addressSet(...b)));
}

export function clashes(live: readonly Live[], clash: ForwardManner['clash']): readonly Live[] {
  if (clash === 'first') return live;
  if (clash === 'last') return [...live].reverse();
  const rivals = rivalsOf(live);
  if (clash === 'refused') return live.filter((_, i) => !rivals[i]?.some((other) => other < i));
  return live.map((l, i) => {
    const later = (rivals[i] ?? []).filter((other) => other > i).flatMap((other) => live[other] ?? []);
    return { ...l, rivals: later.flatMap((other) => dispute(l, other) ?? []) };
  });
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
      if (!other || dispute(row, other) === null) continue;
      rivals[i]?.push(j);
      rivals[j]?.push(i);
    }
    open.push(i);
  }
  return rivals;
}

const firstPort = (live: Live | undefined): number => live?.row.outside.first ?? 0;
