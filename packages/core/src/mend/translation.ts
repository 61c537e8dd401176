import { writeEdited, type RuleEdit } from '../devices/index.ts';
import { visitsOf } from '../crossing/index.ts';
import type { FaultId } from '../faults/index.ts';
import {
  ADDRESS_LENGTH,
  addressSet,
  addressUnion,
  formatAddress,
  formatPorts,
  formatPrefix,
  hasAddress,
  isReachable,
  portSet,
  PROTOCOL,
  sameAddress,
  toPrefixes,
  type Address,
  type AddressSet,
  type Header,
  type PortSet,
} from '../net/index.ts';
import type { Chain, Rule, Step } from '../rules/index.ts';
import { audience, endMachine, serverOf, type MendContext } from './context.ts';
import type { Mend } from './mend.ts';
import { servedBy } from './rows.ts';
import { withSteps } from './scene.ts';

type Match = Extract<Step, { do: 'match' }>;
type Part = 'protocol' | 'port' | 'source' | 'address' | 'line';

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
  const leg = c.run.legs.filter((l) => l.stop === c.run.stop && l.lane === 'forward').pop();
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

const isTranslation = (s: Step): boolean => s.do === 'translate' && s.side === 'destination';

/** The one part of a rule that a packet misses; null: none, several, or one that is none of these. */
function onlyMismatch({ steps }: Rule, packet: Header, device: string | null): Part | null {
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

const holdsNumber = (step: Match, n: number): boolean =>
  step.rows.some(([v]) => v?.type === 'numbers' && v.set.some((i) => n >= i.first && n <= i.last));
const addressesOf = (step: Match): AddressSet =>
  addressUnion(...step.rows.flatMap(([v]) => (v?.type === 'addresses' ? [v.set] : [])));
const holdsAddress = (step: Match, a: Address): boolean => hasAddress(addressesOf(step), a);
const portsOf = (step: Match): PortSet =>
  portSet(...step.rows.flatMap(([v]) => (v?.type === 'numbers' ? [...v.set] : [])));

function leadsTo({ steps }: Rule, to: Address | null, c: MendContext): boolean {
  const found = steps.find((s) => s.do === 'translate');
  if (found?.do !== 'translate' || !('addresses' in found.target)) return false;
  const { addresses, ports } = found.target;
  const server = serverOf(c)?.address;
  // Where nobody knows the server, its port tells: a gateway further in may filter and not translate.
  const isUnknown = server === undefined && ports !== null;
  const isRight = (a: Address): boolean =>
    isUnknown || [to, server].some((own) => own && sameAddress(a, own));
  if (!addresses || !isRight(addresses.first)) return false;
  const wanted = c.scene.packet.destination.port;
  // Without ports of its own it keeps the port that it takes: then it is for a neighbour in the same range.
  return ports ? wanted >= ports.first && wanted <= ports.last : isOfService(steps, c);
}

const isOfService = (steps: readonly Step[], { facts }: MendContext): boolean => {
  const endpoints = facts.document.service?.endpoints ?? [];
  return steps.some(
    (s) =>
      s.do === 'match' &&
      s.fields[0]?.of === 'dport' &&
      endpoints.some((e) => portsOf(s).some((p) => p.first <= (e.portEnd ?? e.port) && p.last >= e.port)),
  );
};

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

interface PartChange {
  readonly now: string;
  readonly mended: string;
  readonly edit: RuleEdit;
  readonly steps: (steps: readonly Step[]) => Step[];
}

const isOn = (s: Step, of: string): s is Match =>
  s.do === 'match' && s.fields.length === 1 && s.fields[0]?.of === of;

function changeOf(c: MendContext, rule: Rule, part: Part, packet: Header): PartChange {
  const { transport, destination } = packet;
  const first = (of: string): Match | undefined => rule.steps.find((s): s is Match => isOn(s, of));
  const without = (of: string) => (steps: readonly Step[]) => steps.filter((s) => !isOn(s, of));
  switch (part) {
    case 'protocol':
      return {
        now: transport === 'tcp' ? 'UDP' : 'TCP',
        mended: transport.toUpperCase(),
        edit: { edit: 'protocol', to: transport },
        steps: (steps) => steps.map((s) => withProtocol(s, PROTOCOL[transport])),
      };
    case 'port': {
      const now = first('dport');
      const old = now ? portsOf(now) : [];
      const ports = isOfService(rule.steps, c)
        ? portSet(...old, { first: destination.port, last: destination.port })
        : [{ first: destination.port, last: destination.port }];
      return {
        now: formatPorts(old),
        mended: formatPorts(ports),
        edit: { edit: 'port', to: ports },
        steps: (steps) =>
          steps.map((s) => (isOn(s, 'dport') ? { ...s, rows: [[{ type: 'numbers', set: ports }]] } : s)),
      };
    }
    case 'source': {
      const old = first('source');
      const wanted = audience(c);
      const set = wanted ? addressUnion(addressSet(...wanted), ...(old ? [addressesOf(old)] : [])) : null;
      const prefixes = set && toPrefixes(set);
      return {
        now: old ? toPrefixes(addressesOf(old)).map(formatPrefix).join(', ') : 'anyone',
        mended: prefixes ? prefixes.map(formatPrefix).join(', ') : 'anyone',
        edit: { edit: 'source', to: prefixes },
        steps: (steps) =>
          steps.flatMap((s): Step[] => {
            if (!isOn(s, 'source')) return [s];
            return set ? [{ ...s, rows: [[{ type: 'addresses', set }]] }] : [];
          }),
      };
    }
    case 'address': {
      const old = first('destination');
      const length = ADDRESS_LENGTH[destination.address.family];
      const set = addressSet({ ...destination.address, length });
      return {
        now: old ? toPrefixes(addressesOf(old)).map(formatPrefix).join(', ') : 'any',
        mended: formatAddress(destination.address),
        edit: { edit: 'address', to: destination.address },
        steps: (steps) =>
          steps.map((s) => (isOn(s, 'destination') ? { ...s, rows: [[{ type: 'addresses', set }]] } : s)),
      };
    }
    case 'line': {
      const old = first('in')?.rows.flatMap(([v]) => (v?.type === 'names' ? v.names : [])) ?? [];
      return { now: old.join(', '), mended: 'any line', edit: { edit: 'line' }, steps: without('in') };
    }
  }
}

function withProtocol(step: Step, protocol: number): Step {
  if (step.do !== 'match' || step.fields.length !== 1) return step;
  const [field] = step.fields;
  if (field?.of === 'protocol')
    return { ...step, rows: [[{ type: 'numbers', set: [{ first: protocol, last: protocol }] }]] };
  if (field?.of === 'dport' && field.protocol !== null) return { ...step, fields: [{ ...field, protocol }] };
  return step;
}
