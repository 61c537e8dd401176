import type { Family } from '../../net/index.ts';
import { EMPTY_PROGRAM, type BaseChain, type Chain, type Hook, type Program, type Rule, type Step } from '../../rules/index.ts';
import type { SourceRef } from '../../site/index.ts';
import type { Json, NftFamily, NftObject } from './objects.ts';
import { compileSteps, type TableContext } from './steps.ts';

const FAMILIES: Readonly<Partial<Record<NftFamily, readonly Family[]>>> = { ip: [4], ip6: [6], inet: [4, 6] };
const HOOKS: ReadonlySet<string> = new Set<Hook>(['prerouting', 'input', 'forward', 'output', 'postrouting']);

type ObjectOf<K extends NftObject['is']> = Extract<NftObject, { is: K }>;

/**
 * Compiles the objects of one `nft list ruleset`. Every rule becomes a rule; what has no counterpart becomes an
 * "unmodelled" step in its place, so that it makes outcomes unknown instead of vanishing.
 */
export function compileNft(objects: readonly NftObject[], file: string): Program {
  const dormant = new Set(objects.filter((o): o is ObjectOf<'table'> => o.is === 'table' && o.dormant).map((o) => `${o.family} ${o.name}`));
  const live = objects.filter((o) => o.is === 'table' || !dormant.has(`${o.family} ${o.table}`));
  const chains = new Map<string, Chain & { rules: Rule[] }>();
  const bases: BaseChain[] = [];
  const ref = (o: NftObject): SourceRef => ({ file, ...o.at });
  for (const o of live) {
    if (o.is !== 'chain' || chains.has(chainKey(o.family, o.table, o.name))) continue;
    const chain = { id: chainKey(o.family, o.table, o.name), name: `${o.table} ${o.name}`, rules: [], source: ref(o) };
    chains.set(chain.id, chain);
    if (o.base) bases.push(...baseChains(o, chain));
  }
  const sets = new Map<string, readonly Json[]>();
  for (const o of live) if (o.is === 'set' || o.is === 'map') sets.set(`${o.family} ${o.table} ${o.name}`, o.elements);
  for (const o of live) {
    if (o.is !== 'rule') continue;
    const chain = chains.get(chainKey(o.family, o.table, o.chain));
    if (!chain) continue;
    const context: TableContext = {
      family: o.family,
      set: (name) => sets.get(`${o.family} ${o.table} ${name}`) ?? null,
      chain: (name) => chains.get(chainKey(o.family, o.table, name)) ?? null,
    };
    chain.rules.push({ id: `${chain.id}/${chain.rules.length + 1}`, text: o.text, source: ref(o), steps: compileSteps(o.steps, context) });
  }
  return bases.length === 0 ? EMPTY_PROGRAM : { baseChains: bases, chains: [...chains.values()] };
}

const chainKey = (family: NftFamily, table: string, chain: string): string => `${family} ${table}/${chain}`;

function baseChains(o: ObjectOf<'chain'>, chain: Chain): BaseChain[] {
  const base = o.base!;
  const families = FAMILIES[o.family];
  if (o.family === 'arp') return [];
  if (families && HOOKS.has(base.hook) && (base.type === 'filter' || base.type === 'nat' || base.type === 'route')) {
    return [{ hook: base.hook as Hook, priority: base.priority, type: base.type, policy: base.policy, families, chain }];
  }
  return [unmodelledBase(o, chain, families ?? [4, 6])];
}

/** Chains below the network layer (bridge, netdev, ingress) see the packet first; what they do with it is not modelled. */
function unmodelledBase(o: ObjectOf<'chain'>, chain: Chain, families: readonly Family[]): BaseChain {
  const device: Step[] = o.base!.device ? [{ do: 'match', fields: [{ of: 'in' }], rows: [[{ type: 'names', names: [o.base!.device] }]], negate: false }] : [];
  const reason = `chain ${o.name} of the ${o.family} table ${o.table} (hook ${o.base!.hook}) is not modelled`;
  const rule: Rule = { id: `${chain.id}/whole`, text: `${o.family} ${o.table} ${o.name}`, source: chain.source, steps: [...device, { do: 'unmodelled-action', reason }] };
  return { hook: 'prerouting', priority: -1000, type: 'filter', policy: 'accept', families, chain: { id: `${chain.id}/guard`, name: chain.name, rules: [rule], source: chain.source } };
}
