import { join, SIDE, sideLine, without, withSide, type Family, type Side, type SideIndex } from '../../net/index.ts';
import { inValues } from '../fields.ts';
import type { Chain, Field, MarkName, Rule, Step, TranslationTarget, ValueSet, Verdict } from '../program.ts';
import { floodField, sentSide, sideOf, splitByHeader, touches, withTrail, type Beam, type FloodField, type HeaderName } from './beam.ts';
import { turned } from './turn.ts';

/** Where beams are after a chain. */
export interface FloodEnd {
  readonly accepted: Beam[];
  readonly dropped: Beam[];
  readonly refused: Beam[];
  readonly through: Beam[];
}

/** What the machine does for flooded rules. */
export interface FloodBench {
  readonly stop: string;
  /** Splits a beam by a field that looks at routes; null where it cannot tell. */
  splitByRoute(field: Field, sets: readonly ValueSet[], beam: Beam): { hit: Beam[]; miss: Beam[] } | null;
  /** The address that masquerading or redirecting takes; null where there is none. */
  ownAddress(kind: 'masquerade' | 'redirect', beam: Beam): bigint | null;
  /** Told of every rule that some packets fulfil. */
  readonly note?: (rule: Rule) => void;
}

const MAX_DEPTH = 16;

interface Split {
  readonly hit: Beam[];
  readonly miss: Beam[];
}

/** Runs sets of packets through a chain: the same rules as `evaluate`, on all packets at once. */
export function floodChain(chain: Chain, beams: readonly Beam[], bench: FloodBench, depth = 0): FloodEnd {
  const end: FloodEnd = { accepted: [], dropped: [], refused: [], through: [] };
  for (const beam of beams) {
    let current: Beam[] = [beam];
    let taken: TakenAway | null = null;
    for (const rule of rulesFor(chain, beam)) {
      if (current.length === 1) {
        if (missesWhole(rule, current[0]!)) continue;
        const away = takenBy(rule, current[0]!, bench);
        if (away && (taken === null || taken.side === away.side)) {
          if (taken === null) taken = { side: away.side, sets: [away.set] };
          else taken.sets.push(away.set);
          continue;
        }
      }
      current = takeAway(current, taken);
      taken = null;
      const next: Beam[] = [];
      for (const piece of current) floodRule(rule, piece, bench, depth, end, next);
      current = next;
      if (current.length === 0) break;
    }
    pushAll(end.through, takeAway(current, taken));
  }
  return end;
}

/** What dropping rules take from a beam, kept until somebody needs to know what is left: one subtraction instead of thousands. */
interface TakenAway {
  readonly side: SideIndex;
  readonly sets: Side[];
}

/** For a rule that drops by one header alone, as far as this beam goes: the values that it takes. Nobody asks for what is dropped. */
function takenBy(rule: Rule, beam: Beam, bench: FloodBench): { side: SideIndex; set: Side } | null {
  const last = rule.steps[rule.steps.length - 1];
  if (bench.note || last?.do !== 'verdict' || last.verdict.verdict !== 'drop') return null;
  let found: { side: SideIndex; set: Side } | null = null;
  for (const step of rule.steps) {
    if (step === last || step.do === 'note') continue;
    if (step.do !== 'match' || step.fields.length !== 1 || step.negate) return null;
  }
  for (const test of quickTests(rule)) {
    if ('field' in test) {
      if (floodField(test.field, beam).is !== 'value') return null;
      continue;
    }
    const mapped = beam.now[test.header];
    if ('value' in mapped) continue;
    if (found) return null;
    found = { side: mapped.from, set: sentSide(beam.family, mapped, test.sides[beam.family]) };
  }
  return found;
}

function takeAway(beams: Beam[], taken: TakenAway | null): Beam[] {
  if (!taken || beams.length === 0) return beams;
  const beam = beams[0]!;
  const line = sideLine(beam.family, taken.side);
  const left = without(line, beam.box[taken.side], join(line, ...taken.sets));
  return left.length === 0 ? [] : [{ ...beam, box: withSide(beam.box, taken.side, left) }];
}

