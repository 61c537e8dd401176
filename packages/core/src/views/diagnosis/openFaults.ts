import { settingsOfKind } from '../../case/index.ts';
import type { Trace } from '../../crossing/index.ts';
import type { FaultId } from '../../faults/index.ts';
import { sameProgram } from '../../devices/index.ts';
import { factsOf, type CaseFacts } from '../../ledger/index.ts';
import {
  formatAddress,
  isReachable,
  prefixContains,
  prefixOf,
  sameAddress,
  type Address,
} from '../../net/index.ts';
import type { Need } from '../../rules/index.ts';
import { listedPolicy, type Machine, type Site } from '../../site/index.ts';
import { aimOf } from '../bench/packet.ts';
import { needLine, shownFaultText, type StopNames } from '../../words/index.ts';
import type { FoundFault } from './foundFault.ts';
import { isMappingOff } from './healthyZones.ts';

/** What is likely wrong where the crossing hangs on something that works in one way alone. */
const LIKELY = 0.8;
/** What may as well be right: a row that is narrowed in a way nobody can read, a router nobody has shown. */
const EVEN = 0.5;
/** What nobody can read off, and is right as a rule. */
const SELDOM = 0.1;
/** What only fits to what was seen. */
const FITS = 0.6;

interface Suspect {
  readonly id: FaultId;
  readonly probability: number;
  readonly stop: string;
}

/** A need whose unhealthy answer is a fault by itself; null where it may be anything. */
function suspectOf(need: Need, facts: CaseFacts): Suspect | null {
  if (need.need === 'holder') {
    const role = facts.document.path.find((s) => s.id === need.stop)?.role;
    if (role === 'host') return { id: 'host-wrong-gateway', stop: need.stop, probability: EVEN };
    // Another machine is said to hold the address that the server holds as well.
    const server = facts.document.path.find((s) => s.role === 'host')?.id;
    return server !== undefined && need.mac !== null && holdsAddress(facts, server, need.address)
      ? { id: 'host-duplicate', stop: server, probability: FITS }
      : null;
  }
  if (need.need !== 'condition') return null;
  const { doubt, stop } = need;
  switch (doubt.doubt) {
    case 'later-row-claims':
      return { id: 'fwd-clash', stop, probability: LIKELY };
    // What listens was shown, and only under its name: whether it is the file that the row names stays open.
    case 'port-of-program':
      if (blocksListener(facts, stop)) return { id: 'host-block-wins', stop, probability: LIKELY };
      return factsOf(facts, 'socket').some((s) => s.stop === stop)
        ? { id: 'host-program', stop, probability: SELDOM }
        : null;
    case 'group-members':
      return { id: 'edge-group-only', stop, probability: LIKELY };
    case 'portal-not-known':
      return { id: 'carrier-portal', stop, probability: LIKELY };
    case 'narrowed':
      return /\d{1,2}:\d\d|day|hour|week|night/i.test(doubt.text)
        ? { id: 'time-limited', stop, probability: LIKELY }
        : { id: 'fwd-line', stop, probability: EVEN };
    default:
      return null;
  }
}

/** Its firewall for programs blocks one that has the name of one that listens. */
const blocksListener = (facts: CaseFacts, stop: string): boolean =>
  factsOf(facts, 'application').some(
    ({ stop: at, fact }) =>
      at === stop &&
      !fact.value.allow &&
      factsOf(facts, 'socket').some(
        (s) => s.stop === stop && s.fact.processes.some((p) => sameProgram(p.name, fact.value.app)),
      ),
  );

const holdsAddress = (facts: CaseFacts, stop: string, address: Address): boolean =>
  factsOf(facts, 'address').some((a) => a.stop === stop && a.fact.address === formatAddress(address));

