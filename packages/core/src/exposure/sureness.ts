import type { Delivery } from '../crossing/index.ts';
import {
  meet,
  SIDE,
  sideLine,
  withSide,
  without,
  type Box,
  type Family,
  type SideIndex,
} from '../net/index.ts';
import { givenList, type Given } from '../rules/index.ts';

/**
 * Combinations of answers that are looked at for one listener; beyond that what is reached either way stays
 * “not certain”.
 */
const MOST_COMBINATIONS = 400;

/** Packets that reach a listener under some answers to open questions. */
interface Case {
  readonly box: Box;
  readonly given: ReadonlyMap<string, Given>;
  readonly from: Delivery;
}

/**
 * What reaches one listener whatever the answers to the open questions, and what does under some of them
 * only.
 */
export interface Sureness {
  readonly sure: readonly Delivery[];
  readonly maybe: readonly Delivery[];
}

/**
 * Sorts deliveries to one listener: packets that reach it under every answer to a question reach it for sure
 * (consensus of the cases, question by question).
 */
export function sorted(list: readonly Delivery[]): Sureness {
  const cases = list.map(caseOf);
  const sure = cases.filter((c) => c.given.size === 0);
  const open = cases.filter((c) => c.given.size > 0);
  if (open.length === 0) return { sure: list, maybe: [] };
  const settled = consensus(open).filter((c) => c.given.size === 0);
  const all = [...sure, ...settled].map(asDelivery);
  const maybe = open.flatMap((c) => outside(c, all).map((box) => asDelivery({ ...c, box })));
  return { sure: all, maybe };
}

const caseOf = (from: Delivery): Case => ({
  box: from.set.box,
  given: new Map(givenList(from.set.given).map((g) => [g.question.key, g])),
  from,
});

const asDelivery = ({ box, from, given }: Case): Delivery => ({
  ...from,
  set: { ...from.set, box, given: given.size === 0 ? null : from.set.given },
});

/** All cases, with those that follow from them by leaving out a question that every answer has a case for. */
function consensus(cases: readonly Case[]): Case[] {
  const all = [...cases];
  const keys = new Set(cases.map(keyOf));
  const questions = new Set(cases.flatMap((c) => [...c.given.keys()]));
  let left = MOST_COMBINATIONS;
  for (let grows = true; grows && left > 0;) {
    grows = false;
    for (const question of questions) {
      for (const found of withoutQuestion(all, question)) {
        if (left-- <= 0) return all;
        const key = keyOf(found);
        if (keys.has(key)) continue;
        keys.add(key);
        all.push(found);
        grows = true;
      }
    }
  }
  return all;
}

function keyOf({ box, given }: Case): string {
  const sides = box.map((side) => side.map((i) => `${i.first}-${i.last}`).join()).join('/');
  return `${sides}|${[...given.values()].map((g) => `${g.question.key}=${g.answer}`).join(';')}`;
}

/** What holds under every answer to a question: one case for each answer, where they go together. */
function* withoutQuestion(cases: readonly Case[], question: string): Generator<Case> {
  const byAnswer = new Map<number, Case[]>();
  let options = 0;
  for (const c of cases) {
    const given = c.given.get(question);
    if (!given) continue;
    options = given.options;
    const list = byAnswer.get(given.answer);
    if (list) list.push(c);
    else byAnswer.set(given.answer, [c]);
  }
  if (byAnswer.size < options || options === 0) return;
  let partial: Case[] = [];
  [...byAnswer.values()].forEach((list, i) => {
    const bare = list.map((c) => ({ ...c, given: lacking(c.given, question) }));
    partial = i === 0 ? bare : partial.flatMap((a) => bare.flatMap((b) => together(a, b)));
    partial = partial.slice(0, MOST_COMBINATIONS);
  });
  yield* partial;
}

function lacking(given: Case['given'], question: string): Case['given'] {
  const rest = new Map(given);
  rest.delete(question);
  return rest;
}

/** Both cases at once; none where they contradict each other or share no packet. */
function together(a: Case, b: Case): Case[] {
  const given = new Map(a.given);
  for (const [key, g] of b.given) {
    const other = given.get(key);
    if (other && other.answer !== g.answer) return [];
    given.set(key, g);
  }
  const sides = a.box.map((side, i) => meet(side, b.box[i as SideIndex])) as unknown as Box;
  return sides.some((side) => side.length === 0) ? [] : [{ box: sides, given, from: a.from }];
}

const SIDES: readonly SideIndex[] = [SIDE.source, SIDE.destination, SIDE.sport, SIDE.dport];

/** The parts of a case that none of the deliveries has. */
function outside({ box, from }: Case, deliveries: readonly Delivery[]): Box[] {
  return deliveries.reduce<Box[]>(
    (boxes, d) => boxes.flatMap((b) => boxWithout(from.set.family, b, d.set.box)),
    [box],
  );
}

function boxWithout(family: Family, box: Box, taken: Box): Box[] {
  if (SIDES.some((i) => meet(box[i], taken[i]).length === 0)) return [box];
  const out: Box[] = [];
  let rest = box;
  for (const i of SIDES) {
    const left = without(sideLine(family, i), rest[i], taken[i]);
    if (left.length > 0) out.push(withSide(rest, i, left));
    rest = withSide(rest, i, meet(rest[i], taken[i]));
  }
  return out;
}
