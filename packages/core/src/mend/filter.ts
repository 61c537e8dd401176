import { writeDestination, writeOff, writeRule, writeSources, type RuleWish } from '../devices/index.ts';
import { visitsOf, type Ending } from '../crossing/index.ts';
import type { FaultId } from '../faults/index.ts';
import { slipOf } from '../ledger/index.ts';
import {
  ADDRESS_LENGTH,
  addressSet,
  formatAddress,
  formatPrefix,
  hasAddress,
  PROTOCOL,
  sameAddress,
  toPrefixes,
  type Address,
  type Prefix,
} from '../net/index.ts';
import type { SourceRef } from '../place/index.ts';
import type { Chain, Program, Rule, Step } from '../rules/index.ts';
import type { Role } from '../site/index.ts';
import { audience, endMachine, type MendContext } from './context.ts';
import type { Mend } from './mend.ts';
import { servedBy } from './rows.ts';
import { withoutRow, withProgram, withRule, withSteps } from './scene.ts';
import { stepsOf } from './steps.ts';

type Filtered = Extract<Ending, { kind: 'rule' | 'policy' }>;
type Match = Extract<Step, { do: 'match' }>;

/**
 * A filter dropped or refused the packet: correct the rule that nearly let it in, else add the smallest one
 * that does.
 */
export function filterMend(c: MendContext, ending: Filtered): Mend | null {
  const machine = endMachine(c);
  if (!machine) return null;
  const side = ending.hook === 'forward' ? wrongSide(c, ending) : null;
  if (side) return side;
  const near = nearMiss(c, ending);
  return near ? sourceMend(c, ending, near) : allowMend(c, ending);
}

/** An accepting rule of the hook that agrees in everything but the source. */
interface NearMiss {
  readonly rule: Rule;
  readonly allowed: readonly Prefix[];
}

function nearMiss({ run, scene }: MendContext, ending: Filtered): NearMiss | null {
  const leg = run.legs.filter((l) => l.stop === run.stop && l.lane === run.direction).pop();
  const protocol = PROTOCOL[scene.packet.transport];
  if (!leg) return null;
  for (const { hook, visit } of visitsOf(leg)) {
    if (hook !== ending.hook || visit.hit || visit.missed?.field.of !== 'source') continue;
    const { rule } = visit;
    const accepts = rule.steps.some((s) => s.do === 'verdict' && s.verdict.verdict === 'accept');
    const source = rule.steps.find(isSourceMatch);
    if (!accepts || !source || !isOnPort(rule, protocol, leg.before.destination.port)) continue;
    const allowed = source.rows.flatMap(([set]) => (set?.type === 'addresses' ? toPrefixes(set.set) : []));
    return { rule, allowed };
  }
  return null;
}

/**
 * An accepting rule that names what was dialled, where the packet has its translated destination already: a
 * filter of what is forwarded sees addresses behind the destination translation (netfilter's hook order).
 */
function wrongSide(c: MendContext, ending: Filtered): Mend | null {
  const { run, scene } = c;
  const { stop } = run;
  const machine = endMachine(c);
  const leg = run.legs.filter((l) => l.stop === stop && l.lane === 'forward').pop();
  if (!leg || !machine || stop === null || run.direction !== 'forward') return null;
  const dialled = leg.before.destination;
  const turned = leg.events.find((e) => e.event === 'translated' && e.side === 'destination');
  if (turned?.event !== 'translated' || sameAddress(turned.to.address, dialled.address)) return null;
  const { family } = dialled.address;
  for (const { hook, visit } of visitsOf(leg)) {
    if (hook !== 'forward' || visit.hit || visit.missed?.field.of !== 'destination') continue;
    const { rule } = visit;
    const accepts = rule.steps.some((s) => s.do === 'verdict' && s.verdict.verdict === 'accept');
    const names = rule.steps.find(isDestinationMatch);
    const isMeant = names?.rows.some(
      ([set]) => set?.type === 'addresses' && hasAddress(set.set, dialled.address),
    );
    if (!accepts || !isMeant || !isOnPort(rule, PROTOCOL[scene.packet.transport], turned.to.port)) continue;
    const chain = chainOf(ending, machine.program[family], rule);
    const set = addressSet({ ...turned.to.address, length: ADDRESS_LENGTH[family] });
    return {
      fault: 'filter-side',
      stop,
      finding: {
        found: 'wrong-side',
        chain,
        rule,
        served: servedBy(c),
        now: dialled.address,
        mended: turned.to.address,
        written: writeDestination(rule, chain, turned.to.address, servedBy(c)),
      },
      evidence: rule.source ? [rule.source] : [],
      apply: (before) =>
        withSteps(before, stop, family, rule, (steps) =>
          steps.map((s) => (isDestinationMatch(s) ? { ...s, rows: [[{ type: 'addresses', set }]] } : s)),
        ),
    };
  }
  return null;
}

