import { withDismissed, withJoined, withNewStop, withoutEvidence, type CaseDocument } from '../case/index.ts';
import type { EndpointProposal, Proposal } from './types.ts';

/** The case with a proposal taken. Pure; what it leaves out of a document stays in its history. */
export function accept(document: CaseDocument, proposal: Proposal): CaseDocument {
  switch (proposal.kind) {
    case 'stop': {
      const { id, reason, evidence } = proposal;
      return withNewStop(document, { ...proposal.stop, found: { id, reason, evidence } }, proposal.before);
    }
    case 'endpoint':
      return withEndpoints(document, proposal);
    case 'logged-port':
      return withEndpoints(document, { instead: null, endpoints: [proposal.endpoint] });
    case 'client-address':
      return { ...document, client: { ...document.client, address: proposal.seen } };
    case 'typed-slip':
      return withoutEvidence(document, proposal.file);
    case 'same-machine':
      return withJoined(document, proposal.stop, proposal.other);
  }
}

export const dismiss = withDismissed;

function withEndpoints(
  document: CaseDocument,
  { instead, endpoints }: Pick<EndpointProposal, 'instead' | 'endpoints'>,
): CaseDocument {
  const kept = (document.service?.endpoints ?? []).filter(
    (e) => !instead || e.protocol !== instead.protocol || e.port !== instead.port,
  );
  return { ...document, service: { ...document.service, endpoints: [...kept, ...endpoints] } };
}
