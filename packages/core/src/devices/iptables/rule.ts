import { nth } from '../../place/index.ts';
import type { Step } from '../../rules/index.ts';
import { compileMatches } from './matches.ts';
import { options, type RuleContext } from './options.ts';
import { compileTarget } from './targets.ts';

/** Compiles one rule: its matches in the order written, then its target. */
export function compileRule(words: readonly string[], context: RuleContext): Step[] {
  const all = options(words);
  const at = all.findIndex((o) => o.name === '-j' || o.name === '-g');
  const before = at < 0 ? all : all.slice(0, at);
  const steps = compileMatches(before, context);
  return at < 0 ? steps : [...steps, ...compileTarget(nth(all, at), all.slice(at + 1), context)];
}
