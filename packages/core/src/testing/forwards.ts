import type { Fact } from '../facts/index.ts';
import { factText } from '../words/index.ts';

/** The forwards among facts, one line of words each: `tcp 8214 → 192.168.50.20:8214 (off)`. */
export const forwardLines = (facts: readonly Fact[]): string[] =>
  facts.flatMap((f) => (f.kind === 'forward' ? [factText(f).value] : []));
