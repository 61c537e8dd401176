import { join, sideLine, sideOfAddresses, SIDE, type Family, type Point, type Side } from '../net/index.ts';
import type { HeaderName } from './fields.ts';
import type { Field, Rule, Step, ValueSet } from './program.ts';

export type MatchStep = Extract<Step, { do: 'match' }>;

/** A condition on one header field: the header has one of the values. */
export interface HeaderCondition {
  readonly on: 'header';
  readonly header: HeaderName;
  /** Only packets of this transport have the field; null: of any. */
  readonly protocol: number | null;
  /** Only packets of this family have the field; null: of any. */
  readonly family: Family | null;
  readonly step: MatchStep;
  /** The values as sides of a box, once they are worked out. */
  readonly sides: Partial<Record<Family, Side>>;
}

/** A condition on one field that is the same for all packets of a set, or that has to be looked up. */
export interface OtherCondition {
  readonly on: 'other';
  readonly field: Field;
  readonly step: MatchStep;
}

export type PlainCondition = HeaderCondition | OtherCondition;

/** Steps whose outcome nobody foretells: they match or they do not. */
export const isDoubt = (step: Step): boolean =>
  step.do === 'chance' || step.do === 'over-time' || step.do === 'unmodelled-match';

/** Whether nothing with an effect follows: then it does not matter whether the doubt at `index` matches. */
export const isIdleDoubt = (rule: Rule, index: number): boolean =>
  isDoubt(rule.steps[index] as Step) &&
  rule.steps.slice(index + 1).every((later) => later.do === 'note' || later.do === 'match' || isDoubt(later));

const conditions = new WeakMap<Rule, readonly PlainCondition[]>();

/**
 * The conditions of a rule on one field each that stand before anything with an effect: a packet that fails
 * one of them misses the rule as if it were not there, whatever else the rule asks.
 */
export function plainConditions(rule: Rule): readonly PlainCondition[] {
  let list = conditions.get(rule);
  if (!list) conditions.set(rule, (list = rule.steps.slice(0, firstEffect(rule)).flatMap(conditionOf)));
  return list;
}

function firstEffect(rule: Rule): number {
  const at = rule.steps.findIndex((step) => step.do !== 'match' && step.do !== 'note' && !isDoubt(step));
  return at < 0 ? rule.steps.length : at;
}

function conditionOf(step: Step): PlainCondition[] {
  const field = step.do === 'match' && step.fields.length === 1 ? step.fields[0] : undefined;
  if (step.do !== 'match' || field === undefined) return [];
  const comparable = step.rows.every((row) => row[0]?.type === 'addresses' || row[0]?.type === 'numbers');
  switch (field.of) {
    case 'source':
    case 'destination':
      return step.negate || !comparable
        ? []
        : [{ on: 'header', header: field.of, protocol: null, family: field.family, step, sides: {} }];
    case 'sport':
    case 'dport':
      return step.negate || !comparable
        ? []
        : [{ on: 'header', header: field.of, protocol: field.protocol, family: null, step, sides: {} }];
    default:
      return [{ on: 'other', field, step }];
  }
}

const sides = new WeakMap<ValueSet, Partial<Record<Family, Side>>>();

/** A value set as a side of a box; null for sets that header fields cannot be compared with. */
export function sideOf(set: ValueSet, family: Family): Side | null {
  if (set.type !== 'addresses' && set.type !== 'numbers') return null;
  let cached = sides.get(set);
  if (!cached) sides.set(set, (cached = {}));
  return (cached[family] ??= set.type === 'addresses' ? sideOfAddresses(family, set.set[family]) : set.set);
}

const merged = new WeakMap<MatchStep, Partial<Record<Family, Side>>>();

/** All rows of a match on one header field as one side. */
export function mergedSide(step: MatchStep, header: HeaderName, family: Family): Side {
  let cached = merged.get(step);
  if (!cached) merged.set(step, (cached = {}));
  return (cached[family] ??= joinedRows(step, header, family));
}

function joinedRows(step: MatchStep, header: HeaderName, family: Family): Side {
  const parts = step.rows.map((row) => (row[0] ? (sideOf(row[0], family) ?? []) : []));
  const [only] = parts;
  return only && parts.length === 1 ? only : join(sideLine(family, SIDE[header]), ...parts);
}

/** The values of a condition as a side of a box. */
export const conditionSide = (c: HeaderCondition, family: Family): Side =>
  (c.sides[family] ??= mergedSide(c.step, c.header, family));

/** How many points a side has. */
export const sizeOf = (side: readonly { readonly first: Point; readonly last: Point }[]): number =>
  side.reduce((n, part) => n + Number(part.last) - Number(part.first) + 1, 0);
