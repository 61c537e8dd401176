import type { CaseFacts } from '../evidence/index.ts';
import type { Site } from '../site/index.ts';
import { endpointProposals } from './endpoints.ts';
import { foundStops } from './foundStops.ts';
import { clientProposals, typedProposals } from './misread.ts';
import { sameMachines } from './sameMachine.ts';
import type { Proposal } from './types.ts';

export { accept, dismiss } from './apply.ts';
export { foundStops } from './foundStops.ts';
export type { ClientProposal, EndpointProposal, Proposal, SameMachineProposal, StopProposal, StopReason, TypedProposal } from './types.ts';

/** All that the evidence suggests about the case itself, what changes the way of the packet first. */
export function proposals(facts: CaseFacts, site: Site): Proposal[] {
  return [...foundStops(facts, site), ...typedProposals(facts), ...clientProposals(facts), ...endpointProposals(facts), ...sameMachines(facts, site)];
}
