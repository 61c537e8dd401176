import type { Adjustments, Recognised, Shapes } from '@bright-ferry/core/views';
import type { Asked } from './waiting.ts';

/** Under this key the cabinet keeps columns that were put right. */
export const SHAPES = 'table-shapes';

/** More than this is not kept over a reload, bytes. */
export const MOST_KEPT = 4 * 1024 * 1024;

/** A piece that waits, as the browser keeps it. */
export interface Kept {
  readonly bytes: Uint8Array;
  readonly adjust: Adjustments;
  readonly typed: string | null;
}

export function keptText(questions: readonly Asked[]): string {
  let room = MOST_KEPT;
  const pieces = questions.flatMap((q) => {
    room -= q.bytes.length;
    if (room < 0) return [];
    const binary = Array.from(q.bytes, (b) => String.fromCharCode(b)).join('');
    return [
      {
        bytes: btoa(binary),
        adjust: 'adjust' in q ? q.adjust : {},
        typed: 'typed' in q ? q.typed : null,
      },
    ];
  });
  return JSON.stringify(pieces);
}

export function keptPieces(note: string | null): Kept[] {
  try {
    const list = JSON.parse(note ?? '[]') as { bytes: string; adjust: Adjustments; typed: string | null }[];
    return list.map((p) => ({ ...p, bytes: Uint8Array.from(atob(p.bytes), (c) => c.charCodeAt(0)) }));
  } catch {
    return [];
  }
}

export function shapesOf(note: string | null): Shapes {
  try {
    return JSON.parse(note ?? '{}') as Shapes;
  } catch {
    return {};
  }
}

export function titleFor(found: Extract<Recognised, { is: 'text' }>, adjust: Adjustments): string {
  if (!found.format) return 'not understood, kept as a note';
  const remembered = found.columns && !adjust.columns ? ', its columns as you put them right before' : '';
  return `${found.title}, ${found.facts} ${found.facts === 1 ? 'fact' : 'facts'}${remembered}`;
}

export function refusal(found: Exclude<Recognised, { is: 'text' }>): string {
  if (found.is === 'empty')
    return (
      'There is nothing in it. An empty listing says nothing; send what the program prints, with ' +
      'the line above it.'
    );
  const instead = found.what.includes('picture')
    ? 'Type the line that matters instead, for example “WAN IP 203.0.113.50”.'
    : 'Send the text that the program prints: select it, copy it, paste it here.';
  return `This is ${found.what}, not text. ${instead}`;
}
