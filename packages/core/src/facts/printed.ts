import type { Fact } from './facts.ts';
import { openFields } from './field.ts';
import type { Plain } from './plain.ts';
import { GROUPS, isTold } from './told.ts';
import type { Doubt } from '../rules/index.ts';

/** A fact as a list of what was read prints it, where it is no fact of a network's own kinds. */
export interface Printed {
  readonly group: string;
  /** True where a text says it once, false where it is one of a list. */
  readonly once: boolean;
  /** Fields that are open or empty are left out. */
  readonly value: Plain;
  /** Why fields are open. */
  readonly open: readonly Doubt[];
  readonly text: string;
}

/** What a told or noted fact prints; null for the facts of interfaces, routes, sockets and the like. */
export function printed(fact: Fact): Printed | null {
  if (fact.kind === 'noted') {
    const { topic, once, value, text } = fact;
    return { group: topic, once, value, open: [], text };
  }
  if (!isTold(fact)) return null;
  const { value, group, text } = fact;
  const open = typeof value === 'object' && value !== null ? openFields(value) : [];
  return { group, once: GROUPS[fact.kind].once, value: plain(value), open, text };
}

const isEmpty = (value: unknown): boolean => value === null || (Array.isArray(value) && value.length === 0);

/** A record with stated fields as plain data; anything else as it is. */
function plain(value: unknown): Plain {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) return value as Plain;
  const entries = Object.entries(value);
  if (!entries.some(([, v]) => isStated(v))) return value as Plain;
  return Object.fromEntries(
    entries.flatMap(([key, v]): [string, Plain][] => {
      const said: unknown = isStated(v) ? v.is : v;
      return said === undefined || isEmpty(said) ? [] : [[key, said as Plain]];
    }),
  );
}

const isStated = (value: unknown): value is { readonly is?: unknown } =>
  typeof value === 'object' && value !== null && ('is' in value || 'open' in value);
