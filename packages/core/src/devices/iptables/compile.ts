import type { Family } from '../../net/index.ts';
import type { BaseChain, Chain, Hook, Program, Rule } from '../../rules/index.ts';
import { compileRule } from './rule.ts';
import type { IptablesTable } from './tables.ts';

/** Built-in chains by table, with the kernel's priorities (linux/netfilter_ipv4.h). */
const BUILT_IN: Readonly<
  Record<
    string,
    {
      readonly type: BaseChain['type'];
      readonly hooks: Readonly<Partial<Record<string, readonly [Hook, number]>>>;
    }
  >
> = {
  raw: { type: 'filter', hooks: { PREROUTING: ['prerouting', -300], OUTPUT: ['output', -300] } },
  mangle: {
    type: 'filter',
    hooks: {
      PREROUTING: ['prerouting', -150],
      INPUT: ['input', -150],
      FORWARD: ['forward', -150],
      OUTPUT: ['output', -150],
      POSTROUTING: ['postrouting', -150],
    },
  },
  nat: {
    type: 'nat',
    hooks: {
      PREROUTING: ['prerouting', -100],
      OUTPUT: ['output', -100],
      INPUT: ['input', 100],
      POSTROUTING: ['postrouting', 100],
    },
  },
  filter: { type: 'filter', hooks: { INPUT: ['input', 0], FORWARD: ['forward', 0], OUTPUT: ['output', 0] } },
  security: {
    type: 'filter',
    hooks: { INPUT: ['input', 50], FORWARD: ['forward', 50], OUTPUT: ['output', 50] },
  },
};

/** Compiles what one `iptables-save` or `ip6tables-save` printed for one family. */
export function compileIptables(tables: readonly IptablesTable[], family: Family, file: string): Program {
  const bases: BaseChain[] = [];
  const all: Chain[] = [];
  for (const table of tables) {
    const chains = new Map<string, Chain & { rules: Rule[] }>();
    for (const c of table.chains) {
      const command = family === 4 ? 'iptables' : 'ip6tables';
      const chain = {
        id: `${command} ${table.name}/${c.name}`,
        name: `${table.name} ${c.name}`,
        origin: { program: 'iptables', command, table: table.name, chain: c.name } as const,
        rules: [],
        source: { file, ...c.at },
      };
      chains.set(c.name, chain);
      all.push(chain);
      const builtIn = BUILT_IN[table.name];
      const place = builtIn?.hooks[c.name];
      if (builtIn && place) {
        // The mangle OUTPUT chain routes anew after a change of mark or address, like nft's type route.
        const type = table.name === 'mangle' && c.name === 'OUTPUT' ? 'route' : builtIn.type;
        bases.push({
          hook: place[0],
          priority: place[1],
          type,
          policy: c.policy === 'DROP' ? 'drop' : 'accept',
          families: [family],
          chain,
        });
      }
    }
    for (const rule of table.rules) {
      const chain = chains.get(rule.chain);
      if (!chain) continue;
      const steps = compileRule(rule.words, {
        family,
        table: table.name,
        get side() {
          return sideOf(table, rule.chain);
        },
        chain: (name) => chains.get(name) ?? null,
      });
      chain.rules.push({
        id: `${chain.id}/${chain.rules.length + 1}`,
        text: rule.text,
        source: { file, ...rule.at },
        steps,
        number: chain.rules.length + 1,
      });
    }
    if (!table.complete) markCutOff(table, chains, file);
  }
  return { baseChains: bases, chains: all };
}

const SIDE: Readonly<Record<string, 'source' | 'destination'>> = {
  PREROUTING: 'destination',
  OUTPUT: 'destination',
  INPUT: 'source',
  POSTROUTING: 'source',
};

/**
 * The side that the built-in chains translate from which a chain is reached; null where they differ or none
 * reaches it.
 */
function sideOf(table: IptablesTable, chain: string): 'source' | 'destination' | null {
  const reached = new Set<string>([chain]);
  const callers = (name: string): string[] =>
    table.rules
      .filter((r) => r.words.includes(name) && r.words.some((w) => w === '-j' || w === '-g'))
      .map((r) => r.chain);
  for (const name of reached) for (const caller of callers(name)) reached.add(caller);
  const sides = new Set([...reached].flatMap((name) => SIDE[name] ?? []));
  return sides.size === 1 ? ([...sides][0] ?? null) : null;
}

/** Rules that a cut-off listing may have held stand at the end of every chain, as a doubt. */
function markCutOff(
  table: IptablesTable,
  chains: ReadonlyMap<string, Chain & { rules: Rule[] }>,
  file: string,
): void {
  for (const chain of chains.values()) {
    chain.rules.push({
      id: `${chain.id}/cut-off`,
      text: `(table ${table.name} is cut off here)`,
      source: chain.source ?? { file, line: 1 },
      steps: [
        {
          do: 'unmodelled-action',
          doubt: { doubt: 'table-cut-off', table: table.name },
        },
      ],
    });
  }
}
