import { wholeBox, type Family } from '../net/index.ts';
import type { Chain, Program, Rule, Step } from '../rules/index.ts';
import { beamOf, floodChain, type Beam, type FloodBench } from '../rules/flood/index.ts';

/** A rule that no packet can ever fulfil where it stands, and the rules above that take all of its packets. */
export interface DeadRule {
  readonly chain: Chain;
  readonly rule: Rule;
  /** The earlier rules that take what it would match; empty: it contradicts itself or its chain is never reached. */
  readonly shadowedBy: readonly Rule[];
}

const STATES: readonly Beam['tracked'][] = ['new', 'established', 'related', 'invalid', 'untracked'];

/** Splits by routes cannot be judged here: both ways stay possible. */
const BENCH: FloodBench = { stop: '', splitByRoute: () => null, ownAddress: () => 0n };

/**
 * Rules that can never match, whatever comes in by whatever interface in whatever state, with the rules that shadow them. Rules with
 * conditions that are not modelled are never called dead. Exact for matches on headers, interfaces, marks and connection state.
 * @param devices the machine's interface names; others count as one more
 */
export function deadRules(program: Program, family: Family, devices: readonly string[]): DeadRule[] {
  const hit = new Set<string>();
  const bases = program.baseChains.filter((b) => b.families.includes(family));
  const bench: FloodBench = { ...BENCH, note: (rule) => void hit.add(rule.id) };
  const beams = everything(family, devices);
  for (const b of bases) floodChain(b.chain, beams, bench);
  return program.chains.flatMap((chain) => chain.rules.flatMap((rule, i): DeadRule[] => {
    if (hit.has(rule.id) || rule.steps.some(needsMore)) return [];
    return [{ chain, rule, shadowedBy: shadows(rule, chain.rules.slice(0, i), beams) }];
  }));
}

/** Marks are set by other rules and protocols other than TCP and UDP are not flooded: such rules are left alone. */
function needsMore(step: Step): boolean {
  if (step.do !== 'match') return step.do === 'unmodelled-match' || step.do === 'unmodelled-action' || step.do === 'chance' || step.do === 'over-time';
  return step.fields.some((f) => ['mark', 'ct-mark', 'ct-status', 'ct-direction', 'icmp-type', 'icmp-code', 'tcp-flags', 'packet-type', 'hops-left', 'random', 'and'].includes(f.of) || (f.of === 'protocol' && !step.rows.some((r) => r[0]!.type === 'numbers' && r[0]!.set.some((x) => (x.first <= 6 && x.last >= 6) || (x.first <= 17 && x.last >= 17)))) || f.of.startsWith('ct-s') && f.of !== 'ct-state');
}

function everything(family: Family, devices: readonly string[]): Beam[] {
  const names = [...devices, 'another'];
  return [6, 17].flatMap((protocol) => names.flatMap((i) => [null, ...names].flatMap((out) => STATES.map((tracked): Beam => ({ ...beamOf(family, protocol, wholeBox(family)), in: i, out, tracked })))));
}

/** The earlier rules of the chain that end some of the packets that the rule alone would match. */
function shadows(rule: Rule, earlier: readonly Rule[], beams: readonly Beam[]): Rule[] {
  const own: Beam[] = [];
  for (const b of beams) own.push(...matching(rule, b));
  return earlier.filter((e) => e.steps.some((s) => s.do === 'verdict' && s.verdict.verdict !== 'jump' && s.verdict.verdict !== 'continue') && own.some((b) => matching(e, b).length > 0)).slice(0, 8);
}

/** The part of a beam that fulfils a rule's conditions. */
function matching(rule: Rule, beam: Beam): Beam[] {
  const only: Rule = { ...rule, steps: [...rule.steps.filter((s) => s.do === 'match'), { do: 'verdict', verdict: { verdict: 'accept' } }] };
  return floodChain({ id: 'one', name: 'one', rules: [only], source: null }, [beam], BENCH).accepted;
}
