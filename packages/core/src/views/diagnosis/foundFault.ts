import type { FaultId } from '../../faults/index.ts';
import type { SourceRef } from '../../place/index.ts';

/** A fault that was found, how likely it is, and on what that rests. */
export interface FoundFault {
  readonly id: FaultId;
  readonly stop: string;
  readonly probability: number;
  readonly text: string;
  readonly evidence: readonly SourceRef[];
}
