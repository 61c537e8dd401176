import { wholeBox, type Family } from '../net/index.ts';
import {
  Effort,
  newSetSession,
  packetSet,
  runChainOnSets,
  TCP_FLAGS,
  TooMuchWork,
  type Chain,
  type Field,
  type PacketSet,
  type Program,
  type Rule,
  type SetHost,
  type Step,
  type Need,
} from '../rules/index.ts';

/**
 * A rule that no packet can ever fulfil where it stands, and the rules above that take all of its packets.
 */
export interface DeadRule {
  readonly chain: Chain;
  readonly rule: Rule;
  /**
   * The earlier rules that take what it would match; empty: it contradicts itself or its chain is never
   * reached.
   */
  readonly shadowedBy: readonly Rule[];
}

export interface DeadRules {
  readonly rules: readonly DeadRule[];
  /**
   * False where the rules part the packets into more pieces than are worth following: nothing is said of them
   * then.
   */
  readonly isSearched: boolean;
}

/** Rules on sets of packets that the search may cost: some seconds at most. */
const MOST_SEARCH = 100_000;
/** Shadowing rules that are named for one dead rule. */
const MOST_SHADOWS = 8;

/**
 * Rules that can never match, whatever comes in by whatever interface in whatever state, with the rules that
 * shadow them. Rules with conditions that are not modelled are never called dead. Exact for matches on
 * headers, interfaces, marks and connection state.
 * @param devices the machine's interface names; others count as one more
 */
export function deadRules(
  program: Program,
  family: Family,
  devices: readonly string[],
  pause: (() => void) | null = null,
): DeadRules {
  const effort = new Effort('which rules never match', MOST_SEARCH, pause);
  try {
    return { rules: search(program, family, devices, effort), isSearched: true };
  } catch (error) {
    if (!(error instanceof TooMuchWork)) throw error;
    return { rules: [], isSearched: false };
  }
}

function search(program: Program, family: Family, devices: readonly string[], effort: Effort): DeadRule[] {
  const hit = new Set<string>();
  const host = hostFor(effort, (rule) => void hit.add(rule.id));
  const sets = everything(program, family, devices);
  for (const base of program.baseChains)
    if (base.families.includes(family)) runChainOnSets(base.chain, sets, host);
  return program.chains.flatMap((chain) =>
    chain.rules.flatMap((rule, i): DeadRule[] => {
      if (hit.has(rule.id) || rule.steps.some(needsMore)) return [];
      return [{ chain, rule, shadowedBy: shadows(rule, chain.rules.slice(0, i), sets, effort) }];
    }),
  );
}

/** Stands for what the routes of a machine would say. */
const UNJUDGED: Need = { need: 'dice' };

/**
 * What routes say cannot be judged here: both ways stay possible. Nothing is kept of the answers, so that
 * doubts do not multiply.
 */
const hostFor = (effort: Effort, onHit?: (rule: Rule) => void): SetHost => ({
  stop: '',
  chainType: 'filter',
  effort,
  keepsAnswers: false,
  lookUp: (_field, part) => [{ part, value: { missing: UNJUDGED } }],
  ownAddresses: (_kind, part) => [{ part, address: { family: part.family, bits: 0n } }],
  ...(onHit ? { onHit } : {}),
});

/**
 * Fields on which a rule may depend that is then left alone: marks are set by other rules, other protocols
 * are not flooded.
 */
const LEFT_ALONE: ReadonlySet<Field['of']> = new Set<Field['of']>([
  'mark',
  'ct-mark',
  'ct-status',
  'ct-direction',
  'ct-source',
  'ct-sport',
  'icmp-type',
  'icmp-code',
  'tcp-flags',
  'packet-type',
  'hops-left',
  'random',
  'and',
]);

function needsMore(step: Step): boolean {
  switch (step.do) {
    case 'match':
      return step.fields.some((f) => LEFT_ALONE.has(f.of) || (f.of === 'protocol' && !isTransport(step)));
    case 'unmodelled-match':
    case 'unmodelled-action':
    case 'chance':
    case 'over-time':
      return true;
    default:
      return false;
  }
}

const TRANSPORTS = [6, 17] as const;

const isTransport = (step: Extract<Step, { do: 'match' }>): boolean =>
  step.rows.some((row) => {
    const set = row[0];
    return (
      set?.type === 'numbers' && set.set.some((x) => TRANSPORTS.some((n) => x.first <= n && x.last >= n))
    );
  });