const isDestinationMatch = (step: Step): step is Match =>
  step.do === 'match' && !step.negate && step.fields.length === 1 && step.fields[0]?.of === 'destination';

const isSourceMatch = (step: Step): step is Match =>
  step.do === 'match' && !step.negate && step.fields.length === 1 && step.fields[0]?.of === 'source';

const isOnPort = (rule: Rule, protocol: number, port: number): boolean =>
  rule.steps.some(
    (s) =>
      s.do === 'match' &&
      s.fields.some((f) => f.of === 'dport' && (f.protocol === null || f.protocol === protocol)) &&
      holdsPort(s, port),
  );

const holdsPort = (step: Match, port: number): boolean =>
  step.rows.some((row) =>
    row.some((set) => set.type === 'numbers' && set.set.some((i) => port >= i.first && port <= i.last)),
  ) !== step.negate;

/** The prefix that a slip of the pen made of the client's address; null where none looks like one. */
function slippedFrom(allowed: readonly Prefix[], client: Address): Prefix | null {
  return allowed.find((p) => slipOf(formatPrefix(p), formatAddress(client)) !== null) ?? null;
}

function sourceMend(c: MendContext, ending: Filtered, { rule, allowed }: NearMiss): Mend | null {
  const { stop } = c.run;
  const machine = endMachine(c);
  if (stop === null || !machine) return null;
  const client = c.scene.packet.source.address;
  const { family } = client;
  const slipped = slippedFrom(allowed, client);
  const wanted = audience(c) ?? [];
  const to: readonly Prefix[] = slipped ? [{ ...client, length: slipped.length }] : wanted;
  // A slip is put right; who was let in on purpose stays so.
  const set = to.length > 0 ? addressSet(...to, ...(slipped ? [] : allowed)) : null;
  const chain = chainOf(ending, machine.program[family], rule);
  const change = { now: allowed, mended: to.length > 0 ? to : null, replaces: slipped !== null };
  const written = writeSources(rule, chain, change, wishOf(c, change.mended));
  return {
    fault: SOURCE_FAULT[machine.role] ?? 'fwd-source',
    stop,
    finding: {
      found: 'sources-too-narrow',
      chain: ending.chain,
      rule,
      served: servedBy(c),
      allowed,
      client,
      sources: set && toPrefixes(set),
      slip: slipped && slipOf(formatPrefix(slipped), formatAddress(client)),
      written,
    },
    evidence: rule.source ? [rule.source] : [],
    apply: (scene) =>
      withSteps(scene, stop, family, rule, (steps) =>
        steps.flatMap((s): Step[] => {
          if (s.do !== 'match' || s.fields.length !== 1 || s.fields[0]?.of !== 'source') return [s];
          return set ? [{ ...s, rows: [[{ type: 'addresses', set }]] }] : [];
        }),
      ),
  };
}

const SOURCE_FAULT: Readonly<Partial<Record<Role, FaultId>>> = { edge: 'edge-source', host: 'host-scope' };

function allowMend(c: MendContext, ending: Filtered): Mend | null {
  const { stop } = c.run;
  const machine = endMachine(c);
  if (stop === null || !machine) return null;
  const leg = c.run.legs.filter((l) => l.stop === stop && l.lane === c.run.direction).pop();
  const header = leg?.after ?? c.scene.packet;
  const isAnswer = ending.hook === 'output' || c.run.direction === 'reply';
  const { family } = header.source.address;
  const above = ending.kind === 'rule' ? ending.rule : null;
  if (above && chainOf(ending, machine.program[family], above).origin.program === 'profiles')
    if (refusesThePort(above))
      return unblockMend(c, stop, above, chainOf(ending, machine.program[family], above));
  const wish: RuleWish = {
    family,
    transport: c.scene.packet.transport,
    peers: audience(c),
    destination: null,
    port: isAnswer ? header.source.port : header.destination.port,
    side: isAnswer ? 'answer' : 'question',
    then: { do: 'accept' },
  };
  const chain = chainOf(ending, machine.program[family], above);
  const id = `mend/allow/${wish.transport}/${wish.port}`;
  const written = writeRule(wish, { chain, above });
  const rule: Rule = { id, text: written?.text ?? id, source: null, steps: stepsOf(wish) };
  return {
    fault: machine.role === 'edge' ? edgeFault(c, isAnswer) : shutFault(machine.role, ending, isAnswer),
    stop,
    finding: { found: 'not-allowed', chain: ending.chain, rule: above, wish, written },
    evidence: placesOf(ending),
    apply: (scene) => withProgram(scene, stop, family, (p) => withRule(p, chain.id, rule, above?.id ?? null)),
  };
}

