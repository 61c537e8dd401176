import { type Fact, type ForwardFact, type MappingRecord, saidOr } from '../../facts/index.ts';
import { told } from '../noted.ts';
import type { ForwardTable } from './forwards.ts';

const TITLE = new RegExp(
  String.raw`\b(?:upnp|nat-?pmp|pcp|igd)\b|asked for by|` +
    String.raw`mappings? (?:made|opened|added|requested) by|dynamic mappings?`,
  'i',
);
export const isListTitle = (text: string): boolean => TITLE.test(text);
/** What stands for a mapping that does not end. */
const ENDLESS = /^(?:0|-|–|—|never|permanent|static|infinite|unlimited|forever)?$/i;

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

const UNIT = { s: 1, m: 60, h: 3600, d: 86_400 } as const;

/** Seconds of `341`, `341 s`, `5 min`, `1h 2m`, `0:05:41`; null for what is no length of time. */
function secondsOf(text: string): number | null {
  if (ENDLESS.test(text)) return 0;
  const clock = /^(?:(\d+):)?(\d{1,2}):(\d{2})$/.exec(text);
  if (clock) return Number(clock[1] ?? 0) * 3600 + Number(clock[2]) * 60 + Number(clock[3]);
  const parts = [...text.matchAll(/(\d+)\s*([a-z]*)/gi)];
  const rest = text.replace(/(\d+)\s*([a-z]*)/gi, '').replace(/left|remaining|[\s,]/gi, '');
  if (parts.length === 0 || rest !== '') return null;
  let sum = 0;
  for (const [, count, unit = ''] of parts) {
    const letter = (unit.charAt(0).toLowerCase() || 's') as keyof typeof UNIT;
    if (!(letter in UNIT)) return null;
    sum += Number(count) * UNIT[letter];
  }
  return sum;
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
