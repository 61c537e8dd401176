import { compileIptables, compileNft, type IptablesTable, type NftObject } from '../devices/index.ts';
import type { Family } from '../net/index.ts';
import type { BaseChain, Chain, Program, Doubt } from '../rules/index.ts';
import type { AgedReading } from '../ledger/index.ts';

interface Kept {
  readonly table: IptablesTable;
  readonly file: string;
}

/**
 * What iptables listings say of one family: tables by name, the newest of each; and whether some were not
 * asked for.
 */
interface Saved {
  readonly tables: Map<string, Kept>;
  onlySome: boolean;
}

/**
 * Compiles all rule sets of one machine into one program for each family; null where no listing covers the
 * family.
 */
export function compilePrograms(readings: readonly AgedReading[]): Record<Family, Program | null> {
  const saved = savedTables(readings);
  let nft: Program | null = null;
  // A chain or set asked for by itself covers nothing: it would look like a rule set without the rest. That
  // there are tables beside those of another listing it shows all the same.
  const further = new Set<Family>();
  for (const r of readings)
    for (const f of r.facts) {
      if (f.kind === 'iptables' && f.isBesideNft) further.add(f.family);
      if (f.kind !== 'nft') continue;
      const objects = withoutDoubles(f.objects, saved);
      if (r.covers.includes('rules4')) nft = compileNft(objects, r.file);
      else
        for (const { family } of objects) {
          if (family !== 'ip6') further.add(4);
          if (family !== 'ip') further.add(6);
        }
    }
  const parts: Program[] = nft ? [nft] : [];
  for (const family of [4, 6] as const) {
    const own = saved.get(family);
    if (!own) continue;
    const byFile = new Map<string, IptablesTable[]>();
    for (const { table, file } of own.tables.values()) byFile.set(file, [...(byFile.get(file) ?? []), table]);
    for (const [file, tables] of byFile) parts.push(compileIptables(tables, family, file));
    if (own.onlySome && !own.tables.has('nat')) parts.push(unlistedTable(family));
  }
  const whole: Program = {
    baseChains: parts.flatMap((p) => p.baseChains),
    chains: parts.flatMap((p) => p.chains),
  };
  const covered = (family: Family): boolean => {
    if (nft) return true;
    const own = further.has(family) ? undefined : saved.get(family);
    return own !== undefined && (own.tables.has('filter') || !own.onlySome);
  };
  return { 4: covered(4) ? whole : null, 6: covered(6) ? whole : null };
}

function savedTables(readings: readonly AgedReading[]): Map<Family, Saved> {
  const saved = new Map<Family, Saved>();
  for (const r of readings) {
    for (const f of r.facts) {
      if (f.kind !== 'iptables') continue;
      if (!f.oneTable && !f.isBesideNft && !r.covers.includes(f.family === 4 ? 'rules4' : 'rules6')) continue;
      const before = saved.get(f.family);
      // A whole listing stands for all tables; one of a single table replaces that table.
      const own: Saved = before && f.oneTable ? before : { tables: new Map(), onlySome: f.oneTable === true };
      for (const table of f.tables) own.tables.set(table.name, { table, file: r.file });
      saved.set(f.family, own);
    }
  }
  return saved;
}

/** `iptables -L` shows one table: translations in the one that was not asked for would change everything. */
function unlistedTable(family: Family): Program {
  const doubt: Doubt = { doubt: 'nat-not-listed' };
  const chain: Chain = {
    id: `iptables${family}/nat not listed`,
    name: 'nat PREROUTING',
    origin: { program: 'device' },
    source: null,
    rules: [
      {
        id: `iptables${family}/nat not listed/1`,
        text: '(the nat table)',
        source: null,
        steps: [{ do: 'unmodelled-action', doubt }],
      },
    ],
  };
  const base: BaseChain = {
    hook: 'prerouting',
    priority: -101,
    type: 'filter',
    policy: 'accept',
    families: [family],
    chain,
  };
  return { baseChains: [base], chains: [chain] };
}

/**
 * A device that also shows a table of filter rules: what its order and its sides mean is its own, so what is
 * forwarded stays open.
 */
export function besideRuleTable(program: Program, rows: number): Program {
  const doubt: Doubt = { doubt: 'filter-beside-forwards', rows };
  const chain: Chain = {
    id: 'filter table',
    name: 'filter table',
    origin: { program: 'device' },
    source: null,
    rules: [
      {
        id: 'filter table/1',
        text: '(the table of filter rules)',
        source: null,
        steps: [{ do: 'unmodelled-action', doubt }],
      },
    ],
  };
  const base: BaseChain = {
    hook: 'forward',
    priority: -1,
    type: 'filter',
    policy: 'accept',
    families: [4, 6],
    chain,
  };
  return { baseChains: [...program.baseChains, base], chains: [...program.chains, chain] };
}

/**
 * `nft list ruleset` also prints the chains that iptables-nft keeps, with matches that it cannot express.
 * Where iptables-save printed the same family, its version of those chains stands; chains that nft made in a
 * table of the same name are nobody's doubles.
 */
function withoutDoubles(objects: readonly NftObject[], saved: ReadonlyMap<Family, Saved>): NftObject[] {
  const doubles = new Set<string>();
  for (const [family, { tables }] of saved)
    for (const { table } of tables.values())
      for (const { name } of table.chains)
        doubles.add(JSON.stringify([family === 4 ? 'ip' : 'ip6', table.name, name]));
  const chainOf = (o: NftObject): string | null => {
    if (o.is === 'chain') return o.name;
    return o.is === 'rule' ? o.chain : null;
  };
  return objects.filter((o) => {
    const chain = chainOf(o);
    return chain === null || o.is === 'table' || !doubles.has(JSON.stringify([o.family, o.table, chain]));
  });
}
