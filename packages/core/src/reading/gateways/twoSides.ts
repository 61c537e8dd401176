import type { LabelledFact } from '../../facts/index.ts';
import type { Line } from '../text.ts';

const SIDED_PORT = new RegExp(
  String.raw`^\s*(?:inside|internal|int|local|private|lan|outside|external|ext|remote|public|wan|` +
    String.raw`foreign)[ _-]?ports?\b`,
  'i',
);
const SIDED = /^(?:inside|internal|int|local|private|outside|external|ext|remote|public|foreign)\b/i;

/**
 * A page of one connection or one mapping: a port of each side, and beside it an address of each side. These
 * are the ends of what it is about, and no addresses of the device that shows it.
 */
export const isOfTwoSides = (lines: readonly Line[]): boolean =>
  new Set(lines.flatMap((l) => SIDED_PORT.exec(l.text)?.[0].trim().toLowerCase() ?? [])).size > 1;

export const isOfASide = ({ what, label }: LabelledFact): boolean =>
  (what === 'wan-address' || what === 'lan-address' || what === 'own-address') && SIDED.test(label);
