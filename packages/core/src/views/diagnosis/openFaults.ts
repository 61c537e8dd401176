import type { Trace } from '../../crossing/index.ts';
import type { FaultId } from '../../faults/index.ts';
import type { CaseFacts } from '../../ledger/index.ts';
import { isReachable, sameAddress, type Address } from '../../net/index.ts';
import type { Need } from '../../rules/index.ts';
import type { Site } from '../../site/index.ts';
import { needLine, shownFaultText, type StopNames } from '../../words/index.ts';
import type { FoundFault } from './foundFault.ts';

/** What is likely wrong where the crossing hangs on something that works in one way alone. */
const LIKELY = 0.8;
/** What may as well be right: a row that is narrowed in a way nobody can read, a router nobody has shown. */
const EVEN = 0.5;
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
    return role === 'host' ? { id: 'host-wrong-gateway', stop: need.stop, probability: EVEN } : null;
  }
  if (need.need !== 'condition') return null;
  const { doubt, stop } = need;
  switch (doubt.doubt) {
    case 'later-row-claims':
      return { id: 'fwd-clash', stop, probability: LIKELY };
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

/** Two lines outward, and the address that was dialled is on the one by which answers do not leave. */
export function otherLineFault(site: Site, dialled: Address): FoundFault[] {
  return site.machines.flatMap((m): FoundFault[] => {
    const line = m.routes[4]?.find((r) => r.destination.length === 0)?.hops[0]?.device;
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
