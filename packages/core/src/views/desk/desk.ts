import type { BenchView, Lamp } from '../bench/types.ts';

/** Who has to do something next. */
export type Turn = 'ours' | 'owner' | 'client';

/** What the desk says of a case, in a line. */
export interface DeskLine {
  readonly lamp: Lamp;
  readonly word: string;
  /** Where the packet ends; null: nowhere, or not known. */
  readonly place: string | null;
  /** The change to be made, or what was asked for. */
  readonly waits: string;
  readonly turn: Turn;
}

export function deskLine(view: BenchView): DeskLine {
  const { verdict, crossing, next } = view;
  const end = crossing.stops.find((s) => s.ends);
  const line = { lamp: verdict.lamp, word: verdict.word, place: end?.name ?? null };
  switch (next.kind) {
    case 'mend':
      return { ...line, waits: next.mend.title, turn: 'ours' };
    case 'check': {
      const role = view.stops.find((s) => s.id === next.stop)?.role;
      return { ...line, waits: next.words.title, turn: role === 'client' ? 'client' : 'owner' };
    }
    case 'done':
      return { ...line, waits: next.title, turn: verdict.lamp === 'lit' ? 'client' : 'ours' };
  }
}
