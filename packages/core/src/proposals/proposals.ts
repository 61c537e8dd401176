import type { CaseFacts } from '../ledger/index.ts';
import type { Site } from '../site/index.ts';
import { endpointProposals } from './endpoints.ts';
import { foundStops } from './foundStops.ts';
import { loggedProposals } from './logged.ts';
import { clientProposals, typedProposals } from './misread.ts';
import { sameMachines } from './sameMachine.ts';
import type { Proposal } from './types.ts';

/** All that the evidence suggests about the case itself, what changes the way of the packet first. */
export function proposals(facts: CaseFacts, site: Site): Proposal[] {
  return [
    ...foundStops(facts, site),
    ...typedProposals(facts),
    ...clientProposals(facts),
    ...endpointProposals(facts),
    ...loggedProposals(facts),
    ...sameMachines(facts, site),
  ];
}
