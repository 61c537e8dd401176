import { toPrefixes, type AddressSet, type Family } from '../net/index.ts';
import type { Chain, Rule, Step } from './program.ts';
import type { Subject } from './subject.ts';

/** Chains shorter than this are walked rule by rule: an index would cost more than it spares. */
const LEAST_RULES = 24;
/** Sets of more ports or prefixes than this are not spread over the index. */
const MOST_PORTS = 128;
const MOST_PREFIXES = 16;
/** Prefixes shorter than this would be met by nearly every packet. */
const SHORTEST = 12;

/**
 * Which rules of a chain can match a packet at all, by the most telling of their plain conditions (source, destination, destination
 * port). A rule that is not among the candidates would miss without any effect, so leaving it out changes nothing.
 */
export interface ChainIndex {
  /** Numbers of the rules to look at, ascending. */
  candidates(subject: Subject): readonly number[];
}

const indexes = new WeakMap<Chain, ChainIndex | null>();

/** The index of a chain, made at first use; null for short chains. */
export function chainIndex(chain: Chain): ChainIndex | null {
  let index = indexes.get(chain);
  if (index === undefined) indexes.set(chain, (index = chain.rules.length < LEAST_RULES ? null : build(chain.rules)));
  return index;
}

type PrefixTable = Map<number, Map<number | bigint, number[]>>;

function build(rules: readonly Rule[]): ChainIndex {
  const always: number[] = [];
  const ports = new Map<number, number[]>();
  const tables: Record<'source' | 'destination', Record<Family, PrefixTable>> = { source: { 4: new Map(), 6: new Map() }, destination: { 4: new Map(), 6: new Map() } };
  rules.forEach((rule, number) => {
    const by = plainCondition(rule.steps);
    if (by === null) always.push(number);
    else if (by.on === 'dport') for (const p of by.ports) push(ports, p, number);
    else for (const p of by.prefixes) {
      const table = tables[by.on][p.family];
      let keys = table.get(p.length);
      if (!keys) table.set(p.length, (keys = new Map()));
      push(keys, keyOf(p.family, p.bits, p.length), number);
    }
  });
  return {
    candidates(subject) {
      const lists: (readonly number[])[] = always.length > 0 ? [always] : [];
      const { family } = subject;
      collect(lists, tables.source[family], family, subject.source.bits);
      collect(lists, tables.destination[family], family, subject.destination.bits);
      if (subject.dport !== null) {
        const byPort = ports.get(subject.dport);
        if (byPort) lists.push(byPort);
      }
      return merged(lists);
    },
  };
}

function push<K>(map: Map<K, number[]>, key: K, number: number): void {
  const list = map.get(key);
  if (!list) map.set(key, [number]);
  else if (list[list.length - 1] !== number) list.push(number);
}

const keyOf = (family: Family, bits: bigint, length: number): number | bigint => (family === 4 ? Math.floor(Number(bits) / 2 ** (32 - length)) : bits >> BigInt(128 - length));

function collect(lists: (readonly number[])[], table: PrefixTable, family: Family, bits: bigint): void {
  if (table.size === 0) return;
  const n = family === 4 ? Number(bits) : 0;
  for (const [length, keys] of table) {
    const list = keys.get(family === 4 ? Math.floor(n / 2 ** (32 - length)) : bits >> BigInt(128 - length));
    if (list) lists.push(list);
  }
}

function merged(lists: readonly (readonly number[])[]): readonly number[] {
  if (lists.length === 0) return [];
  if (lists.length === 1) return lists[0]!;
  const all = lists.flat().sort((a, b) => a - b);
  return all.filter((n, i) => i === 0 || n !== all[i - 1]);
}

type Condition = { readonly on: 'dport'; readonly ports: readonly number[] } | { readonly on: 'source' | 'destination'; readonly prefixes: ReturnType<typeof toPrefixes> };

/** The most telling plain condition that stands before anything with an effect; null where there is none. */
function plainCondition(steps: readonly Step[]): Condition | null {
  let byPort: Condition | null = null;
  for (const step of steps) {
    if (step.do === 'note' || step.do === 'unmodelled-match' || step.do === 'chance' || step.do === 'over-time') continue;
    if (step.do !== 'match') break;
    if (step.negate || step.fields.length !== 1) continue;
    const field = step.fields[0]!;
    if (field.of === 'source' || field.of === 'destination') {
      const prefixes = step.rows.flatMap((row) => (row[0]!.type === 'addresses' ? fewPrefixes(row[0]!.set) : [null]));
      if (prefixes.length > 0 && prefixes.length <= MOST_PREFIXES && prefixes.every((p) => p !== null && p.length >= SHORTEST)) return { on: field.of, prefixes: prefixes as ReturnType<typeof toPrefixes> };
    }
    if (field.of === 'dport' && !byPort) {
      const ports = step.rows.flatMap((row) => (row[0]!.type === 'numbers' ? row[0]!.set : [{ first: 0, last: 65535 }]));
      if (ports.reduce((n, i) => n + i.last - i.first + 1, 0) <= MOST_PORTS) byPort = { on: 'dport', ports: ports.flatMap((i) => Array.from({ length: i.last - i.first + 1 }, (_, k) => i.first + k)) };
    }
  }
  return byPort;
}

function fewPrefixes(set: AddressSet): (ReturnType<typeof toPrefixes>[number] | null)[] {
  return set[4].length + set[6].length > MOST_PREFIXES ? [null] : toPrefixes(set);
}
