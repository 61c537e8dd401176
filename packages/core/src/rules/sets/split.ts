import type { Family, Side } from '../../net/index.ts';
import { mergedSide, sideOf, type MatchStep } from '../conditions.ts';
import { missingQuestion } from '../doubts.ts';
import {
  inValues,
  isHeader,
  isLookup,
  isMissing,
  readField,
  type HeaderRef,
  type LookupField,
  type Missing,
} from '../fields.ts';
import { answersTo } from '../given.ts';
import type { Field, Lookup, Rule, ValueSet } from '../program.ts';
import { splitByHeader, touches, type Mapped, type PacketSet, type Parted } from './packetSet.ts';

/** What a machine looks up for its rules about sets of packets. */
export interface Lookups {
  readonly stop: string;
  /** The set in parts of which all packets have the same value. */
  lookUp(
    field: LookupField,
    set: PacketSet,
  ): readonly { readonly part: PacketSet; readonly value: number | Missing }[];
}

/** Packets that fulfil something, and the others. */
export interface Split {
  readonly hit: PacketSet[];
  readonly miss: PacketSet[];
}

/** One field of a set: a header in which the packets differ, or what is the same for all. */
type Resolved = HeaderRef | number | string;

const SWAPPED = { source: 'destination', destination: 'source', sport: 'dport', dport: 'sport' } as const;

/** Where a header's values stand; the answer's source is where the packets go to now. */
function mappedOf({ header, of }: HeaderRef, set: PacketSet): Mapped {
  if (of === 'packet') return set.now[header];
  if (of === 'original') return set.tracking?.session?.entry[header] ?? set.now[header];
  return set.now[SWAPPED[header]];
}

/** Values of a set of 16-bit numbers, as far as a mask tells. */
function maskedSide(set: ValueSet, mask: number): Side {
  const out: { first: number; last: number }[] = [];
  for (let port = 0; port <= 65535; port++) {
    if (!inValues(set, (port & mask) >>> 0)) continue;
    const top = out[out.length - 1];
    if (top && top.last === port - 1) top.last = port;
    else out.push({ first: port, last: port });
  }
  return out;
}

const ALL_BITS = 0xffff;

/** The values of a header that belong to a value set. */
function sideFor({ header, mask }: HeaderRef, set: ValueSet, family: Family): Side {
  const isPort = header === 'sport' || header === 'dport';
  if (isPort && (mask !== null || set.type === 'bits')) return maskedSide(set, mask ?? ALL_BITS);
  if (isPort !== (set.type === 'numbers')) return [];
  return sideOf(set, family) ?? [];
}

/** Packets by what one condition makes of them. */
interface Judged extends Split {
  /**
   * Those that have one of the values, and those that have none of them; `negate` decides which of them
   * match.
   */
  readonly yes: PacketSet[];
  readonly no: PacketSet[];
}

/** Splits a set by one condition of a rule. */
export function splitByMatch(step: MatchStep, rule: Rule, set: PacketSet, host: Lookups): Split {
  const judged: Judged = { yes: [], no: [], hit: [], miss: [] };
  const [field] = step.fields;
  const reading = step.fields.length === 1 && field ? readField(field, set) : undefined;
  if (reading !== undefined && isHeader(reading) && isPlain(step, reading)) {
    const { hit, miss } = splitByHeader(
      set,
      mappedOf(reading, set),
      mergedSide(step, reading.header, set.family),
    );
    if (hit) judged.yes.push(hit);
    if (miss) judged.no.push(miss);
  } else judgeFields(step, rule, set, host, judged);
  const [matching, other] = step.negate ? [judged.no, judged.yes] : [judged.yes, judged.no];
  return { hit: [...matching, ...judged.hit], miss: [...other, ...judged.miss] };
}

/** Whether all rows are one side of the box. */
const isPlain = (step: MatchStep, reading: HeaderRef): boolean =>
  reading.mask === null && step.rows.every((row) => row[0]?.type !== 'bits');

function judgeFields(step: MatchStep, rule: Rule, set: PacketSet, host: Lookups, judged: Judged): void {
  for (const { part, found } of resolved(step.fields, set, host)) {
    if (found === null) judged.miss.push(part);
    else if (isMissing(found)) {
      const question = missingQuestion(host.stop, rule, found.missing);
      for (const { answer, given } of answersTo(part.given, question, 2))
        (answer === 0 ? judged.hit : judged.miss).push({ ...part, given });
    } else {
      const { rows, rest } = splitByRows(found, step.rows, part);
      for (const row of rows) judged.yes.push(...row.parts);
      judged.no.push(...rest);
    }
  }
}

