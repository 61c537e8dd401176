import type { PolicyFact, Problem } from '../../facts/index.ts';
import type { Span } from '../../place/index.ts';
import { asNumber, asString, type Reader } from '../reader.ts';
import { elementsOf, sniff, damaged, unreadRow } from './ipJsonElements.ts';

/** `ip -j rule`. */
export const ipRuleJson: Reader = {
  format: 'ip-rule-json',
  title: 'routing rules (ip -j rule)',
  recognise: sniff(/"priority"\s{0,9}:\s{0,9}\d/, /"src"\s{0,9}:/),
  read(text) {
    const elements = elementsOf(text);
    if (!elements) return damaged('ip-rule-json', text, ['policy4', 'policy6']);
    const facts: PolicyFact[] = [];
    const problems: Problem[] = [];
    for (const { record, at } of elements) {
      const fact = policyFact(record, at);
      if (fact) facts.push(fact);
      else problems.push(unreadRow(record, at, 'routing-rule-priority'));
    }
    // Only IPv4 has a `default` table rule; an address says the family for certain.
    const v6 = facts.some((f) => (f.from ?? '').includes(':') || (f.to ?? '').includes(':'));
    const v4 = facts.some(
      (f) => f.table === 'default' || /^\d+\./.test(f.from ?? '') || /^\d+\./.test(f.to ?? ''),
    );
    let family: 4 | 6 | null;
    if (v6) family = 6;
    else if (v4) family = 4;
    else if (facts.length > 0) family = 6;
    else family = null;
    return {
      format: 'ip-rule-json',
      facts: facts.map((f) => ({ ...f, family })),
      problems,
      covers: family === null ? [] : [family === 6 ? 'policy6' : 'policy4'],
    };
  },
};

const KNOWN_RULE_KEYS = new Set([
  'priority',
  'src',
  'srclen',
  'dst',
  'dstlen',
  'table',
  'fwmark',
  'fwmask',
  'iif',
  'oif',
  'not',
  'ipproto',
  'sport',
  'sport_start',
  'sport_end',
  'dport',
  'dport_start',
  'dport_end',
  'action',
  'goto',
  'nop',
  'suppress_prefixlen',
  'suppress_prefixlength',
  'protocol',
  'iif_detached',
  'oif_detached',
]);

function actionOf(r: Readonly<Record<string, unknown>>): PolicyFact['action'] {
  if (r['goto'] !== undefined) return 'goto';
  if (r['nop'] !== undefined) return 'nop';
  const action = asString(r['action']);
  return action === 'blackhole' || action === 'unreachable' || action === 'prohibit' ? action : 'lookup';
}

function policyFact(r: Readonly<Record<string, unknown>>, at: Span): PolicyFact | null {
  const priority = asNumber(r['priority']);
  if (priority === null) return null;
  const side = (key: string): string | undefined => {
    const a = asString(r[key]);
    const length = asNumber(r[`${key}len`]);
    if (a === null || a === 'all') return undefined;
    return length === null ? a : `${a}/${length}`;
  };
  const range = (key: string): { first: number; last: number } | undefined => {
    const one = asNumber(r[key]);
    const first = asNumber(r[`${key}_start`]) ?? one;
    return first === null ? undefined : { first, last: asNumber(r[`${key}_end`]) ?? first };
  };
  const from = side('src');
  const to = side('dst');
  const fwmark =
    r['fwmark'] === undefined
      ? undefined
      : { value: Number(r['fwmark']), mask: r['fwmask'] === undefined ? 0xffff_ffff : Number(r['fwmask']) };
  const strange = Object.keys(r).find((key) => !KNOWN_RULE_KEYS.has(key));
  const suppress = asNumber(r['suppress_prefixlen']) ?? asNumber(r['suppress_prefixlength']);
  const [iif, oif, protocol, table] = [
    asString(r['iif']),
    asString(r['oif']),
    asString(r['ipproto']),
    asString(r['table']),
  ];
  const [sport, dport] = [range('sport'), range('dport')];
  return {
    kind: 'policy',
    at,
    family: null,
    priority,
    action: actionOf(r),
    ...(r['not'] !== undefined ? { not: true } : {}),
    ...(from ? { from } : {}),
    ...(to ? { to } : {}),
    ...(iif ? { iif } : {}),
    ...(oif ? { oif } : {}),
    ...(fwmark ? { fwmark } : {}),
    ...(protocol ? { protocol } : {}),
    ...(sport ? { sport } : {}),
    ...(dport ? { dport } : {}),
    ...(table ? { table } : {}),
    ...(typeof r['goto'] === 'number' ? { goto: r['goto'] } : {}),
    ...(suppress !== null ? { suppress } : {}),
    ...(strange ? { unmodelled: strange } : {}),
  };
}
