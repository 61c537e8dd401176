/** The file that stands for a typed line of a stop; lines count from 0. */
export const typedFile = (stop: string, index: number): string => `typed/${stop}/${index + 1}`;

/** The stop and the number of the typed line that such a file stands for; null for real files. */
export function typedPlace(file: string): { readonly stop: string; readonly index: number } | null {
  const match = /^typed\/([^/]+)\/(\d+)$/.exec(file);
  return match?.[1] ? { stop: match[1], index: Number(match[2]) - 1 } : null;
}
