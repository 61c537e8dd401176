import type { IptablesTable, NftObject } from '../devices/index.ts';
import type { Vote } from './whose.ts';

/** What a rule set does; `nothing`: it is empty, as it may be on any machine. */
export type RuleRole = 'translates' | 'guards' | 'nothing';

export function nftRole(objects: readonly NftObject[]): RuleRole {
  const bases = objects.flatMap((o) => (o.is === 'chain' && o.base !== null ? [o.base] : []));
  if (bases.some((b) => b.hook === 'forward' || (b.type === 'nat' && b.hook === 'prerouting')))
    return 'translates';
  return bases.length > 0 ? 'guards' : 'nothing';
}

export function iptablesRole(tables: readonly IptablesTable[]): RuleRole {
  const rules = tables.flatMap((t) => t.rules);
  if (rules.some((r) => r.words.includes('DNAT') || r.words.includes('MASQUERADE'))) return 'translates';
  const isOpen = tables.every((t) => t.chains.every((c) => c.policy === null || c.policy === 'ACCEPT'));
  return rules.length > 0 || !isOpen ? 'guards' : 'nothing';
}

export function ruleVotes(role: RuleRole, { host, gateway }: { host: string; gateway: string }): Vote[] {
  if (host === gateway) return [{ stop: host, weight: 4, why: { by: 'only-machine' } }];
  switch (role) {
    case 'translates':
      return [
        { stop: gateway, weight: 3, why: { by: 'translates' } },
        { stop: host, weight: 1, why: { by: 'nothing' } },
      ];
    case 'guards':
      return [{ stop: host, weight: 3, why: { by: 'guards' } }];
    case 'nothing':
      return [
        { stop: host, weight: 2, why: { by: 'nothing' } },
        { stop: gateway, weight: 1, why: { by: 'nothing' } },
      ];
  }
}
