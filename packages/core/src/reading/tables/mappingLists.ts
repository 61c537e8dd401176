import { type Fact, type ForwardFact, type MappingRecord, saidOr } from '../../facts/index.ts';
import { told } from '../noted.ts';
import type { ForwardTable } from './forwards.ts';
import { ENDLESS, secondsOf } from './lifetimes.ts';

const TITLE = new RegExp(
  String.raw`\b(?:upnp|nat-?pmp|pcp|igd)\b|asked for by|` +
    String.raw`mappings? (?:made|opened|added|requested) by|dynamic mappings?`,
  'i',
);
export const isListTitle = (text: string): boolean => TITLE.test(text);
/**
 * Whether a table lists what programs asked the gateway for: every row has a lifetime that runs, or a title
 * says so. Such a list stands beside the table of forwards, and replaces none of it (RFC 6886, RFC 6887).
 */
export function isMappingList({ titles, rows, roles }: ForwardTable): boolean {
  if (titles.some((t) => TITLE.test(t.text))) return true;
  const at = roles.indexOf('lifetime');
  const times = at < 0 ? [] : rows.map((r) => (r.cells[at]?.text ?? '').trim());
  return times.length > 0 && times.every((t) => secondsOf(t) !== null) && times.some((t) => !ENDLESS.test(t));
}

/** Rows of which something is open stay rows of forwards, with what is open about them. */
export function mappingsOf(table: ForwardTable, facts: readonly ForwardFact[]): Fact[] {
  const at = table.roles.indexOf('lifetime');
  return facts.map((fact): Fact => {
    const ports = saidOr(fact.outside, null);
    const inside = saidOr(fact.inside, null);
    const target = saidOr(fact.target, null);
    const protocol = saidOr(fact.protocol, null);
    const [only] = ports ?? [];
    const isOne = ports?.length === 1 && only !== undefined && only.first === only.last;
    const isPlain = fact.narrowed.length === 0 && 'is' in fact.enabled && fact.enabled.is;
    if (!isOne || target === null || (protocol !== 'tcp' && protocol !== 'udp') || !isPlain) return fact;
    const row = table.rows.find(
      (r) => r.line.number === fact.at.line || r.cells.some((c) => c.line === fact.at.line),
    );
    const lease = at < 0 ? null : secondsOf((row?.cells[at]?.text ?? '').trim());
    const own = inside === 'same' || inside === null ? only.first : inside[0]?.first;
    const mapping: MappingRecord = {
      protocol: protocol.toUpperCase(),
      externalPort: only.first,
      internalAddress: target,
      internalPort: own ?? only.first,
      ...(fact.name === undefined ? {} : { description: fact.name }),
      ...(lease === null ? {} : { lease }),
    };
    return told('mapping', fact.at, mapping, `${protocol} ${only.first} to ${target}`);
  });
}
