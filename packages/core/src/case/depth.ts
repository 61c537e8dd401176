/**
 * No part of a case is nested deeper. Checks that call themselves for each level would run out of stack long
 * before a file does.
 */
export const MOST_DEPTH = 64;

/** Where a value is nested too deeply: the keys of its first levels; null where it is not. */
export function deepestPlace(value: unknown): string | null {
  let level: { readonly at: string; readonly value: unknown }[] = [{ at: '', value }];
  for (let depth = 0; depth <= MOST_DEPTH; depth++) {
    level = level.flatMap(({ at, value: inner }) =>
      typeof inner === 'object' && inner !== null
        ? Object.entries(inner).map(([key, child]) => ({ at: depth < 3 ? `${at}/${key}` : at, value: child }))
        : [],
    );
    if (level.length === 0) return null;
  }
  return level[0]?.at ?? '';
}
