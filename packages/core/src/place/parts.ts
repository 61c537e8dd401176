/**
 * The part at an index that the caller knows to be there: a group that a matched pattern cannot leave out,
 * a word of a list whose length was looked at. Throws RangeError where it is not: no wrong belief becomes
 * a value.
 */
export function nth<T>(parts: ArrayLike<T>, index: number): NonNullable<T> {
  const part = parts[index];
  if (part === undefined || part === null) throw new RangeError(`no part ${index} among ${parts.length}`);
  return part;
}

/** The last part of a list that is known not to be empty; throws RangeError where it is. */
export const last = <T>(parts: ArrayLike<T>): NonNullable<T> => nth(parts, parts.length - 1);

/** The stop or machine of an id that the caller knows to be there; throws RangeError where none is. */
export function withId<T extends { readonly id: string }>(things: readonly T[], id: string): T {
  const thing = things.find((t) => t.id === id);
  if (!thing) throw new RangeError(`nothing of the id ${id} among ${things.length}`);
  return thing;
}