/** Packets by the row of a lookup that they meet first. */
export interface LookupSplit<T> {
  readonly rows: { readonly value: T; readonly parts: PacketSet[] }[];
  readonly miss: PacketSet[];
}

/** Splits a set by the rows of a map from field values to something. */
export function splitByLookup<T>(
  lookup: Lookup<T>,
  rule: Rule,
  set: PacketSet,
  host: Lookups,
): LookupSplit<T> {
  const out: LookupSplit<T> = { rows: [], miss: [] };
  const keys = lookup.rows.map((row) => row.key);
  const take = (row: number, parts: PacketSet[]): void => {
    const hit = lookup.rows[row];
    if (hit) out.rows.push({ value: hit.value, parts });
    else out.miss.push(...parts);
  };
  for (const { part, found } of resolved(lookup.fields, set, host)) {
    if (found === null) out.miss.push(part);
    else if (isMissing(found)) {
      const question = missingQuestion(host.stop, rule, found.missing);
      for (const { answer, given } of answersTo(part.given, question, keys.length + 1))
        take(answer, [{ ...part, given }]);
    } else {
      const { rows, rest } = splitByRows(found, keys, part);
      for (const { row, parts } of rows) take(row, parts);
      out.miss.push(...rest);
    }
  }
  return out;
}

interface RowSplit {
  readonly rows: readonly { readonly row: number; readonly parts: PacketSet[] }[];
  readonly rest: readonly PacketSet[];
}

/** The parts of a set that meet each row first, with the number of the row; and the rest. */
function splitByRows(
  found: readonly Resolved[],
  keys: readonly (readonly ValueSet[])[],
  set: PacketSet,
): RowSplit {
  const rows: { row: number; parts: PacketSet[] }[] = [];
  let rest: PacketSet[] = [set];
  for (let row = 0; row < keys.length && rest.length > 0; row++) {
    const key = keys[row] as readonly ValueSet[];
    if (!canMeet(found, key, set)) continue;
    const parts: PacketSet[] = [];
    const left: PacketSet[] = [];
    for (const piece of rest) parts.push(...meeting(found, key, piece, left));
    if (parts.length > 0) rows.push({ row, parts });
    rest = left;
  }
  return { rows, rest };
}

/** Whether any packet of the set can meet a row: looked at first, since splitting costs more. */
const canMeet = (found: readonly Resolved[], key: readonly ValueSet[], set: PacketSet): boolean =>
  key.every((values, i) => {
    const reading = found[i] as Resolved;
    return typeof reading === 'object'
      ? touches(set, mappedOf(reading, set), sideFor(reading, values, set.family))
      : inValues(values, reading);
  });

/** The part of a set that meets one row; what does not goes to `left`. */
function meeting(
  found: readonly Resolved[],
  key: readonly ValueSet[],
  set: PacketSet,
  left: PacketSet[],
): PacketSet[] {
  let live: PacketSet | null = set;
  for (let i = 0; i < key.length && live; i++) {
    const reading = found[i] as Resolved;
    const values = key[i] as ValueSet;
    if (typeof reading !== 'object') {
      if (inValues(values, reading)) continue;
      left.push(live);
      return [];
    }
    const split: Parted = splitByHeader(live, mappedOf(reading, live), sideFor(reading, values, live.family));
    if (split.miss) left.push(split.miss);
    live = split.hit;
  }
  return live ? [live] : [];
}

interface ResolvedPart {
  readonly part: PacketSet;
  /** null: the packets lack one of the fields. */
  readonly found: readonly Resolved[] | Missing | null;
}

/** The fields of a set, in parts of which all packets have the same of what has to be looked up. */
function resolved(fields: readonly Field[], set: PacketSet, host: Lookups): ResolvedPart[] {
  let parts: { part: PacketSet; found: Resolved[] }[] = [{ part: set, found: [] }];
  const ended: ResolvedPart[] = [];
  for (const field of fields) {
    parts = parts.flatMap(({ part, found }) =>
      readingsOf(field, part, host).flatMap(({ part: piece, reading }) => {
        if (reading === null || isMissing(reading)) {
          ended.push({ part: piece, found: reading });
          return [];
        }
        return [{ part: piece, found: [...found, reading] }];
      }),
    );
  }
  return [...ended, ...parts];
}

function readingsOf(
  field: Field,
  part: PacketSet,
  host: Lookups,
): readonly { readonly part: PacketSet; readonly reading: Resolved | Missing | null }[] {
  const reading = readField(field, part);
  if (!isLookup(reading)) return [{ part, reading }];
  return host.lookUp(reading, part).map((p) => ({ part: p.part, reading: p.value }));
}