function floodRule(rule: Rule, beam: Beam, bench: FloodBench, depth: number, end: FloodEnd, next: Beam[]): void {
  if (missesWhole(rule, beam)) {
    next.push(beam);
    return;
  }
  let live: Beam[] = [beam];
  for (const step of rule.steps) {
    if (live.length === 0) return;
    switch (step.do) {
      case 'match': {
        const after: Beam[] = [];
        for (const b of live) {
          const { hit, miss } = splitByMatch(step, b, bench);
          pushAll(after, step.negate ? miss : hit);
          pushAll(next, step.negate ? hit : miss);
        }
        live = after;
        break;
      }
      case 'note': break;
      case 'chance': case 'over-time': case 'unmodelled-match':
        live = live.map((b) => ({ ...b, maybe: true }));
        pushAll(next, live);
        break;
      case 'unmodelled-action': {
        const open = live.map((b) => ({ ...b, maybe: true }));
        pushAll(next, open);
        pushAll(end.accepted, open);
        live = open;
        break;
      }
      case 'set-mark': live = live.map((b) => marked(b, step)); break;
      case 'notrack': live = live.map((b) => (b.tracked === 'not-yet' ? { ...b, tracked: 'untracked' } : b)); break;
      case 'verdict': note(bench, rule, live); return conclude(step.verdict, rule, live, bench, depth, end, next);
      case 'verdict-map': {
        let rest = live;
        for (const row of step.lookup.rows) {
          const split = splitByRows(step.lookup.fields, [row.key], rest, bench);
          if (split.hit.length > 0) {
            note(bench, rule, split.hit);
            conclude(row.value, rule, split.hit, bench, depth, end, next);
          }
          rest = split.miss;
          if (rest.length === 0) break;
        }
        pushAll(next, rest);
        return;
      }
      case 'translate': note(bench, rule, live); return finish(live.flatMap((b) => turned(b, step.side, step.target)), rule, bench, end);
      case 'translate-map': {
        let rest = live;
        for (const row of step.lookup.rows) {
          const split = splitByRows(step.lookup.fields, [row.key], rest, bench);
          note(bench, rule, split.hit);
          finish(split.hit.flatMap((b) => turned(b, step.side, row.value)), rule, bench, end);
          rest = split.miss;
        }
        pushAll(next, rest);
        return;
      }
      case 'masquerade': case 'redirect': {
        note(bench, rule, live);
        for (const b of live) {
          const own = bench.ownAddress(step.do, b);
          if (own === null) end.dropped.push(b);
          else finish(turned(b, step.do === 'masquerade' ? 'source' : 'destination', targetOf(b, own, step.ports)), rule, bench, end);
        }
        return;
      }
    }
  }
  // A rule without a verdict only counts or marks; its packets go on.
  note(bench, rule, live);
  pushAll(next, live);
}

/** A plain condition of a rule, ready to be held against whole beams. */
type QuickTest = { readonly header: HeaderName; readonly protocol: number | null; readonly sides: Readonly<Record<Family, Side>> } | { readonly field: Field; readonly step: MatchStep };

const tests = new WeakMap<Rule, readonly QuickTest[]>();

/** The conditions of a rule that stand before anything with an effect. */
function quickTests(rule: Rule): readonly QuickTest[] {
  let list = tests.get(rule);
  if (list) return list;
  const out: QuickTest[] = [];
  for (const step of rule.steps) {
    if (step.do === 'note') continue;
    if (step.do !== 'match') break;
    if (step.fields.length !== 1) continue;
    const field = step.fields[0]!;
    const header = field.of === 'source' || field.of === 'destination' || field.of === 'sport' || field.of === 'dport';
    if (!header) out.push({ field, step });
    else if (!step.negate && (!('family' in field) || field.family === null)) out.push({ header: field.of as HeaderName, protocol: 'protocol' in field ? field.protocol : null, sides: { 4: mergedSide(step, 4), 6: mergedSide(step, 6) } });
    else if (!step.negate && 'family' in field) out.push({ header: field.of as HeaderName, protocol: null, sides: { 4: field.family === 4 ? mergedSide(step, 4) : [], 6: field.family === 6 ? mergedSide(step, 6) : [] } });
  }
  tests.set(rule, (list = out));
  return list;
}

