import type { AskKind } from '../../asks/index.ts';
import { FAULT_IDS, FAULTS, type FaultId, type FaultPlace } from '../../faults/index.ts';
import { parseDialled } from '../../intake/index.ts';
import { answers, cameTo, type CaseFacts } from '../../ledger/index.ts';
import { parseAddress } from '../../net/index.ts';
import type { Role } from '../../site/index.ts';

/** A kind of fault that nothing has ruled out yet, at a stop. */
export interface Possible {
  readonly fault: FaultId;
  readonly place: FaultPlace;
  readonly stop: string;
  /** What would show it; null: nothing that is printed does. */
  readonly shownBy: AskKind | null;
}

/** At which kind of stop the faults of a place are. */
const AT: Readonly<Record<FaultPlace, Role>> = {
  dialled: 'client',
  carrier: 'carrier',
  gateway: 'gateway',
  perimeter: 'edge',
  host: 'host',
  program: 'host',
  test: 'client',
  anywhere: 'host',
};

/** Faults of ways with two routers, and of clients inside. */
const TWO_ROUTERS: ReadonlySet<FaultId> = new Set(['outer-missing', 'inner-missing']);

/**
 * Every kind of fault that can be at a stop of the case's way and of which nothing was shown yet. What was
 * shown is right, or is found: neither is open any more.
 */
export function stillPossible(facts: CaseFacts): Possible[] {
  const { path, observations = [] } = facts.document;
  const gateways = path.filter((s) => s.role === 'gateway').length;
  const isByAddress = parseAddress(parseDialled(facts.document.client?.dials ?? '')?.host ?? '') !== null;
  // Who was answered beside the server has shown that the program listens.
  const isListening = observations.some(
    (o) => (o.vantage === 'lan' || o.vantage === 'host') && o.outcome === 'answered' && !o.other,
  );
  const isShown = (stop: string, ask: AskKind | null): boolean =>
    ask !== null &&
    (facts.files.some((f) => f.stop === stop && !f.part && answers(f, ask)) ||
      (ask === 'sockets' && isListening) ||
      (ask === 'dial' && observations.length > 0));
  const ids = path.map((s) => s.id);
  const came = ids.indexOf(cameToStop(facts));
  // What packets were seen to pass is not what ends them; the test itself may mislead all the same.
  const isPassed = (stop: string, place: FaultPlace): boolean => place !== 'test' && ids.indexOf(stop) < came;
  return FAULT_IDS.flatMap((fault): Possible[] => {
    const { place, shownBy } = FAULTS[fault];
    if (TWO_ROUTERS.has(fault) && gateways < 2) return [];
    if (isByAddress && fault.startsWith('name-')) return [];
    return path
      .filter((s) => s.role === AT[place] && !isShown(s.id, shownBy) && !isPassed(s.id, place))
      .map((s) => ({ fault, place, stop: s.id, shownBy }));
  });
}

/** The farthest stop at which the client's packets to the service were seen; empty: nowhere. */
function cameToStop(facts: CaseFacts): string {
  const { client, service } = facts.document;
  const from = parseAddress(client?.address ?? '');
  const isServed = (transport: string, port: number): boolean =>
    (service?.endpoints ?? []).some(
      (e) => e.protocol === transport && port >= e.port && port <= (e.portEnd ?? e.port),
    );
  return (from && cameTo(facts, isServed, from)?.stop) ?? '';
}
