import type { Doubt } from '../rules/index.ts';

/**
 * A field of a record: what it says, or why that is open. A reader has to decide for each field which of the
 * two it is, so that a field which a record does not show is never filled in, and a word that is not known
 * never dropped.
 */
export type Said<T> = { readonly is: T } | { readonly open: Doubt };

export const known = <T>(is: T): Said<T> => ({ is });
export const open = (doubt: Doubt): Said<never> => ({ open: doubt });

/** What a field says; the stand-in where it is open. */
export const saidOr = <T, U>(field: Said<T>, otherwise: U): T | U => ('is' in field ? field.is : otherwise);

const isOpen = (value: unknown): value is { readonly open: Doubt } =>
  typeof value === 'object' && value !== null && 'open' in value;

/** Why fields of a record are open, in the order of the fields. */
export const openFields = (record: object): Doubt[] =>
  Object.values(record).flatMap((value: unknown) => (isOpen(value) ? [value.open] : []));
