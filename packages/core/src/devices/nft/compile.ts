import type { Family } from '../../net/index.ts';
import {
  EMPTY_PROGRAM,
  type BaseChain,
  type Chain,
  type Hook,
  type Program,
  type Rule,
  type Step,
  type Doubt,
  type Origin,
} from '../../rules/index.ts';
import type { SourceRef } from '../../place/index.ts';
import { isObject, type Json, type JsonObject, type NftFamily, type NftObject } from './objects.ts';
import { compileSteps, familyMatch } from './steps.ts';
import { type TableContext } from './context.ts';

const FAMILIES: Readonly<Partial<Record<NftFamily, readonly Family[]>>> = { ip: [4], ip6: [6], inet: [4, 6] };
const HOOKS: ReadonlySet<string> = new Set<Hook>(['prerouting', 'input', 'forward', 'output', 'postrouting']);

type ObjectOf<K extends NftObject['is']> = Extract<NftObject, { is: K }>;

/**
 * Compiles the objects of one `nft list ruleset`. Every rule becomes a rule; what has no counterpart becomes
 * an "unmodelled" step in its place, so that it makes outcomes unknown instead of vanishing.
 */
export function compileNft(objects: readonly NftObject[], file: string): Program {
  const dormant = new Set(
    objects
      .filter((o): o is ObjectOf<'table'> => o.is === 'table' && o.dormant)
      .map((o) => `${o.family} ${o.name}`),
  );
  const live = objects.filter((o) => o.is === 'table' || !dormant.has(`${o.family} ${o.table}`));
  const chains = new Map<string, Chain & { rules: Rule[] }>();
  const bases: BaseChain[] = [];
  const ref = (o: NftObject): SourceRef => ({ file, ...o.at });
  for (const o of live) {
    if (o.is !== 'chain' || chains.has(chainKey(o.family, o.table, o.name))) continue;
    const chain = {
      id: chainKey(o.family, o.table, o.name),
      name: `${o.table} ${o.name}`,
      origin: originOf(o),
      rules: [],
      source: ref(o),
    };
    chains.set(chain.id, chain);
    if (o.base) bases.push(...baseChains(o, o.base, chain));
  }
  const sets = new Map<string, readonly Json[]>();
  for (const o of live)
    if (o.is === 'set' || o.is === 'map') sets.set(`${o.family} ${o.table} ${o.name}`, o.elements);
  const numbers = new Map<string, number>();
  for (const o of live) {
    if (o.is !== 'rule') continue;
    const chain = chains.get(chainKey(o.family, o.table, o.chain));
    if (!chain) continue;
    const context: TableContext = {
      family: o.family,
      set: (name) => sets.get(`${o.family} ${o.table} ${name}`) ?? null,
      chain: (name) => chains.get(chainKey(o.family, o.table, name)) ?? null,
    };
    const number = (numbers.get(chain.id) ?? 0) + 1;
    numbers.set(chain.id, number);
    for (const { twin, steps } of alternatives(o, context))
      chain.rules.push({
        id: `${chain.id}/${number}${twin}`,
        text: o.text,
        source: ref(o),
        steps,
        number,
        ...(o.handle === undefined ? {} : { handle: o.handle }),
      });
  }
  return bases.length === 0 ? EMPTY_PROGRAM : { baseChains: bases, chains: [...chains.values()] };
}

const originOf = (o: ObjectOf<'chain'>): Origin => ({
  program: 'nft',
  family: o.family,
  table: o.table,
  chain: o.name,
});

/**
 * A rule of an `inet` table that looks at bytes of the network header means another field in each family: it
 * stands here once for IPv4 and once for IPv6. A translation to IPv4 addresses lets IPv6 packets pass by
 * (nft_nat_inet_eval), so it has no second form.
 */
function alternatives(o: ObjectOf<'rule'>, context: TableContext): { twin: string; steps: Step[] }[] {
  if (o.family !== 'inet' || !o.steps.some(readsNetworkHeader))
    return [{ twin: '', steps: compileSteps(o.steps, context) }];
  const four = {
    twin: '',
    steps: [...familyMatch(4), ...compileSteps(o.steps, { ...context, family: 'ip' })],
  };
  const six = {
    twin: ' (IPv6)',
    steps: [...familyMatch(6), ...compileSteps(o.steps, { ...context, family: 'ip6' })],
  };
  const toFour = o.steps.some(
    (s) =>
      isObject(s) && ['dnat', 'snat'].some((k) => isObject(s[k]) && (s[k] as JsonObject)['family'] === 'ip'),
  );
  return toFour && !o.steps.some((s) => isObject(s) && 'mangle' in s) ? [four] : [four, six];
}

const readsNetworkHeader = (step: Json): boolean => {
  const match = isObject(step) ? step['match'] : undefined;
  const payload = isObject(match) && isObject(match['left']) ? match['left']['payload'] : undefined;
  return isObject(payload) && payload['base'] === 'nh';
};

type NftBase = NonNullable<ObjectOf<'chain'>['base']>;

const chainKey = (family: NftFamily, table: string, chain: string): string => `${family} ${table}/${chain}`;

function baseChains(o: ObjectOf<'chain'>, base: NftBase, chain: Chain): BaseChain[] {
  const families = FAMILIES[o.family];
  if (o.family === 'arp') return [];
  if (
    families &&
    HOOKS.has(base.hook) &&
    (base.type === 'filter' || base.type === 'nat' || base.type === 'route')
  ) {
    return [
      {
        hook: base.hook as Hook,
        priority: base.priority,
        type: base.type,
        policy: base.policy,
        families,
        chain,
      },
    ];
  }
  return [unmodelledBase(o, base, chain, families ?? [4, 6])];
}

/**
 * Chains below the network layer (bridge, netdev, ingress) see the packet first; what they do with it is not
 * modelled.
 */
function unmodelledBase(
  o: ObjectOf<'chain'>,
  base: NftBase,
  chain: Chain,
  families: readonly Family[],
): BaseChain {
  const device: Step[] = base.device
    ? [
        {
          do: 'match',
          fields: [{ of: 'in' }],
          rows: [[{ type: 'names', names: [base.device] }]],
          negate: false,
        },
      ]
    : [];
  const doubt: Doubt = {
    doubt: 'chain-not-modelled',
    chain: o.name,
    family: o.family,
    table: o.table,
    hook: base.hook,
  };
  const rule: Rule = {
    id: `${chain.id}/whole`,
    text: `${o.family} ${o.table} ${o.name}`,
    source: chain.source,
    steps: [...device, { do: 'unmodelled-action', doubt }],
  };
  return {
    hook: 'prerouting',
    priority: -1000,
    type: 'filter',
    policy: 'accept',
    families,
    chain: {
      id: `${chain.id}/guard`,
      name: chain.name,
      origin: chain.origin,
      rules: [rule],
      source: chain.source,
    },
  };
}
