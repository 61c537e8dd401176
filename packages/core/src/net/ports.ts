import {
  complement,
  difference,
  intersection,
  normalise,
  union,
  type Interval,
  type IntervalSet,
  type Line,
} from './intervals.ts';

/** Sets of transport ports (RFC 6335 §6): whole numbers 0…65535. */
export type PortSet = IntervalSet<number>;

export const PORT_LINE: Line<number> = { first: 0, last: 65535, next: (p) => p + 1, previous: (p) => p - 1 };

export const ALL_PORTS: PortSet = [{ first: 0, last: 65535 }];

export const portSet = (...parts: Interval<number>[]): PortSet => normalise(PORT_LINE, parts);
export const portUnion = (...sets: PortSet[]): PortSet => union(PORT_LINE, ...sets);
export const portIntersection = (a: PortSet, b: PortSet): PortSet => intersection(a, b);
export const portDifference = (a: PortSet, b: PortSet): PortSet => difference(PORT_LINE, a, b);
export const portComplement = (a: PortSet): PortSet => complement(PORT_LINE, a);

/** Reads a port number 0…65535 in decimal; null for anything else. */
export function parsePort(text: string): number | null {
  if (!/^\d{1,5}$/.test(text)) return null;
  const port = Number(text);
  return port <= 65535 ? port : null;
}

/** Reads `8211`, `8211-8215`, `8211:8215` or `8211–8215`; null where it is neither or runs backwards. */
export function parsePortRange(text: string): Interval<number> | null {
  const match = /^\s*(\d{1,5})(?:\s*[-:–—]\s*(\d{1,5}))?\s*$/.exec(text);
  if (!match) return null;
  const first = parsePort(match[1]!);
  const last = match[2] === undefined ? first : parsePort(match[2]);
  return first === null || last === null || last < first ? null : { first, last };
}

export function formatPorts(set: PortSet): string {
  return set.map(({ first, last }) => (first === last ? `${first}` : `${first}-${last}`)).join(', ');
}