/**
 * Whether one of the rule's conditions fails for the whole beam. Looking at that first keeps a beam in one piece where the rule has
 * nothing to do with it: pieces that all miss would only multiply.
 */
function missesWhole(rule: Rule, beam: Beam): boolean {
  for (const test of quickTests(rule)) {
    if ('header' in test) {
      if ((test.protocol !== null && test.protocol !== beam.protocol) || !touches(beam, beam.now[test.header], test.sides[beam.family])) return true;
      continue;
    }
    const field = floodField(test.field, beam);
    if (field.is === 'absent') return true;
    if (field.is === 'value' && test.step.rows.some((row) => inValues(row[0]!, field.value)) === test.step.negate) return true;
  }
  return false;
}

/** For each port the rules that a beam with that one destination port can meet; rules without a plain port stand under `always`. */
interface PortIndex {
  readonly always: readonly number[];
  readonly ports: ReadonlyMap<number, readonly number[]>;
}

const portIndexes = new WeakMap<Chain, PortIndex>();
const MOST_PORTS = 128;

function portIndex(chain: Chain): PortIndex {
  let index = portIndexes.get(chain);
  if (index) return index;
  const always: number[] = [];
  const ports = new Map<number, number[]>();
  chain.rules.forEach((rule, number) => {
    const test = quickTests(rule).find((t) => 'header' in t && t.header === 'dport');
    const side = test && 'header' in test ? test.sides[4] : null;
    if (!side || side.reduce((n, i) => n + Number(i.last) - Number(i.first) + 1, 0) > MOST_PORTS) always.push(number);
    else for (const i of side) for (let port = Number(i.first); port <= Number(i.last); port++) ports.set(port, [...(ports.get(port) ?? []), number]);
  });
  portIndexes.set(chain, (index = { always, ports }));
  return index;
}

/** The rules of a chain that a beam can meet, in order. */
function rulesFor(chain: Chain, beam: Beam): readonly Rule[] {
  const dport = beam.now.dport;
  if (!('value' in dport) || chain.rules.length < LEAST_RULES) return chain.rules;
  const { always, ports } = portIndex(chain);
  return [...always, ...(ports.get(Number(dport.value)) ?? [])].sort((a, b) => a - b).map((n) => chain.rules[n]!);
}

/** Shorter chains are walked whole. */
const LEAST_RULES = 24;

const note = (bench: FloodBench, rule: Rule, beams: readonly Beam[]): void => {
  if (beams.length > 0) bench.note?.(rule);
};

const targetOf = (b: Beam, bits: bigint, ports: TranslationTarget['ports']): TranslationTarget => ({ addresses: { first: { family: b.family, bits }, last: { family: b.family, bits } }, ports });

const finish = (beams: readonly Beam[], rule: Rule, bench: FloodBench, end: FloodEnd): void => pushAll(end.accepted, beams.map((b) => withTrail(b, bench.stop, rule)));

function conclude(verdict: Verdict, rule: Rule, beams: readonly Beam[], bench: FloodBench, depth: number, end: FloodEnd, next: Beam[]): void {
  switch (verdict.verdict) {
    case 'accept': return pushAll(end.accepted, beams.map((b) => withTrail(b, bench.stop, rule)));
    case 'drop': return pushAll(end.dropped, beams);
    case 'reject': return pushAll(end.refused, beams);
    case 'return': return pushAll(end.through, beams);
    case 'continue': return pushAll(next, beams);
    case 'jump': case 'goto': {
      if (depth >= MAX_DEPTH) {
        const open = beams.map((b) => ({ ...b, maybe: true }));
        pushAll(end.accepted, open);
        return pushAll(next, open);
      }
      const inner = floodChain(verdict.chain, beams, bench, depth + 1);
      pushAll(end.accepted, inner.accepted);
      pushAll(end.dropped, inner.dropped);
      pushAll(end.refused, inner.refused);
      pushAll(verdict.verdict === 'jump' ? next : end.through, inner.through);
    }
  }
}

/** `push(...list)` would overflow the stack on long lists. */
function pushAll<T>(into: T[], list: readonly T[]): void {
  for (const item of list) into.push(item);
}

