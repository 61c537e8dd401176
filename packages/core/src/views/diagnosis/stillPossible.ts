import type { AskKind } from '../../asks/index.ts';
import { FAULT_IDS, FAULTS, type FaultId, type FaultPlace } from '../../faults/index.ts';
import { serves } from '../../case/index.ts';
import { parseDialled } from '../../intake/index.ts';
import { answers, arrivalOf, diedOnReturn, type CaseFacts, type ReadFile } from '../../ledger/index.ts';
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
    (facts.files.some((f) => f.stop === stop && isWhole(f) && answers(f, ask)) ||
      (ask === 'sockets' && isListening) ||
      (ask === 'dial' && observations.length > 0));
  const ids = path.map((s) => s.id);
  const died = ids.indexOf(diedAt(facts));
  // What packets passed before they died is not what ends them; the test itself may mislead all the same.
  const isPassed = (stop: string, place: FaultPlace): boolean => place !== 'test' && ids.indexOf(stop) < died;
  return FAULT_IDS.flatMap((fault): Possible[] => {
    const { place, shownBy } = FAULTS[fault];
    if (TWO_ROUTERS.has(fault) && gateways < 2) return [];
    if (isByAddress && fault.startsWith('name-')) return [];
    return path
      .filter((s) => s.role === AT[place] && !isShown(s.id, shownBy) && !isPassed(s.id, place))
      .map((s) => ({ fault, place, stop: s.id, shownBy }));
  });
}

/** A part rules nothing out. */
const isWhole = ({ part, shows, covers }: ReadFile): boolean =>
  !part && shows.every((c) => covers.includes(c));

/** Where the client's packets were seen to die; empty: nowhere. */
function diedAt(facts: CaseFacts): string {
  const { client, service } = facts.document;
  const from = parseAddress(client?.address ?? '');
  const arrival =
    from && arrivalOf(facts, (transport, port) => serves(service?.endpoints, transport, port), from);
  return arrival?.died && !diedOnReturn(arrival.died) ? arrival.record.stop : '';
}
