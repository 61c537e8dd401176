import type { Endpoint } from '../net/index.ts';
import { hookPlan, runBaseChain, ROUTE_TYPE, TRACKING_PRIORITY, TRANSLATION_PRIORITY, type Ask, type BaseChain, type Bench, type Hook, type Missing, type RejectKind, type Rule, type Subject } from '../rules/index.ts';
import type { Machine } from '../site/index.ts';
import { lookUpRoute } from './routing.ts';
import { applyStage, bind, chooseTarget } from './translate.ts';
import type { Ending, LegEvent } from './types.ts';

/** How a hook left the packet. */
export type HookEnd = { readonly passes: true } | { readonly passes: false; readonly reject: RejectKind | null; readonly ending: Ending };

const PASSES: HookEnd = { passes: true };

/** One packet at one machine, while the hooks run. */
export interface Visit {
  readonly machine: Machine;
  readonly subject: Subject;
  readonly ask: Ask;
  /** Session lookup, done when the hook reaches the tracking priority. */
  readonly track: () => void;
  /** Hops that the packet has left. */
  readonly hopsLeft: () => number;
  readonly note: ((event: LegEvent) => void) | null;
}

type Side = 'source' | 'destination';
const SIDE: Readonly<Record<Exclude<Hook, 'forward'>, Side>> = { prerouting: 'destination', output: 'destination', postrouting: 'source', input: 'source' };

/** Runs all chains of a hook, with tracking and translation at their places. */
export function runHook(hook: Hook, visit: Visit): HookEnd {
  const { machine, subject } = visit;
  const program = machine.program[subject.family];
  const tracks = hook === 'prerouting' || hook === 'output';
  if (!program) {
    if (tracks && !subject.tracking) visit.track();
    if (hook !== 'forward') applyStage(subject, SIDE[hook]);
    return PASSES;
  }
  const plan = hookPlan(program, hook, subject.family);
  const bench = benchFor(hook, visit);
  let tracked = !tracks || subject.tracking !== null;
  let translated = hook === 'forward';
  const catchUp = (priority: number): HookEnd => {
    if (!tracked && priority >= TRACKING_PRIORITY) {
      tracked = true;
      if (!subject.untracked) visit.track();
    }
    if (!translated && hook !== 'forward' && priority >= TRANSLATION_PRIORITY[hook]) {
      translated = true;
      return runTranslations(hook, plan.translations, bench, visit);
    }
    return PASSES;
  };
  for (const base of plan.filters) {
    const before = catchUp(base.priority);
    if (!before.passes) return before;
    const end = runChainOf(hook, base, bench, visit);
    if (!end.passes) return end;
  }
  return catchUp(Infinity);
}

function runChainOf(hook: Hook, base: BaseChain, bench: Bench, { subject, note }: Visit): HookEnd {
  const result = runBaseChain(base, subject, bench);
  note?.({ event: 'chain', hook, chain: base.chain, result });
  if (result.verdict === 'accept') return PASSES;
  if (result.verdict === 'reject') return { passes: false, reject: result.kind, ending: { kind: 'rule', hook, chain: base.chain, rule: result.rule, reject: result.kind } };
  const ending: Ending = result.rule ? { kind: 'rule', hook, chain: base.chain, rule: result.rule, reject: null } : { kind: 'policy', hook, chain: base.chain };
  return { passes: false, reject: null, ending };
}

/**
 * Translation chains see only the first packet of a session, and only until one of them has translated; then the packet is
 * rewritten from its session. An ICMP error is rewritten with the packet that it quotes.
 */
function runTranslations(hook: Exclude<Hook, 'forward'>, chains: readonly BaseChain[], bench: Bench, visit: Visit): HookEnd {
  const { subject, note } = visit;
  const side = SIDE[hook];
  const session = subject.tracking?.session;
  const done = (): boolean => !session || (side === 'destination' ? session.destinationDone : session.sourceDone);
  const before = endpointOf(subject, side);
  if (session && subject.tracking!.state === 'new' && subject.tracking!.direction === 'original') {
    for (const base of chains) {
      if (done()) break;
      const end = runChainOf(hook, base, bench, visit);
      if (!end.passes) return end;
    }
    if (side === 'destination') session.destinationDone = true;
    else session.sourceDone = true;
  }
  applyStage(subject, side);
  const after = endpointOf(subject, side);
  if (note && (before.address !== after.address || before.port !== after.port) && (before.address.bits !== after.address.bits || before.port !== after.port)) {
    note({ event: 'translated', side, from: before, to: after, rule: translatingRule(bench) });
  }
  return PASSES;
}

const endpointOf = (s: Subject, side: Side): Endpoint => (side === 'source' ? { address: s.source, port: s.sport ?? 0 } : { address: s.destination, port: s.dport ?? 0 });

