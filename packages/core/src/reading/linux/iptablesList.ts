import { nth } from '../../place/index.ts';
import type { IptablesRule } from '../../devices/index.ts';
import type { Family } from '../../net/index.ts';
import type { IptablesFact, NotedFact, Problem } from '../../facts/index.ts';
import { linesOf } from '../text.ts';
import { splitWords } from './iptablesSave.ts';
import { lineAt, once, problemAt } from '../noted.ts';
import type { Reader } from '../reader.ts';
import { isBesideNft, otherTables, type ForeignTables } from './otherTables.ts';
import { count, rowOf, type Shape } from './iptablesRow.ts';

type Policy = 'ACCEPT' | 'DROP' | null;

interface OpenTable {
  readonly name: string;
  readonly chains: { name: string; policy: Policy; at: { line: number } }[];
  readonly rules: IptablesRule[];
  readonly complete: true;
}

const CHAIN = /^Chain (\S+) \((?:policy (\w+)(?: (\S+) packets, (\S+) bytes)?|(\d+) references)\)/;

const HEADING = /^(num\s+|\s+)?(pkts\s+bytes\s+)?target\s+prot\s+opt\s+(in\s+out\s+)?source\s+destination/;

/** The table that a listing is of, told by the chains that it has: `iptables -L` itself does not say. */
function tableOf(chains: readonly string[]): string {
  const has = (name: string): boolean => chains.includes(name);
  if (has('PREROUTING') && has('FORWARD')) return 'mangle';
  if (has('PREROUTING') && has('POSTROUTING')) return 'nat';
  if (has('PREROUTING')) return 'raw';
  return 'filter';
}

/**
 * `iptables -L` and `ip6tables -L`, with or without `-n`, `-v`, `--line-numbers`. Without `-v` the interfaces
 * are not shown: every rule then has a condition that is not known.
 */
export const iptablesList: Reader = {
  format: 'iptables-list',
  title: 'firewall rules (iptables -L)',
  recognise: (text) => (linesOf(text.slice(0, 50_000)).some((l) => CHAIN.test(l.text)) ? 0.97 : 0),
  read(text) {
    const problems: Problem[] = [];
    const chains: OpenTable['chains'] = [];
    const rules: IptablesRule[] = [];
    const counters: Record<string, { policy: Policy; policyPackets: number | null; rules: number[][] }> = {};
    let shape: Shape | null = null;
    let chain: string | null = null;
    for (const line of linesOf(text)) {
      if (line.text.trim() === '') continue;
      const head = CHAIN.exec(line.text);
      const heading = HEADING.exec(line.text.trim());
      if (head) {
        chain = nth(head, 1);
        const policy: Policy = head[2] === 'ACCEPT' || head[2] === 'DROP' ? head[2] : null;
        chains.push({ name: chain, policy, at: { line: line.number } });
        counters[chain] = { policy, policyPackets: head[3] === undefined ? null : count(head[3]), rules: [] };
      } else if (heading)
        shape = {
          numbers: heading[1] !== undefined,
          counters: heading[2] !== undefined,
          interfaces: heading[3] !== undefined,
        };
      else if (otherTables(line.text.trim()).length > 0) continue;
      else if (chain && shape) {
        const row = rowOf(line, chain, shape);
        if (!row) problems.push(problemAt(line, 'no-iptables-rule'));
        else {
          rules.push(row.counts ? { ...row.rule, counted: row.counts } : row.rule);
          if (row.counts) counters[chain]!.rules.push([...row.counts]);
        }
      } else problems.push(problemAt(line, 'before-first-chain'));
    }
    const table: OpenTable = { name: tableOf(chains.map((c) => c.name)), chains, rules, complete: true };
    const family = familyOf(text, rules);
    const others = otherTables(text);
    problems.push(...others.map((o) => o.problem));
    const fact = tableFact(table, family, others);
    const counted: NotedFact[] = Object.values(counters).some(
      (c) => c.rules.length > 0 || c.policyPackets !== null,
    )
      ? [
          once(
            'counters',
            lineAt({ number: 1, text: '' }),
            { [table.name]: counters } as never,
            'packet counters of every rule',
          ),
        ]
      : [];
    const legacy = others.some((o) => o.of === 'legacy');
    // A nat table alone says nothing about the filter, and an empty listing beside legacy rules says nothing
    // at all.
    return {
      format: 'iptables-list',
      facts: [...(chains.length > 0 && !legacy ? [fact] : []), ...counted],
      problems,
      covers: table.name === 'filter' && others.length === 0 ? [family === 6 ? 'rules6' : 'rules4'] : [],
    };
  },
};

/** What a listing of one table says. */
const tableFact = (table: OpenTable, family: Family, others: readonly ForeignTables[]): IptablesFact => ({
  kind: 'iptables',
  at: { line: 1 },
  family,
  tables: [table],
  oneTable: true,
  ...(isBesideNft(others) ? { isBesideNft: true } : {}),
});

const familyOf = (text: string, rules: readonly IptablesRule[]): Family =>
  /\s::\/0\s/.test(text) || rules.some((r) => r.words.some((w) => /^[0-9a-f]*:[0-9a-f:]*:/i.test(w))) ? 6 : 4;

/** `iptables -S`: the commands that would make the table; the table itself is not said. */
export const iptablesCommands: Reader = {
  format: 'iptables-commands',
  title: 'firewall rules (iptables -S)',
  recognise: (text) =>
    /^-P (INPUT|FORWARD|OUTPUT|PREROUTING|POSTROUTING) (ACCEPT|DROP)/m.test(text.slice(0, 20_000)) ? 0.96 : 0,
  read(text) {
    const problems: Problem[] = [];
    const chains: OpenTable['chains'] = [];
    const rules: IptablesRule[] = [];
    for (const line of linesOf(text)) {
      const t = line.text.trim();
      if (t === '' || t.startsWith('#')) continue;
      const chain = /^(?:-P (\S+) (ACCEPT|DROP)|-N (\S+))/.exec(t);
      const rule = /^-A (\S+)(?:\s(.*)|$)/.exec(t);
      if (chain)
        chains.push({
          name: chain[1] ?? nth(chain, 3),
          policy: (chain[2] as Policy | undefined) ?? null,
          at: { line: line.number },
        });
      else if (rule) {
        const words = splitWords(rule[2] ?? '');
        if (!words) problems.push(problemAt(line, 'quote-open'));
        // `-c` prints counters among the words.
        rules.push({
          chain: nth(rule, 1),
          words: words ? withoutCounters(words) : ['-j', '(cut off)'],
          text: t,
          at: { line: line.number },
        });
      } else problems.push(problemAt(line, 'no-iptables-command'));
    }
    const table: OpenTable = { name: tableOf(chains.map((c) => c.name)), chains, rules, complete: true };
    const family: Family = rules.some((r) =>
      r.words.some((w) => /^[0-9a-f]*:[0-9a-f:]*:|^ipv6-icmp$|^icmp6-/i.test(w)),
    )
      ? 6
      : 4;
    const others = otherTables(text);
    problems.push(...others.map((o) => o.problem));
    const legacy = others.some((o) => o.of === 'legacy');
    const fact = tableFact(table, family, others);
    return {
      format: 'iptables-commands',
      facts: chains.length > 0 && !legacy ? [fact] : [],
      problems,
      covers: table.name === 'filter' && others.length === 0 ? [family === 6 ? 'rules6' : 'rules4'] : [],
    };
  },
};

function withoutCounters(words: readonly string[]): string[] {
  const at = words.indexOf('-c');
  return at < 0 ? [...words] : [...words.slice(0, at), ...words.slice(at + 3)];
}
