import type { Fact, ForwardFact } from '../facts/index.ts';
import { formatPorts, parsePortRange } from '../net/index.ts';
import type { SourceRef } from '../place/index.ts';
import type { CaseFacts, ReadFile } from './caseFacts.ts';

/** What a rule counted between two listings of its machine. */
export interface CountedRule {
  readonly stop: string;
  /** As its filter writes it, without the counter. */
  readonly rule: string;
  readonly before: number;
  readonly after: number;
  /** In the newer listing. */
  readonly source: SourceRef;
  /** The ports that it asks for; empty: any. */
  readonly ports: readonly { readonly first: number; readonly last: number }[];
}

interface Counter {
  readonly rule: string;
  readonly packets: number;
  readonly line: number;
  readonly ports: CountedRule['ports'];
}

/**
 * Rules whose counters stand in the two newest listings of a machine, with both counts. Counters that went
 * back were set anew between them: those of that machine tell nothing.
 */
export function countedBetween(facts: CaseFacts): CountedRule[] {
  const out: CountedRule[] = [];
  for (const { id } of facts.document.path) {
    const listings = facts.files
      .filter((f) => f.stop === id)
      .map((file) => ({ file, counters: countersOf(file) }))
      .filter(({ counters }) => counters.size > 0);
    const newer = listings.at(-1);
    const older = listings
      .slice(0, -1)
      .findLast(({ counters }) => [...counters.keys()].some((key) => newer?.counters.has(key)));
    if (!newer || !older) continue;
    const both = [...newer.counters].flatMap(([key, now]): CountedRule[] => {
      const was = older.counters.get(key);
      if (!was) return [];
      const source = { file: newer.file.file, line: now.line };
      const { packets: before } = was;
      return [{ stop: id, rule: now.rule, before, after: now.packets, source, ports: now.ports }];
    });
    if (both.every((c) => c.after >= c.before)) out.push(...both.filter((c) => !isRounded(c)));
  }
  return out;
}

/** iptables -L writes `120K` from 100,000 on: that such a number stayed the same tells nothing. */
const isRounded = ({ before, after }: CountedRule): boolean =>
  before === after && before >= 100_000 && before % 1000 === 0;

/** The counters of a listing, by chain and text; equal rules of one chain by their order. */
function countersOf({ facts }: ReadFile): Map<string, Counter> {
  const out = new Map<string, Counter>();
  const add = (where: string, counter: Counter): void => {
    for (let n = 1; ; n++) {
      const key = `${where} ${counter.rule} ${n}`;
      if (out.has(key)) continue;
      out.set(key, counter);
      return;
    }
  };
  for (const fact of facts) for (const { where, ...counter } of countersIn(fact)) add(where, counter);
  return out;
}

/** In which chain or table. */
interface Placed {
  readonly where: string;
}

function countersIn(fact: Fact): (Counter & Placed)[] {
  if (fact.kind === 'nft')
    return fact.objects.flatMap((o) =>
      o.is === 'rule' && o.counted
        ? [
            {
              where: `${o.family} ${o.table} ${o.chain}`,
              rule: o.text.replace(/counter packets \d{1,20} bytes \d{1,20}/, 'counter'),
              packets: o.counted.packets,
              ports: portsOf(o.text),
              line: o.at.line,
            },
          ]
        : [],
    );
  if (fact.kind === 'forward') return rowCounter(fact);
  if (fact.kind !== 'iptables') return [];
  return fact.tables.flatMap((t) =>
    t.rules.flatMap((r) =>
      r.counted
        ? [
            {
              where: `${t.name} ${r.chain}`,
              rule: r.text.replace(LISTED, ''),
              packets: r.counted[0],
              ports: portsOf(r.text),
              line: r.at.line,
            },
          ]
        : [],
    ),
  );
}

/** A row of a page of forwards: what it takes and where it leads, as far as that is known. */
function rowCounter({ counted, outside, protocol, target, name, at }: ForwardFact): (Counter & Placed)[] {
  if (counted === undefined || !('is' in outside)) return [];
  const ports = outside.is;
  const what = 'is' in protocol && protocol.is !== 'both' ? `${protocol.is} ` : '';
  const to = 'is' in target ? ` to ${target.is}` : '';
  const rule = `${name === undefined ? '' : `${name}: `}${what}${formatPorts(ports)}${to}`;
  return [{ where: 'forwards', rule, packets: counted, line: at.line, ports }];
}

/** What `iptables -nvL --line-numbers` writes before a rule: its number, its packets and its bytes. */
const LISTED = /^(?:\d{1,9} )?\d{1,20}[KMGT]? \d{1,20}[KMGT]? /;

/** `dport 80`, `dport { 80, 443 }`, `--dport 80:89`, `--dports 80,443`, `dpt:80`, `dpts:80:89` */
function portsOf(rule: string): CountedRule['ports'] {
  const written = /(?<!! --)\b(?:dports? |dpts?:)(?:\{([^}]{1,400})\}|(\S{1,200}))/.exec(rule);
  const list = (written?.[1] ?? written?.[2] ?? '').split(',');
  return list.flatMap((text) => parsePortRange(text.trim().replace(':', '-')) ?? []);
}
