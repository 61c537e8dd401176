import { type SideIndex, type Side, without, sideLine, join } from '../../net/index.ts';
import type { MarkName, Rule } from '../program.ts';
import { conditionSide, plainConditions, type HeaderCondition, type OtherCondition } from '../conditions.ts';
import { type Mapped, touches, type PacketSet, sentSide, withBoxSide, withSession } from './packetSet.ts';
import { readField, inValues } from '../fields.ts';

/**
 * What dropping rules take from a set, kept until somebody needs what is left: one subtraction instead of
 * thousands.
 */
export interface TakenAway {
  readonly side: SideIndex;
  readonly sides: Side[];
}

/** Sets that differ in nothing but the doubts behind them are one. */
export function distinct(sets: PacketSet[]): PacketSet[] {
  const byBox = new Map<PacketSet['box'], PacketSet[]>();
  return sets.filter((set) => {
    const alike = byBox.get(set.box);
    if (!alike) byBox.set(set.box, [set]);
    else if (alike.some((other) => sameState(set, other))) return false;
    else alike.push(set);
    return true;
  });
}

export const sameState = (a: PacketSet, b: PacketSet): boolean =>
  a.now === b.now && a.mark === b.mark && a.untracked === b.untracked && a.tracking === b.tracking;

/**
 * Whether one of the rule's conditions fails for the whole set. Looking at that first keeps a set in one
 * piece where the rule has nothing to do with it: pieces that all miss would only multiply.
 */
export const missesWhole = (rule: Rule, set: PacketSet): boolean =>
  plainConditions(rule).some((c) => (c.on === 'header' ? headerMisses(c, set) : otherMisses(c, set)));

export const headerMisses = (c: HeaderCondition, set: PacketSet): boolean =>
  (c.protocol !== null && c.protocol !== set.protocol) ||
  (c.family !== null && c.family !== set.family) ||
  !touches(set, set.now[c.header], conditionSide(c, set.family));
export function otherMisses({ field, step }: OtherCondition, set: PacketSet): boolean {
  const reading = readField(field, set);
  if (reading === null) return true;
  if (typeof reading === 'object') return false;
  return step.rows.some((row) => row[0] !== undefined && inValues(row[0], reading)) === step.negate;
}

/** Whether nothing but plain conditions on one field each stand before the rule's verdict. */
export const isPlainRule = (rule: Rule): boolean =>
  rule.steps
    .slice(0, -1)
    .every((s) => s.do === 'note' || (s.do === 'match' && s.fields.length === 1 && !s.negate)) &&
  plainConditions(rule).length === rule.steps.filter((s) => s.do === 'match').length;
/** For a rule that drops by one header alone, as far as this set goes: the values that it takes. */
export function takenBy(rule: Rule, set: PacketSet): { side: SideIndex; values: Side } | null {
  const last = rule.steps[rule.steps.length - 1];
  if (last?.do !== 'verdict' || last.verdict.verdict !== 'drop' || !isPlainRule(rule)) return null;
  let found: { side: SideIndex; values: Side } | null = null;
  for (const condition of plainConditions(rule)) {
    if (condition.on === 'other') {
      if (typeof readField(condition.field, set) === 'object') return null;
      continue;
    }
    const mapped: Mapped = set.now[condition.header];
    if ('value' in mapped) continue;
    if (found) return null;
    const values = conditionSide(condition, set.family);
    found = { side: mapped.from, values: sentSide(set.family, mapped, values) };
  }
  return found;
}

export function takeAway(sets: PacketSet[], taken: TakenAway | null): PacketSet[] {
  const [set] = sets;
  if (!taken || !set) return sets;
  const line = sideLine(set.family, taken.side);
  const left = without(line, set.box[taken.side], join(line, ...taken.sides));
  return left.length === 0 ? [] : [withBoxSide(set, taken.side, left)];
}

export function marked(
  set: PacketSet,
  step: { readonly on: MarkName; readonly from: MarkName; readonly keep: number; readonly flip: number },
): PacketSet {
  const from = step.from === 'mark' ? set.mark : (set.tracking?.session?.mark ?? 0);
  const to = ((from & step.keep) ^ step.flip) >>> 0;
  return step.on === 'mark' ? { ...set, mark: to } : withSession(set, { mark: to });
}

/** `push(...list)` would overflow the stack on long lists. */
export function pushAll<T>(into: T[], list: readonly T[]): void {
  for (const item of list) into.push(item);
}
