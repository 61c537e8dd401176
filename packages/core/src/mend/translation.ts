import { writeEdited } from '../devices/index.ts';
import { visitsOf } from '../crossing/index.ts';
import type { FaultId } from '../faults/index.ts';
import { isReachable, PROTOCOL, toPrefixes, type Address, type Header } from '../net/index.ts';
import type { Chain, Rule } from '../rules/index.ts';
import { endMachine, lastLeg, serverOf, type MendContext } from './context.ts';
import type { Mend } from './mend.ts';
import { servedBy } from './rows.ts';
import { withSteps } from './scene.ts';
import { changeOf } from './translationChange.ts';
import {
  addressesOf,
  holdsAddress,
  holdsNumber,
  isOfService,
  isTranslation,
  leadsTo,
  type Match,
  type Part,
} from './translationParts.ts';

interface Near {
  readonly rule: Rule;
  readonly chain: Chain;
  /** The one part that does not agree with the packet. */
  readonly part: Part;
}

/**
 * A translation of the gateway's packet filter that takes the packet but for one thing: its protocol, its
 * port, whom it is for, or the address or line that it is bound to.
 * @param to where the service is
 */
export function nearTranslation(c: MendContext, to: Address | null): Mend | null {
  const machine = endMachine(c);
  const { family } = c.scene.packet.destination.address;
  const leg = lastLeg(c);
  if (!machine || !leg) return null;
  for (const { hook, visit } of visitsOf(leg)) {
    if (hook !== 'prerouting' || visit.hit || !visit.rule.steps.some(isTranslation)) continue;
    const { id } = visit.rule;
    const chain = machine.program[family]?.chains.find((ch) => ch.rules.some((r) => r.id === id));
    const part = onlyMismatch(visit.rule, leg.before, leg.in);
    if (!chain || part === null) continue;
    // A port of its own belongs to another service, unless it leads to this one.
    if (part === 'port' && !leadsTo(visit.rule, to, c)) continue;
    return mended(c, { rule: visit.rule, chain, part }, leg.before);
  }
  return null;
}

/** The one part of a rule that a packet misses; null: none, several, or one that is none of these. */
export function onlyMismatch({ steps }: Rule, packet: Header, device: string | null): Part | null {
  const parts = new Set<Part>();
  for (const step of steps) {
    if (step.do === 'unmodelled-match') return null;
    if (step.do !== 'match') continue;
    for (const part of missedBy(step, packet, device)) parts.add(part);
    if (step.fields.length !== 1 && parts.size === 0) return null;
  }
  const [only] = parts;
  return parts.size === 1 && only !== undefined ? only : null;
}

function missedBy(step: Match, packet: Header, device: string | null): Part[] {
  const [field] = step.fields;
  if (!field || step.fields.length !== 1 || step.negate) return [];
  const protocol = PROTOCOL[packet.transport];
  switch (field.of) {
    case 'protocol':
      return holdsNumber(step, protocol) ? [] : ['protocol'];
    case 'dport': {
      const isOther = field.protocol !== null && field.protocol !== protocol;
      const isPort = holdsNumber(step, packet.destination.port);
      return [...(isOther ? (['protocol'] as const) : []), ...(isPort ? [] : (['port'] as const))];
    }
    case 'source':
      return holdsAddress(step, packet.source.address) ? [] : ['source'];
    case 'destination':
      return holdsAddress(step, packet.destination.address) ? [] : ['address'];
    case 'in':
      return step.rows.some(([v]) => v?.type === 'names' && device !== null && v.names.includes(device))
        ? []
        : ['line'];
    default:
      return [];
  }
}

const FAULT: Readonly<Record<Part, FaultId>> = {
  protocol: 'fwd-protocol',
  port: 'fwd-outside-port',
  source: 'fwd-source',
  address: 'fwd-wan-literal',
  line: 'fwd-line',
};

function mended(c: MendContext, { rule, chain, part }: Near, packet: Header): Mend | null {
  const { stop } = c.run;
  if (stop === null) return null;
  const { family } = packet.destination.address;
  const change = changeOf(c, rule, part, packet);
  return {
    fault: faultOf(c, rule, part),
    stop,
    finding: {
      found: 'translation-near',
      part,
      rule,
      chain,
      served: servedBy(c),
      now: change.now,
      mended: change.mended,
      written: writeEdited(rule, chain, change.edit, servedBy(c)),
    },
    evidence: rule.source ? [rule.source] : [],
    apply: (scene) => withSteps(scene, stop, family, rule, change.steps),
  };
}

/** A rule for other ports of the service misses this one; one for a line's address is bound to that line. */
function faultOf(c: MendContext, { steps }: Rule, part: Part): FaultId {
  if (part === 'port' && isOfService(steps, c)) return 'fwd-range';
  if (part !== 'address') return FAULT[part];
  const bound = steps.find((s): s is Match => s.do === 'match' && s.fields[0]?.of === 'destination');
  const server = serverOf(c)?.address;
  // The address behind it stands where the outside one belongs.
  const isServers = server !== undefined && bound !== undefined && holdsAddress(bound, server);
  const isInside = bound && toPrefixes(addressesOf(bound)).every((p) => !isReachable(p));
  if (isServers || (isInside && isReachable(c.scene.packet.destination.address))) return 'static-inside-out';
  const isHeld = endMachine(c)?.interfaces?.some((i) =>
    i.addresses.some((a) => bound && holdsAddress(bound, a.address)),
  );
  return isHeld ? 'fwd-line' : FAULT.address;
}
