/** `true` where two types have the same keys, else nothing. */
export type SameKeys<A, B> = [keyof A] extends [keyof B]
  ? [keyof B] extends [keyof A]
    ? true
    : never
  : never;

/**
 * Asks the compiler whether a check knows every key of the settings that it checks, and no other:
 * `sameKeys<Checked, Settings>(true)`.
 */
export function sameKeys<Checked, Settings>(_same: SameKeys<Checked, Settings>): void {
  // Only the types matter.
}
