import { addressSet, parsePrefix, portSet, PROTOCOL, type Address, type Prefix } from '../../net/index.ts';
import { CT_STATUS, CT_STATE, type BaseChain, type Chain, type Hook, type Program, type Rule, type Step, type ValueSet } from '../../rules/index.ts';
import type { SourceRef } from '../../site/index.ts';

/** One row of a forward table, with the place where it was written. */
export interface ForwardRow {
  readonly name: string;
  readonly protocol: 'tcp' | 'udp' | 'both';
  /** Outside ports, both ends included. */
  readonly outside: { readonly first: number; readonly last: number };
  readonly insideAddress: Address;
  /** First inside port; the rest of the range follows one to one. */
  readonly insideFirst: number;
  readonly enabled: boolean;
  /** null: the table does not say; taken as applied. */
  readonly applied: boolean | null;
  /** null: anyone */
  readonly sources: readonly Prefix[] | null;
  readonly unmodelled: string | null;
  readonly source: SourceRef | null;
}

/** The plain router that has such a table: its lines outward, its lines inward. */
export interface BoxLines {
  readonly wan: readonly string[];
  readonly lan: readonly string[];
}

/**
 * A simple router as a rule program: from outside only what a live row forwards gets in, everything else from outside ends in
 * silence; inside machines get out behind the router's address. Whether an inside machine can use the outside address
 * (hairpin) differs from device to device and stays open.
 */
export function compileForwardTable(rows: readonly ForwardRow[], lines: BoxLines): Program {
  const live = rows.map((row, i) => ({ row, number: i + 1 })).filter(({ row }) => row.enabled && row.applied !== false);
  const forwards = live.flatMap(({ row, number }) => rowRules(row, number, lines, live.filter((o) => o.number > number).some((o) => claims(row, o.row))));
  return programOf([
    ['prerouting', -100, 'nat', 'accept', 'forwards', forwards],
    ['input', 0, 'filter', 'drop', 'router itself', [
      plain('answers', [match({ of: 'ct-state' }, bits(CT_STATE.established | CT_STATE.related))], 'accept'),
      plain('from inside', [match({ of: 'in' }, names(lines.lan))], 'accept'),
    ]],
    ['forward', 0, 'filter', 'drop', 'passing', [
      plain('answers', [match({ of: 'ct-state' }, bits(CT_STATE.established | CT_STATE.related))], 'accept'),
      plain('what a row forwards', [match({ of: 'ct-status' }, bits(CT_STATUS.dnat))], 'accept'),
      plain('from inside', [match({ of: 'in' }, names(lines.lan))], 'accept'),
    ]],
    ['postrouting', 100, 'nat', 'accept', 'outward', [
      { id: 'outward/1', text: 'inside machines leave behind the WAN address', source: null, steps: [match({ of: 'out' }, names(lines.wan)), { do: 'masquerade', ports: null }] },
      { id: 'outward/2', text: 'turned-round connections', source: null, steps: [match({ of: 'in' }, names(lines.lan)), match({ of: 'ct-status' }, bits(CT_STATUS.dnat)), { do: 'masquerade', ports: null }] },
    ]],
  ]);
}

const bits = (mask: number): ValueSet => ({ type: 'bits', mask });
const names = (list: readonly string[]): ValueSet => ({ type: 'names', names: list });
const match = (field: Extract<Step, { do: 'match' }>['fields'][number], set: ValueSet): Step => ({ do: 'match', fields: [field], rows: [[set]], negate: false });
const plain = (text: string, steps: Step[], verdict: 'accept' | 'drop'): Rule => ({ id: text, text, source: null, steps: [...steps, { do: 'verdict', verdict: { verdict } }] });

/** Two rows claim one port and send it to different places. */
function claims(a: ForwardRow, b: ForwardRow): boolean {
  const protocols = a.protocol === 'both' || b.protocol === 'both' || a.protocol === b.protocol;
  return protocols && a.outside.first <= b.outside.last && b.outside.first <= a.outside.last && (a.insideAddress.bits !== b.insideAddress.bits || a.insideFirst - a.outside.first !== b.insideFirst - b.outside.first);
}

export const rowText = (row: ForwardRow): string => {
  const ports = row.outside.first === row.outside.last ? `${row.outside.first}` : `${row.outside.first}-${row.outside.last}`;
  return `${row.protocol === 'both' ? 'tcp+udp' : row.protocol} ${ports}`;
};

function rowRules(row: ForwardRow, number: number, lines: BoxLines, contested: boolean): Rule[] {
  const protocols = row.protocol === 'both' ? [PROTOCOL.tcp, PROTOCOL.udp] : [PROTOCOL[row.protocol]];
  const size = row.outside.last - row.outside.first;
  const conditions: Step[] = [
    { do: 'match', fields: [{ of: 'protocol' }], rows: protocols.map((n) => [{ type: 'numbers', set: [{ first: n, last: n }] }]), negate: false },
    match({ of: 'dport', protocol: null }, { type: 'numbers', set: portSet({ first: row.outside.first, last: row.outside.last }) }),
    ...(row.sources ? [match({ of: 'source', family: row.insideAddress.family }, { type: 'addresses', set: addressSet(...row.sources) })] : []),
    ...(row.unmodelled ? [{ do: 'unmodelled-match', reason: row.unmodelled } as const] : []),
    ...(contested ? [{ do: 'unmodelled-match', reason: `a later row claims the same port; which of the two the device uses is not known` } as const] : []),
  ];
  const target: Step = {
    do: 'translate', side: 'destination', family: row.insideAddress.family,
    target: { addresses: { first: row.insideAddress, last: row.insideAddress }, ports: { first: row.insideFirst, last: row.insideFirst + size, base: row.outside.first } },
  };
  const text = `row ${number}${row.name ? ` (${row.name})` : ''}: ${rowText(row)} to the inside`;
  const local: Step = { do: 'match', fields: [{ of: 'address-type', side: 'destination', only: null }], rows: [[{ type: 'numbers', set: [{ first: 2, last: 2 }] }]], negate: false };
  return [
    { id: `forwards/${number}`, text, source: row.source, steps: [match({ of: 'in' }, names(lines.wan)), ...conditions, target] },
    { id: `forwards/${number}/hairpin`, text, source: row.source, steps: [match({ of: 'in' }, names(lines.lan)), local, ...conditions, { do: 'unmodelled-match', reason: 'whether the gateway turns inside connections to its outside address round (hairpin) is not known' }, target] },
  ];
}

function programOf(parts: readonly (readonly [Hook, number, BaseChain['type'], 'accept' | 'drop', string, readonly Rule[]])[]): Program {
  const bases = parts.map(([hook, priority, type, policy, name, rules]): BaseChain => {
    const chain: Chain = { id: name, name, source: null, rules: rules.map((r, i) => ({ ...r, id: `${name}/${i + 1}` })) };
    return { hook, priority, type, policy, families: [4, 6], chain };
  });
  return { baseChains: bases, chains: bases.map((b) => b.chain) };
}

/** Prefixes of a row's allowed sources; null where one of them cannot be read. */
export function sourcePrefixes(texts: readonly string[]): Prefix[] | null {
  const parsed = texts.map(parsePrefix);
  return parsed.every((p) => p !== null) ? (parsed as Prefix[]) : null;
}

