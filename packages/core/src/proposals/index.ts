export { accept, dismiss } from './apply.ts';
export { foundStops } from './foundStops.ts';
export type {
  ClientProposal,
  LoggedProposal,
  EndpointProposal,
  Proposal,
  SameMachineProposal,
  StopProposal,
  TypedProposal,
} from './types.ts';
export { proposals } from './proposals.ts';
