import type { FieldValue, Field, Rule } from '../../rules/index.ts';
import { addressMiss } from '../../words/index.ts';
import { type Leg, visitsOf } from '../../crossing/index.ts';
import type { StopDetail } from './types.ts';
import { type AddressSet, addressUnion } from '../../net/index.ts';
import { nth } from '../../place/index.ts';

export const FIELD_WORDS: Readonly<Partial<Record<Field['of'], string>>> = {
  source: 'source',
  destination: 'destination',
  sport: 'source port',
  dport: 'destination port',
  protocol: 'protocol',
  family: 'IP version',
  in: 'incoming interface',
  out: 'outgoing interface',
  mark: 'mark',
  'ct-state': 'connection state',
  'ct-status': 'translation state',
  'ct-direction': 'direction',
  'address-type': 'kind of address',
  'reverse-path': 'way back',
  'tcp-flags': 'TCP flags',
  'icmp-type': 'ICMP type',
};

/** Why a rule did not match: the field, and what the packet has there. */
export function missedText(field: Field, value: FieldValue | null, rule: Rule): string {
  const inner = field.of === 'and' ? field.field : field;
  const word = FIELD_WORDS[inner.of] ?? inner.of.replaceAll('-', ' ');
  if (value === null) return `${word}: the packet has none`;
  if (typeof value === 'object') return `${word} ${addressMiss(value, addressesIn(rule, field))}`;
  return ['source port', 'destination port', 'incoming interface', 'outgoing interface'].includes(word)
    ? `${word} is ${value}`
    : `${word} differs`;
}

export function rulesOf(leg: Leg): StopDetail['rules'][number][] {
  const deciding = new Set(
    leg.events.flatMap((e) => (e.event === 'chain' && e.result.rule ? [e.result.rule.id] : [])),
  );
  const rows: StopDetail['rules'][number][] = [];
  for (const { hook, visit } of visitsOf(leg)) {
    if (rows.length >= MOST_RULES) break;
    rows.push({
      chain: `${hook} · ${visit.chain.name}`,
      text: visit.rule.text,
      hit: visit.hit,
      decided: visit.hit && deciding.has(visit.rule.id),
      missed: visit.missed ? missedText(visit.missed.field, visit.missed.value, visit.rule) : null,
      source: visit.rule.source,
    });
  }
  return rows;
}

export const MOST_RULES = 300;

/** The addresses that the rule names for a field. */

export function addressesIn(rule: Rule, field: Field): AddressSet {
  const steps = rule.steps.filter(
    (s) => s.do === 'match' && !s.negate && s.fields.length === 1 && nth(s.fields, 0).of === field.of,
  );
  return addressUnion(
    ...steps.flatMap((s) =>
      s.do === 'match' ? s.rows.flatMap(([first]) => (first?.type === 'addresses' ? [first.set] : [])) : [],
    ),
  );
}