/** Rows that block win over rows that allow, wherever they stand: it has to be switched off. */
function unblockMend(c: MendContext, stop: string, rule: Rule, chain: Chain): Mend {
  const { family } = c.scene.packet.source.address;
  return {
    fault: 'host-block-wins',
    stop,
    finding: { found: 'row-blocks', rule, served: servedBy(c), written: writeOff(rule, chain) },
    evidence: rule.source ? [rule.source] : [],
    apply: (scene) => withProgram(scene, stop, family, (p) => withoutRow(p, rule)),
  };
}

/** The service as it was dialled, for those who are to be let in. */
const wishOf = ({ scene }: MendContext, peers: readonly Prefix[] | null): RuleWish => ({
  family: scene.packet.source.address.family,
  transport: scene.packet.transport,
  peers,
  destination: null,
  port: scene.packet.destination.port,
  side: 'question',
  then: { do: 'accept' },
});

function placesOf(ending: Filtered): SourceRef[] {
  const source = ending.kind === 'rule' ? (ending.rule.source ?? ending.chain.source) : ending.chain.source;
  return source ? [source] : [];
}

/** Which value of a perimeter's row is off: the one row for the service that nearly lets it in tells. */
function edgeFault(c: MendContext, isAnswer: boolean): FaultId {
  if (isAnswer || c.run.direction === 'reply') return 'edge-return';
  const { transport, destination, source } = c.scene.packet;
  const leg = c.run.legs.filter((l) => l.stop === c.run.stop && l.lane === 'forward').pop();
  const accepting = leg
    ? [...visitsOf(leg)]
        .map(({ visit }) => visit.rule)
        .filter((r) => r.steps.some((s) => s.do === 'verdict' && s.verdict.verdict === 'accept'))
    : [];
  const isFrom = (r: Rule): boolean =>
    r.steps.every(
      (s) =>
        !isSourceMatch(s) ||
        s.rows.some(([v]) => v?.type === 'addresses' && hasAddress(v.set, source.address)),
    );
  const named = accepting.filter((r) =>
    r.steps.some((s) => s.do === 'match' && s.fields.some((f) => f.of === 'dport')),
  );
  const ports = (r: Rule): boolean => isOnPort(r, PROTOCOL[transport], destination.port);
  if (
    named.some(
      (r) =>
        ports(r) && r.steps.some((s) => s.do === 'unmodelled-match' && s.doubt.doubt === 'group-members'),
    )
  )
    return 'edge-group-only';
  const protocolOf = (r: Rule): boolean =>
    r.steps.every(
      (s) =>
        s.do !== 'match' ||
        s.fields[0]?.of !== 'protocol' ||
        s.rows.some(
          ([v]) =>
            v?.type === 'numbers' &&
            v.set.some((i) => i.first <= PROTOCOL[transport] && PROTOCOL[transport] <= i.last),
        ),
    );
  if (named.some((r) => ports(r) && isFrom(r) && !protocolOf(r))) return 'edge-protocol';
  return named.some((r) => !ports(r) && isFrom(r) && protocolOf(r)) ? 'edge-port' : 'edge-none';
}

function shutFault(role: Role, ending: Filtered, isAnswer: boolean): FaultId {
  if (isAnswer) return 'host-output-deny';
  if (role === 'host')
    return ending.kind === 'rule' && refusesThePort(ending.rule) ? 'host-block-wins' : 'host-drop';
  if (ending.hook === 'forward') return ending.kind === 'rule' ? 'filter-order' : 'filter-missing';
  return role === 'edge' ? 'edge-none' : 'filter-missing';
}

/** A rule that names a port and ends its packets, unlike one at the end that drops the rest. */
const refusesThePort = ({ steps }: Rule): boolean =>
  steps.some((s) => s.do === 'match' && s.fields.some((f) => f.of === 'dport')) &&
  steps.some((s) => s.do === 'verdict' && (s.verdict.verdict === 'drop' || s.verdict.verdict === 'reject'));

/** The deciding rule may stand in a chain that was jumped to; a new rule goes right above it. */
function chainOf(ending: Filtered, program: Program | null, rule: Rule | null): Chain {
  const own = rule && program?.chains.find((chain) => chain.rules.some((r) => r.id === rule.id));
  return own ?? ending.chain;
}
