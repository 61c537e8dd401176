import { nth } from '../place/index.ts';
import {
  formatAddress,
  formatPrefix,
  toPrefixes,
  type Address,
  type AddressSet,
  type IntervalSet,
} from '../net/index.ts';
import type { Chain, Program, Rule, Step, TranslationTarget } from '../rules/index.ts';

/** A forward as a packet filter has it: what is asked for outside, and where it is sent. */
export interface FilterForward {
  readonly protocol: string | null;
  readonly outside: string | null;
  readonly iif: string | null;
  readonly iifNot: string | null;
  readonly outsidePorts: IntervalSet<number>;
  readonly sources: readonly string[] | null;
  readonly to: string | null;
  readonly toPorts: readonly [number, number] | null;
  readonly rule: Rule;
}

interface Conditions {
  readonly protocol: string | null;
  readonly outside: AddressSet | null;
  readonly iif: string | null;
  readonly iifNot: string | null;
  readonly ports: IntervalSet<number>;
  readonly sources: AddressSet | null;
}

const NONE: Conditions = { protocol: null, outside: null, iif: null, iifNot: null, ports: [], sources: null };
const MAX_DEPTH = 8;

/** All destination translations of a program, with the conditions of the jumps that lead to them. */
export function forwardsOf(program: Program): FilterForward[] {
  return program.baseChains
    .filter((b) => b.hook === 'prerouting' && b.type === 'nat')
    .flatMap((b) => inChain(b.chain, NONE, 0));
}

function inChain(chain: Chain, before: Conditions, depth: number): FilterForward[] {
  if (depth > MAX_DEPTH) return [];
  return chain.rules.flatMap((rule) => inRule(rule, before, depth));
}

function inRule(rule: Rule, before: Conditions, depth: number): FilterForward[] {
  let now = before;
  const out: FilterForward[] = [];
  for (const step of rule.steps) {
    if (step.do === 'match') now = withMatch(now, step);
    else if (step.do === 'translate' && step.side === 'destination')
      out.push(forward(rule, now, step.target));
    else if (step.do === 'translate-map' && step.side === 'destination') {
      for (const row of step.lookup.rows)
        out.push(
          forward(
            rule,
            step.lookup.fields.reduce(
              (c, field, i) =>
                withMatch(c, { do: 'match', fields: [field], rows: [[nth(row.key, i)]], negate: false }),
              now,
            ),
            row.value,
          ),
        );
    } else if (step.do === 'verdict' && 'chain' in step.verdict)
      out.push(...inChain(step.verdict.chain, now, depth + 1));
    else if (step.do === 'verdict-map')
      for (const row of step.lookup.rows)
        if ('chain' in row.value)
          out.push(
            ...inChain(
              row.value.chain,
              step.lookup.fields.reduce(
                (c, field, i) =>
                  withMatch(c, { do: 'match', fields: [field], rows: [[nth(row.key, i)]], negate: false }),
                now,
              ),
              depth + 1,
            ),
          );
  }
  return out;
}

const PROTOCOLS: Readonly<Record<number, string>> = { 6: 'tcp', 17: 'udp' };

function withMatch(c: Conditions, step: Extract<Step, { do: 'match' }>): Conditions {
  if (step.fields.length !== 1) return c;
  const field = nth(step.fields, 0);
  const set = step.rows[0]?.[0];
  if (!set) return c;
  switch (field.of) {
    case 'protocol':
      return set.type === 'numbers' && !step.negate && step.rows.length === 1 && set.set.length === 1
        ? { ...c, protocol: PROTOCOLS[nth(set.set, 0).first] ?? `${nth(set.set, 0).first}` }
        : c;
    case 'dport':
      return set.type === 'numbers' && !step.negate
        ? {
            ...c,
            ports: step.rows.flatMap(([first]) => (first?.type === 'numbers' ? first.set : [])),
            protocol: field.protocol === null ? c.protocol : (PROTOCOLS[field.protocol] ?? c.protocol),
          }
        : c;
    case 'destination':
      return set.type === 'addresses' && !step.negate ? { ...c, outside: set.set } : c;
    case 'source':
      return set.type === 'addresses' && !step.negate ? { ...c, sources: set.set } : c;
    case 'in':
      if (set.type === 'names') {
        return step.negate ? { ...c, iifNot: set.names.join(',') } : { ...c, iif: set.names.join(',') };
      }
      return c;
    default:
      return c;
  }
}

const texts = (set: AddressSet): string[] => toPrefixes(set).map(formatPrefix);
const addressText = (first: Address, last: Address): string =>
  first.bits === last.bits ? formatAddress(first) : `${formatAddress(first)}-${formatAddress(last)}`;

function forward(rule: Rule, c: Conditions, target: TranslationTarget): FilterForward {
  const outside = c.outside ? texts(c.outside) : null;
  return {
    protocol: c.protocol,
    outside: outside && outside.length > 0 ? outside.join(',').replace(/\/32$/, '') : null,
    iif: c.iif,
    iifNot: c.iifNot,
    outsidePorts: c.ports,
    sources: c.sources ? texts(c.sources) : null,
    to: target.addresses ? addressText(target.addresses.first, target.addresses.last) : null,
    toPorts: target.ports ? [target.ports.first, target.ports.last] : null,
    rule,
  };
}
