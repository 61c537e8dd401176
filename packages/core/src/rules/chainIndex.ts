import { toPrefixes, type AddressSet, type Family, type Prefix } from '../net/index.ts';
import { conditionSide, plainConditions, sizeOf, type HeaderCondition } from './conditions.ts';
import type { Chain, Rule } from './program.ts';
import type { Subject } from './subject.ts';

/** Chains shorter than this are walked rule by rule: an index would cost more than it spares. */
const LEAST_RULES = 24;
/** Sets of more ports or prefixes than this are not spread over the index. */
const MOST_PORTS = 128;
const MOST_PREFIXES = 16;
/** Prefixes shorter than this would be met by nearly every packet. */
const SHORTEST = 12;

/**
 * Which rules of a chain can match at all, by the most telling of their plain conditions. A rule that is not
 * among the candidates would miss without any effect, so leaving it out changes nothing.
 */
export interface ChainIndex {
  /** Numbers of the rules that one packet can match, ascending. */
  forPacket(subject: Subject): readonly number[];
  /** Numbers of the rules that packets to one destination port can match, ascending. */
  forPort(port: number): readonly number[];
}

const indexes = new WeakMap<Chain, ChainIndex | null>();

/** The index of a chain, made at first use; null for short chains. */
export function chainIndex(chain: Chain): ChainIndex | null {
  let index = indexes.get(chain);
  if (index === undefined)
    indexes.set(chain, (index = chain.rules.length < LEAST_RULES ? null : build(chain.rules)));
  return index;
}

type PrefixTable = Map<number, Map<number | bigint, number[]>>;
type Tables = Readonly<Record<'source' | 'destination', Readonly<Record<Family, PrefixTable>>>>;

/** Rules by destination port, and those that no port keeps out. */
interface PortTable {
  readonly always: number[];
  readonly ports: Map<number, number[]>;
}

function build(rules: readonly Rule[]): ChainIndex {
  const tables: Tables = {
    source: { 4: new Map(), 6: new Map() },
    destination: { 4: new Map(), 6: new Map() },
  };
  const byPort: PortTable = { always: [], ports: new Map() };
  /** Rules without a telling prefix, by port. */
  const rest: PortTable = { always: [], ports: new Map() };
  rules.forEach((rule, number) => {
    const ports = fewPorts(rule);
    addPorts(byPort, ports, number);
    if (!addPrefixes(tables, rule, number)) addPorts(rest, ports, number);
  });
  return {
    forPacket: (subject) => {
      const lists: (readonly number[])[] = rest.always.length > 0 ? [rest.always] : [];
      collect(lists, tables.source[subject.family], subject.family, subject.source.bits);
      collect(lists, tables.destination[subject.family], subject.family, subject.destination.bits);
      const onPort = subject.dport === null ? undefined : rest.ports.get(subject.dport);
      if (onPort) lists.push(onPort);
      return merged(lists);
    },
    forPort: (port) => merged([byPort.always, byPort.ports.get(port) ?? []]),
  };
}

function addPorts(table: PortTable, ports: readonly number[] | null, number: number): void {
  if (ports === null) table.always.push(number);
  else for (const port of ports) push(table.ports, port, number);
}

/**
 * Puts a rule under the prefixes of its source, else of its destination; false where it has no telling ones.
 */
function addPrefixes(tables: Tables, rule: Rule, number: number): boolean {
  for (const condition of plainConditions(rule)) {
    if (condition.on !== 'header' || !isAddress(condition.header)) continue;
    const prefixes = fewPrefixes(condition);
    if (prefixes === null) continue;
    for (const p of prefixes) {
      const table = tables[condition.header][p.family];
      let keys = table.get(p.length);
      if (!keys) table.set(p.length, (keys = new Map()));
      push(keys, keyOf(p.family, p.bits, p.length), number);
    }
    return true;
  }
  return false;
}

const isAddress = (header: HeaderCondition['header']): header is 'source' | 'destination' =>
  header === 'source' || header === 'destination';

function push<K>(map: Map<K, number[]>, key: K, number: number): void {
  const list = map.get(key);
  if (!list) map.set(key, [number]);
  else if (list[list.length - 1] !== number) list.push(number);
}

const keyOf = (family: Family, bits: bigint, length: number): number | bigint =>
  family === 4 ? Math.floor(Number(bits) / 2 ** (32 - length)) : bits >> BigInt(128 - length);

function collect(lists: (readonly number[])[], table: PrefixTable, family: Family, bits: bigint): void {
  for (const [length, keys] of table) {
    const list = keys.get(keyOf(family, bits, length));
    if (list) lists.push(list);
  }
}

function merged(lists: readonly (readonly number[])[]): readonly number[] {
  const filled = lists.filter((list) => list.length > 0);
  if (filled.length <= 1) return filled[0] ?? [];
  const all = filled.flat().sort((a, b) => a - b);
  return all.filter((n, i) => i === 0 || n !== all[i - 1]);
}

/**
 * The ports of a rule's first condition on the destination port; null where it has none, or too many to list.
 */
function fewPorts(rule: Rule): readonly number[] | null {
  for (const condition of plainConditions(rule)) {
    if (condition.on !== 'header' || condition.header !== 'dport') continue;
    const side = conditionSide(condition, 4);
    if (sizeOf(side) > MOST_PORTS) continue;
    return side.flatMap(({ first, last }) =>
      Array.from({ length: Number(last) - Number(first) + 1 }, (_, k) => Number(first) + k),
    );
  }
  return null;
}

/** The prefixes of a condition on an address; null where they are too many or too short to tell much. */
function fewPrefixes({ step }: HeaderCondition): readonly Prefix[] | null {
  const out: Prefix[] = [];
  for (const row of step.rows) {
    const set = row[0];
    if (set?.type !== 'addresses' || isLarge(set.set)) return null;
    out.push(...toPrefixes(set.set));
  }
  return out.length > 0 && out.length <= MOST_PREFIXES && out.every((p) => p.length >= SHORTEST) ? out : null;
}

const isLarge = (set: AddressSet): boolean => set[4].length + set[6].length > MOST_PREFIXES;