type State = 'new' | 'established' | 'related' | 'invalid' | 'untracked';
const STATES: readonly State[] = ['new', 'established', 'related', 'invalid', 'untracked'];

/** All packets, one set for each interface, direction and state that the rules tell apart. */
function everything(program: Program, family: Family, devices: readonly string[]): PacketSet[] {
  const fields = fieldsOf(program);
  const names = [...devices, 'another'];
  const ins = fields.has('in') ? apart(names, patternsOf(program, 'in')) : ['another'];
  const outs = fields.has('out') ? [null, ...apart(names, patternsOf(program, 'out'))] : [null];
  const isStateful = [...fields].some((of) => of.startsWith('ct-'));
  const states = isStateful ? STATES : (['new'] as const);
  return TRANSPORTS.flatMap((protocol) =>
    ins.flatMap((i) =>
      outs.flatMap((out) => states.map((state) => inState(family, protocol, i, out, state))),
    ),
  );
}

function inState(
  family: Family,
  protocol: number,
  device: string,
  out: string | null,
  state: State,
): PacketSet {
  const set = { ...packetSet(family, protocol, wholeBox(family)), in: device, out };
  if (state === 'untracked') return { ...set, untracked: true };
  const isKnown = state !== 'invalid';
  const session = isKnown ? { ...newSetSession(set), sawReply: state === 'established' } : null;
  return {
    ...set,
    tcpFlags: protocol === 6 && state === 'established' ? TCP_FLAGS.later : set.tcpFlags,
    tracking: { state, direction: 'original', session },
  };
}

const matchSteps = (program: Program) =>
  program.chains.flatMap((c) => c.rules.flatMap((r) => r.steps.filter((s) => s.do === 'match')));

function fieldsOf(program: Program): Set<Field['of']> {
  const out = new Set<Field['of']>();
  for (const chain of program.chains)
    for (const rule of chain.rules)
      for (const step of rule.steps) {
        if (step.do === 'match') for (const f of step.fields) out.add(f.of);
        if (step.do === 'verdict-map' || step.do === 'translate-map')
          for (const f of step.lookup.fields) out.add(f.of);
      }
  return out;
}

/** The names of interfaces that the rules compare with. */
function patternsOf(program: Program, of: 'in' | 'out'): string[] {
  const out = new Set<string>();
  for (const step of matchSteps(program))
    step.fields.forEach((field, i) => {
      if (field.of !== of) return;
      for (const row of step.rows) {
        const set = row[i];
        if (set?.type === 'names') for (const name of set.names) out.add(name);
      }
    });
  return [...out];
}

/** One name of each kind: those that the same patterns fit are alike. */
function apart(names: readonly string[], patterns: readonly string[]): string[] {
  const byKind = new Map<string, string>();
  for (const name of names) {
    const kind = patterns.filter((p) => fits(p, name)).join(' ');
    if (!byKind.has(kind)) byKind.set(kind, name);
  }
  return [...byKind.values()];
}

const fits = (pattern: string, name: string): boolean =>
  pattern.endsWith('*') ? name.startsWith(pattern.slice(0, -1)) : pattern === name;

/** The earlier rules of the chain that end some of the packets that the rule alone would match. */
function shadows(rule: Rule, earlier: readonly Rule[], sets: readonly PacketSet[], effort: Effort): Rule[] {
  const own = sets.flatMap((set) => matching(rule, set, effort));
  const out: Rule[] = [];
  for (const other of earlier) {
    if (out.length >= MOST_SHADOWS) break;
    if (endsPackets(other) && own.some((set) => matching(other, set, effort).length > 0)) out.push(other);
  }
  return out;
}

const endsPackets = (rule: Rule): boolean =>
  rule.steps.some(
    (s) => s.do === 'verdict' && s.verdict.verdict !== 'jump' && s.verdict.verdict !== 'continue',
  );

/** The part of a set that fulfils a rule's conditions. */
function matching(rule: Rule, set: PacketSet, effort: Effort): PacketSet[] {
  const steps: Step[] = [
    ...rule.steps.filter((s) => s.do === 'match'),
    { do: 'verdict', verdict: { verdict: 'accept' } },
  ];
  const chain: Chain = {
    id: 'one',
    name: 'one',
    origin: { program: 'device' },
    rules: [{ ...rule, steps }],
    source: null,
  };
  return runChainOnSets(chain, [set], hostFor(effort)).accepted;
}
