import type { Family } from '../net/index.ts';
import type { BaseChain, Hook, Program } from './program.ts';

/**
 * Priority at which connection tracking looks at packets on `prerouting` and `output` (NF_IP_PRI_CONNTRACK).
 * Chains below it see no session.
 */
export const TRACKING_PRIORITY = -200;

/** Fixed places of the translations (NF_IP_PRI_NAT_DST, NF_IP_PRI_NAT_SRC). */
export const TRANSLATION_PRIORITY: Readonly<Record<Exclude<Hook, 'forward'>, number>> = {
  prerouting: -100,
  output: -100,
  postrouting: 100,
  input: 100,
};

/** The chains of one hook for one family, in the order in which the kernel calls them. */
export interface HookPlan {
  /** Filter and route chains; each with its priority. */
  readonly filters: readonly BaseChain[];
  /**
   * Translation chains. Since Linux 4.18 all of them hang on one hook at the fixed place, ordered among
   * themselves by priority; a chain of type nat with priority 5 on prerouting still runs at -100.
   */
  readonly translations: readonly BaseChain[];
}

const plans = new WeakMap<Program, Map<string, HookPlan>>();

/** Chains of equal priority: the one registered last is called first (nf_hook_entries_grow). */
export function hookPlan(program: Program, hook: Hook, family: Family): HookPlan {
  let ofProgram = plans.get(program);
  if (!ofProgram) plans.set(program, (ofProgram = new Map()));
  const key = `${hook}${family}`;
  let plan = ofProgram.get(key);
  if (!plan) {
    const mine = program.baseChains
      .map((chain, index) => ({ chain, index }))
      .filter(({ chain }) => chain.hook === hook && chain.families.includes(family));
    const sorted = mine
      .sort((a, b) => a.chain.priority - b.chain.priority || b.index - a.index)
      .map(({ chain }) => chain);
    plan = {
      filters: sorted.filter((c) => c.type !== 'nat'),
      translations: sorted.filter((c) => c.type === 'nat'),
    };
    ofProgram.set(key, plan);
  }
  return plan;
}
