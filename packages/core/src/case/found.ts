import type { SourceRef } from '../place/index.ts';

/** Why a stop stands on the way that nobody has named. */
export type StopReason =
  | { readonly by: 'private-wan'; readonly gateway: string; readonly address: string }
  | { readonly by: 'shared-wan'; readonly gateway: string; readonly address: string }
  | { readonly by: 'hops'; readonly address: string }
  | { readonly by: 'tunnel-route'; readonly machine: string; readonly device: string }
  | { readonly by: 'container'; readonly machine: string; readonly address: string; readonly device: string }
  | { readonly by: 'provider'; readonly machine: string; readonly address: string }
  | { readonly by: 'inner-router'; readonly machine: string; readonly via: string; readonly gateway: string };

/** How a stop came onto the path that the evidence showed and nobody had named. */
export interface FoundStop {
  /** Stands in `dismissed` of the case once the technician has said no. */
  readonly id: string;
  readonly reason: StopReason;
  readonly evidence: readonly SourceRef[];
}
