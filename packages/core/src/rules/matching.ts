import { missingQuestion } from './doubts.ts';
import type { RuleHost } from './host.ts';
import { inValues, isMissing, valueOf, type FieldValue, type Missing } from './fields.ts';
import type { Field, Lookup, Rule, Step, ValueSet } from './program.ts';
import type { Subject } from './subject.ts';

export function lookUp<T>(lookup: Lookup<T>, rule: Rule, subject: Subject, host: RuleHost): T | null {
  const found = values(lookup.fields, subject, host);
  if (found === null) return null;
  if (isMissing(found)) {
    const taken = host.ask(missingQuestion(host.stop, rule, found.missing), lookup.rows.length + 1);
    return lookup.rows[taken]?.value ?? null;
  }
  return lookup.rows.find((row) => rowMatches(row.key, found))?.value ?? null;
}

export const rowMatches = (row: readonly ValueSet[], found: readonly FieldValue[]): boolean =>
  row.every((set, i) => inValues(set, found[i]!));

/**
 * The packet's values for the fields; null where one is absent. An unknown value is asked for and comes back
 * as the flag.
 */

export function values(
  fields: readonly Field[],
  subject: Subject,
  host: RuleHost,
): FieldValue[] | Missing | null {
  const out: FieldValue[] = [];
  for (const field of fields) {
    const value = valueOf(field, subject, host);
    if (value === null || isMissing(value)) return value;
    out.push(value);
  }
  return out;
}

export function matches(
  step: Extract<Step, { do: 'match' }>,
  rule: Rule,
  subject: Subject,
  host: RuleHost,
): boolean {
  const found = values(step.fields, subject, host);
  if (found === null) return false;
  if (isMissing(found)) return host.ask(missingQuestion(host.stop, rule, found.missing), 2) === 0;
  return step.rows.some((row) => rowMatches(row, found)) !== step.negate;
}