const lastTranslation = new WeakMap<Bench, Rule>();
const translatingRule = (bench: Bench): Rule | null => lastTranslation.get(bench) ?? null;

function benchFor(hook: Hook, { machine, ask, note, hopsLeft }: Visit): Bench {
  const bench: Bench = {
    stop: machine.id,
    ask,
    record: note ? (visit) => note({ event: 'rule', hook, visit }) : null,
    addressType: (s, side, only) => addressType(machine, s, side, only, ask),
    hopsLeft,
    reversePath: (s, useMark, useInterface) => reversePath(machine, s, useMark, useInterface, ask),
    translate: (s, side, target, rule) => {
      const session = s.tracking?.session;
      if (!session) return 'done';
      const current = endpointOf(s, side);
      const original = side === 'destination' ? session.original.destination : session.original.source;
      const to = chooseTarget(current, original, target, `${machine.id}/${rule.id}`, ask);
      if (to && to.address.family === s.family) bind(session, side, to);
      lastTranslation.set(bench, rule);
      return 'done';
    },
    masquerade: (s, ports, rule) => {
      const session = s.tracking?.session;
      const own = masqueradeAddress(machine, s);
      if (!session) return 'done';
      if (!own) return 'drop';
      lastTranslation.set(bench, rule);
      const to = chooseTarget(endpointOf(s, 'source'), session.original.source, { addresses: { first: own, last: own }, ports }, rule.id, ask);
      if (to) bind(session, 'source', to);
      return 'done';
    },
    redirect: (s, ports, rule) => {
      const session = s.tracking?.session;
      const own = hook === 'output' ? loopbackAddress(s) : firstAddress(machine, s.in, s);
      if (!session) return 'done';
      if (!own) return 'drop';
      lastTranslation.set(bench, rule);
      const to = chooseTarget(endpointOf(s, 'destination'), session.original.destination, { addresses: { first: own, last: own }, ports }, rule.id, ask);
      if (to) bind(session, 'destination', to);
      return 'done';
    },
  };
  return bench;
}

/** Address of the outgoing interface in the next hop's subnet, else its first global one (inet_select_addr). */
export function masqueradeAddress(machine: Machine, s: Pick<Subject, 'out' | 'family' | 'nextHop' | 'destination'>) {
  const i = machine.interfaces?.find((x) => x.name === s.out);
  const own = i?.addresses.filter((a) => a.address.family === s.family && !a.secondary && !a.unusable && a.scope !== 'link' && a.scope !== 'host') ?? [];
  const hop = s.nextHop ?? s.destination;
  const near = own.find((a) => hop.bits >> shift(a.prefixLength, s.family) === (a.peer ?? a.address).bits >> shift(a.prefixLength, s.family));
  return (near ?? own[0])?.address ?? null;
}

const shift = (length: number, family: 4 | 6): bigint => BigInt((family === 4 ? 32 : 128) - length);

/** REDIRECT sends to the first address of the incoming interface (nf_nat_redirect). */
export function firstAddress(machine: Machine, device: string | null, s: Pick<Subject, 'family'>) {
  return machine.interfaces?.find((i) => i.name === device)?.addresses.find((a) => a.address.family === s.family && !a.unusable && (s.family === 4 || a.scope !== 'link'))?.address ?? null;
}

const loopbackAddress = (s: Subject) => (s.family === 4 ? ({ family: 4, bits: 0x7f00_0001n } as const) : ({ family: 6, bits: 1n } as const));

export function addressType(machine: Machine, s: Subject, side: Side, only: 'in' | 'out' | null, ask: Ask): number | Missing {
  const a = side === 'source' ? s.source : s.destination;
  const device = only === 'in' ? s.in : only === 'out' ? s.out : null;
  const found = lookUpRoute(machine, { destination: a, source: null, in: 'lo', mark: 0 }, ask);
  switch (found.is) {
    case 'unknown': return { missing: found.needs };
    case 'none': return ROUTE_TYPE.unreachable;
    case 'local': return device === null || found.device === device ? ROUTE_TYPE.local : ROUTE_TYPE.unicast;
    default: return ROUTE_TYPE[found.is];
  }
}

export function reversePath(machine: Machine, s: Subject, useMark: boolean, useInterface: boolean, ask: Ask): number | Missing {
  const found = lookUpRoute(machine, { destination: s.source, source: s.destination, in: s.in ?? 'lo', mark: useMark ? s.mark : 0, out: useInterface ? s.in : null }, ask);
  if (found.is === 'unknown') return { missing: found.needs };
  if (found.is === 'local') return 1;
  return found.is === 'unicast' ? 1 : 0;
}
