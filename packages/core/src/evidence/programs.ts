import { compileIptables, compileNft, type IptablesTable, type NftObject } from '../dialects/index.ts';
import type { Family } from '../net/index.ts';
import type { Program } from '../rules/index.ts';
import type { PlacedReading } from './reconcile.ts';

/** Compiles all rule sets of one machine into one program for each family; null where no listing covers the family. */
export function compilePrograms(readings: readonly PlacedReading[]): Record<Family, Program | null> {
  const saved = new Map<string, { tables: readonly IptablesTable[]; family: Family; file: string }>();
  for (const r of readings) for (const f of r.facts) if (f.kind === 'iptables') saved.set(`${f.family}`, { tables: f.tables, family: f.family, file: r.file });
  const parts: Program[] = [];
  let nft: Program | null = null;
  for (const r of readings) {
    for (const f of r.facts) if (f.kind === 'nft') nft = compileNft(withoutDoubles(f.objects, saved), r.file);
  }
  if (nft) parts.push(nft);
  for (const s of saved.values()) parts.push(compileIptables(s.tables, s.family, s.file));
  const whole: Program = { baseChains: parts.flatMap((p) => p.baseChains), chains: parts.flatMap((p) => p.chains) };
  const covered = (family: Family): boolean => nft !== null || saved.has(`${family}`);
  return { 4: covered(4) ? whole : null, 6: covered(6) ? whole : null };
}

/**
 * `nft list ruleset` also prints the tables that iptables-nft keeps, with matches that it cannot express. Where
 * iptables-save printed the same family, its version of those tables stands.
 */
function withoutDoubles(objects: readonly NftObject[], saved: ReadonlyMap<string, { tables: readonly IptablesTable[] }>): NftObject[] {
  const doubles = new Set<string>();
  for (const [family, { tables }] of saved) for (const t of tables) doubles.add(`${family === '4' ? 'ip' : 'ip6'} ${t.name}`);
  return objects.filter((o) => !doubles.has(`${o.family} ${o.is === 'table' ? o.name : o.table}`));
}
