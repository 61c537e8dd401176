import { nth } from '../../place/index.ts';
import type { Family } from '../../net/index.ts';
import type { Chain } from '../../rules/index.ts';

export interface RuleContext {
  readonly family: Family;
  readonly table: string;
  /**
   * The side that the hooks translate from which the chain is reached; null where they differ or none reaches
   * it.
   */
  readonly side: 'source' | 'destination' | null;
  chain(name: string): Chain | null;
}

/**
 * One option with its values, `!` folded in: `! --dport 80` is `{ name: '--dport', negate: true, values:
 * ['80'] }`.
 */
export interface Option {
  readonly name: string;
  readonly negate: boolean;
  readonly values: readonly string[];
}

/**
 * Splits the words after `-A CHAIN` into options. `!` stands before the option (current) or before its value
 * (old).
 */
export function options(words: readonly string[]): Option[] {
  const out: { name: string; negate: boolean; values: string[] }[] = [];
  let negate = false;
  for (const word of words) {
    if (word === '!') {
      const last = out[out.length - 1];
      if (last && last.values.length === 0 && TAKES_VALUE.has(last.name)) last.negate = true;
      else negate = true;
    } else if (
      /^--?[a-z]/i.test(word) &&
      !(
        out.length > 0 &&
        nth(out, out.length - 1).name.endsWith('-prefix') &&
        nth(out, out.length - 1).values.length === 0
      )
    ) {
      out.push({ name: word, negate, values: [] });
      negate = false;
    } else out[out.length - 1]?.values.push(word);
  }
  return out;
}

const TAKES_VALUE = new Set(['-s', '-d', '-p', '-i', '-o', '--dport', '--sport']);