function marked(b: Beam, step: { on: MarkName; from: MarkName; keep: number; flip: number }): Beam {
  const from = step.from === 'mark' ? b.mark : b.ctMark;
  const to = ((from & step.keep) ^ step.flip) >>> 0;
  return step.on === 'mark' ? { ...b, mark: to } : { ...b, ctMark: to };
}

type MatchStep = Extract<Step, { do: 'match' }>;

const merged = new WeakMap<MatchStep, Record<Family, Side>>();

const PORT_FIELDS: ReadonlySet<string> = new Set(['sport', 'dport', 'ct-sport', 'ct-dport']);

/** All rows of a match on one header field as one side. */
function mergedSide(step: MatchStep, family: Family): Side {
  let both = merged.get(step);
  if (!both) {
    const side = (f: Family): Side => {
      const parts = step.rows.map((row) => sideOf(row[0]!, f) ?? []);
      return parts.length === 1 ? parts[0]! : join(sideLine(f, PORT_FIELDS.has(step.fields[0]!.of) ? SIDE.dport : SIDE.source), ...parts);
    };
    merged.set(step, (both = { 4: side(4), 6: side(6) }));
  }
  return both[family];
}

function splitByMatch(step: MatchStep, beam: Beam, bench: FloodBench): Split {
  if (step.fields.length === 1) {
    const field = floodField(step.fields[0]!, beam);
    if (field.is === 'header') {
      const { hit, miss } = splitByHeader(beam, field.header, mergedSide(step, beam.family));
      return { hit: hit ? [hit] : [], miss: miss ? [miss] : [] };
    }
    return splitByField(step.fields[0]!, field, step.rows.map((r) => r[0]!), beam, bench, step.negate);
  }
  const absent = step.fields.some((f) => floodField(f, beam).is === 'absent');
  // A field that the packet does not have makes the rule miss, negated or not.
  if (absent) return step.negate ? { hit: [beam], miss: [] } : { hit: [], miss: [beam] };
  return splitByRows(step.fields, step.rows, [beam], bench);
}

/** Splits beams by rows of several fields: the union of the rows, and the rest. */
function splitByRows(fields: readonly Field[], rows: readonly (readonly ValueSet[])[], beams: readonly Beam[], bench: FloodBench): Split {
  const hit: Beam[] = [];
  let rest: Beam[] = [...beams];
  for (const row of rows) {
    const left: Beam[] = [];
    for (const beam of rest) {
      let live: Beam[] = [beam];
      fields.forEach((field, i) => {
        const after: Beam[] = [];
        for (const b of live) {
          const split = splitByField(field, floodField(field, b), [row[i]!], b, bench, false);
          pushAll(after, split.hit);
          pushAll(left, split.miss);
        }
        live = after;
      });
      pushAll(hit, live);
    }
    rest = left;
    if (rest.length === 0) break;
  }
  return { hit, miss: rest };
}

function splitByField(field: Field, read: FloodField, sets: readonly ValueSet[], beam: Beam, bench: FloodBench, negate: boolean): Split {
  switch (read.is) {
    case 'absent': return negate ? { hit: [beam], miss: [] } : { hit: [], miss: [beam] };
    case 'value': return sets.some((s) => inValues(s, read.value)) ? { hit: [beam], miss: [] } : { hit: [], miss: [beam] };
    case 'header': {
      const hit: Beam[] = [];
      let rest: Beam | null = beam;
      for (const set of sets) {
        const side: Side | null = sideOf(set, beam.family);
        if (side === null) return unknown(beam);
        const split: { hit: Beam | null; miss: Beam | null } = splitByHeader(rest, read.header, side);
        if (split.hit) hit.push(split.hit);
        rest = split.miss;
        if (!rest) return { hit, miss: [] };
      }
      return { hit, miss: rest ? [rest] : [] };
    }
    case 'unknown': return bench.splitByRoute(field, sets, beam) ?? unknown(beam);
  }
}

const unknown = (beam: Beam): Split => {
  const open = { ...beam, maybe: true };
  return { hit: [open], miss: [open] };
};

