import type { PathStop, ServiceEndpoint, StopReason } from '../case/index.ts';
import type { SourceRef } from '../place/index.ts';

interface Common {
  /** Stands in `dismissed` of the case once the technician has said no. */
  readonly id: string;
  readonly evidence: readonly SourceRef[];
}

/** A stop that the evidence shows and the path lacks; `before` null: at the inner end. */
export interface StopProposal extends Common {
  readonly kind: 'stop';
  readonly stop: PathStop;
  readonly before: string | null;
  readonly reason: StopReason;
}

/** A port that a program is set to and that the service lacks. */
export interface EndpointProposal extends Common {
  readonly kind: 'endpoint';
  readonly endpoints: readonly ServiceEndpoint[];
  /** What says so, for people. */
  readonly program: string;
  /** The one endpoint of the case that it would replace; null: it is added. */
  readonly instead: ServiceEndpoint | null;
  /** The configuration does not say whether it is TCP or UDP. */
  readonly protocolUnsaid: boolean;
}

/** Somebody came to the service's port whose address is not the one that was written down for the client. */
export interface ClientProposal extends Common {
  readonly kind: 'client-address';
  /** null: nobody has said it. */
  readonly written: string | null;
  readonly seen: string;
  /** How what was written is a slip of the pen for what came; null: it is none. */
  readonly slip: string | null;
}

/** A port to which somebody came, as a log tells, and that the service lacks. */
export interface LoggedProposal extends Common {
  readonly kind: 'logged-port';
  readonly endpoint: ServiceEndpoint;
  readonly stop: string;
  readonly from: string;
  readonly count: number;
  readonly isKeptOut: boolean;
}

/** A typed value that a printed one contradicts by a slip of the pen. */
export interface TypedProposal extends Common {
  readonly kind: 'typed-slip';
  readonly stop: string;
  readonly file: string;
  readonly typed: string;
  readonly printed: string;
  readonly slip: string;
}

/** Two stops of the path are one machine. */
export interface SameMachineProposal extends Common {
  readonly kind: 'same-machine';
  /** The one that stays, and the one that goes into it. */
  readonly stop: string;
  readonly other: string;
  readonly by: { readonly mac: string } | { readonly address: string };
}

/**
 * Something that the evidence suggests about the case itself; nothing of it counts before the technician
 * takes it.
 */
export type Proposal =
  StopProposal | EndpointProposal | LoggedProposal | ClientProposal | TypedProposal | SameMachineProposal;