/** Faults that an open crossing points to. */
export function openFaults(facts: CaseFacts, trace: Trace, names: StopNames): FoundFault[] {
  const { ending, stop } = trace.shown;
  if (ending.kind === 'left-by-tunnel' && stop !== null)
    return [
      {
        id: 'host-asymmetric',
        stop,
        probability: LIKELY,
        text: shownFaultText('host-asymmetric', ending.interface),
        evidence: [],
      },
    ];
  for (const { need } of trace.needs) {
    const found = suspectOf(need, facts);
    if (found) return [{ ...found, text: needLine(need, names), evidence: [] }];
  }
  return [];
}

/**
 * A router sends what was forwarded to an address that is on the inside network of another one and on none of
 * its own: a route might lead there, and plain routers have none.
 */
export function pastNextGateway(site: Site, { needs }: Trace): FoundFault[] {
  return needs.flatMap(({ need }): FoundFault[] => {
    if (need.need !== 'holder' || isReachable(need.address)) return [];
    const own = site.machines.find((m) => m.id === need.stop);
    const isInner = (m: Machine): boolean => m !== own && m.role === 'gateway' && isInside(m, need.address);
    if (own?.role !== 'gateway' || isInside(own, need.address) || !site.machines.some(isInner)) return [];
    const text = shownFaultText('fwd-target-typo', formatAddress(need.address));
    return [{ id: 'fwd-target-typo', stop: own.id, probability: LIKELY, text, evidence: [] }];
  });
}

const isInside = ({ interfaces }: Machine, address: Address): boolean =>
  (interfaces ?? []).some((i) =>
    i.addresses.some((a) => prefixContains(prefixOf(a.address, a.prefixLength), address)),
  );

/** A mapping of the very address that was dialled, switched off, or with its sides exchanged. */
export function mappingOff(facts: CaseFacts): FoundFault | null {
  const dialled = aimOf(facts).address;
  const off = dialled && factsOf(facts, 'address-mapping').find((m) => isMappingOff(m.fact, dialled));
  if (!dialled) return null;
  if (!off) return filledInMapping(facts, dialled);
  const text = shownFaultText('fwd-disabled', formatAddress(dialled));
  return { id: 'fwd-disabled', stop: off.stop, probability: LIKELY, text, evidence: [off.source] };
}

/** The same in a firewall that somebody filled in. */
function filledInMapping({ document }: CaseFacts, dialled: Address): FoundFault | null {
  const text = formatAddress(dialled);
  for (const stop of document.path)
    for (const t of settingsOfKind(stop, 'zone-firewall')?.translations ?? []) {
      if (t.type !== 'one-to-one') continue;
      const own = { stop: stop.id, probability: LIKELY, evidence: [] };
      if (t.outside === text && t.enabled === false)
        return { ...own, id: 'fwd-disabled', text: shownFaultText('fwd-disabled', text) };
      if (t.inside === text && t.enabled !== false)
        return { ...own, id: 'static-inside-out', text: shownFaultText('static-inside-out', text) };
    }
  return null;
}

const USUAL_TABLES: ReadonlySet<string> = new Set(['local', 'main', 'default']);

/** Two lines outward, and the address that was dialled is on the one by which answers do not leave. */
export function otherLineFault(site: Site, dialled: Address): FoundFault[] {
  return site.machines.flatMap((m): FoundFault[] => {
    // By a table of its own answers may leave by the line that they came by.
    if (listedPolicy(m, 4).some((rule) => !USUAL_TABLES.has(rule.table))) return [];
    const line = m.routes[4]?.find((r) => r.destination.length === 0 && r.table === 'main')?.hops[0]?.device;
    const outward = (m.interfaces ?? []).filter((i) => i.addresses.some((a) => isReachable(a.address)));
    const own = outward.find((i) => i.addresses.some((a) => sameAddress(a.address, dialled)));
    if (m.role !== 'gateway' || outward.length < 2 || !own || !line || own.name === line) return [];
    return [
      {
        id: 'wan-other-line',
        stop: m.id,
        probability: FITS,
        text: shownFaultText('wan-other-line', line),
        evidence: [],
      },
    ];
  });
}
