import { blockedBy, writeDestination, writeOff, writeRule, type RuleWish } from '../devices/index.ts';
import { visitsOf } from '../crossing/index.ts';
import { ADDRESS_LENGTH, addressSet, hasAddress, PROTOCOL, sameAddress, toPrefixes } from '../net/index.ts';
import type { SourceRef } from '../place/index.ts';
import type { Chain, Rule } from '../rules/index.ts';
import { audience, endMachine, lastLeg, type MendContext } from './context.ts';
import { hostRowMend } from './hostRows.ts';
import type { Mend } from './mend.ts';
import { servedBy } from './rows.ts';
import { withoutRow, withProgram, withRule, withSteps } from './scene.ts';
import { stepsOf } from './steps.ts';
import { chainOf, edgeFault, refusesThePort, shutFault } from './filterFault.ts';
import { slippedFrom, SOURCE_FAULT, sourceMend } from './filterSource.ts';
import {
  accepts,
  type Filtered,
  type NearMiss,
  isDestinationMatch,
  isOnPort,
  isSourceMatch,
  servesMore,
} from './filterMatch.ts';

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
  if (near) return narrowed(c, ending, near) ?? sourceMend(c, ending, near);
  const allow = allowMend(c, ending);
  return (allow && hostRowMend(c, ending, allow)) ?? allow;
}

/**
 * A rule that lets somebody else in to other ports as well is not made wider for the service: it gets one of
 * its own. A slip of the pen in it is put right all the same. Null: the rule is for the service alone.
 */
function narrowed(c: MendContext, ending: Filtered, { rule, allowed }: NearMiss): Mend | null {
  const { source } = c.scene.packet;
  const role = endMachine(c)?.role ?? 'host';
  if (slippedFrom(allowed, source.address) || !servesMore(rule, c)) return null;
  const own = allowMend(c, ending);
  return own && { ...own, fault: SOURCE_FAULT[role] ?? own.fault };
}

function nearMiss(c: MendContext, ending: Filtered): NearMiss | null {
  const leg = lastLeg(c, c.run.direction);
  const protocol = PROTOCOL[c.scene.packet.transport];
  if (!leg) return null;
  for (const { hook, visit } of visitsOf(leg)) {
    if (hook !== ending.hook || visit.hit || visit.missed?.field.of !== 'source') continue;
    const { rule } = visit;
    const source = rule.steps.find(isSourceMatch);
    if (!accepts(rule) || !source || !isOnPort(rule, protocol, leg.before.destination.port)) continue;
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
  const leg = lastLeg(c);
  if (!leg || !machine || stop === null || run.direction !== 'forward') return null;
  const dialled = leg.before.destination;
  const turned = leg.events.find((e) => e.event === 'translated' && e.side === 'destination');
  if (turned?.event !== 'translated' || sameAddress(turned.to.address, dialled.address)) return null;
  const { family } = dialled.address;
  for (const { hook, visit } of visitsOf(leg)) {
    if (hook !== 'forward' || visit.hit || visit.missed?.field.of !== 'destination') continue;
    const { rule } = visit;
    const names = rule.steps.find(isDestinationMatch);
    const isMeant = names?.rows.some(
      ([set]) => set?.type === 'addresses' && hasAddress(set.set, dialled.address),
    );
    if (!accepts(rule) || !isMeant || !isOnPort(rule, PROTOCOL[scene.packet.transport], turned.to.port))
      continue;
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

function allowMend(c: MendContext, ending: Filtered): Mend | null {
  const { stop } = c.run;
  const machine = endMachine(c);
  if (stop === null || !machine) return null;
  const leg = lastLeg(c, c.run.direction);
  const header = leg?.after ?? c.scene.packet;
  const isAnswer = ending.hook === 'output' || c.run.direction === 'reply';
  const { family } = header.source.address;
  const above = ending.kind === 'rule' ? ending.rule : null;
  const chain = chainOf(ending, machine.program[family], above);
  const { program } = chain.origin;
  if (above && program === 'profiles' && refusesThePort(above)) return unblockMend(c, stop, above, chain);
  if (above && program === 'applications') return programMend(c, stop, above, chain);
  const wish: RuleWish = {
    family,
    transport: c.scene.packet.transport,
    peers: audience(c),
    destination: null,
    port: isAnswer ? header.source.port : header.destination.port,
    side: isAnswer ? 'answer' : 'question',
    then: { do: 'accept' },
  };
  const id = `mend/allow/${wish.transport}/${wish.port}`;
  const written = writeRule(wish, { chain, above });
  const rule: Rule = { id, text: written?.text ?? id, source: null, steps: stepsOf(wish) };
  return {
    fault: machine.role === 'edge' ? edgeFault(c, isAnswer) : shutFault(machine.role, ending, isAnswer),
    stop,
    finding: {
      found: 'not-allowed',
      chain: ending.chain,
      rule: above,
      wish,
      written,
      ...(ending.further ? { further: true } : {}),
    },
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

/** A firewall for programs takes no rules: a program is let in by its own row, and by the switch for all. */
function programMend(c: MendContext, stop: string, rule: Rule, chain: Chain): Mend | null {
  const app = blockedBy(rule);
  if (app === undefined) return null;
  const { family } = c.scene.packet.source.address;
  return {
    fault: 'host-block-wins',
    stop,
    finding: { found: 'program-blocked', app, served: servedBy(c), written: writeOff(rule, chain) },
    evidence: rule.source ? [rule.source] : [],
    apply: (scene) =>
      app === null
        ? withProgram(scene, stop, family, (p) => withoutRow(p, rule))
        : withSteps(scene, stop, family, rule, (steps) => [
            ...steps.filter((s) => s.do !== 'verdict'),
            ACCEPT,
          ]),
  };
}

const ACCEPT = { do: 'verdict', verdict: { verdict: 'accept' } } as const;

function placesOf(ending: Filtered): SourceRef[] {
  const source = ending.kind === 'rule' ? (ending.rule.source ?? ending.chain.source) : ending.chain.source;
  return source ? [source] : [];
}
