import type { FaultId } from '../faults/index.ts';
import type { SourceRef } from '../place/index.ts';
import type { Scene } from './scene.ts';

/** One value to enter: what stands there now, and what belongs there. */
export interface ValueChange {
  readonly label: string;
  readonly now: string | null;
  readonly mended: string;
}

/** A change that removes one fault, with exact values. */
export interface Mend {
  /** Id of the fault that it removes (the catalogue of faults). */
  readonly fault: FaultId;
  readonly stop: string;
  /** What is wrong, in one sentence without the stop's name in front. */
  readonly wrong: string;
  /** What to do, as a heading. */
  readonly title: string;
  /** Which device and which table or file. */
  readonly where: string;
  readonly values: readonly ValueChange[];
  /** Commands for open systems; empty where there are none. */
  readonly commands: readonly string[];
  /** What belongs to it besides: reserve the lease, save the rules. */
  readonly also: string | null;
  /** What the change lets in that was kept out before. */
  readonly opens: string;
  readonly evidence: readonly SourceRef[];
  /** Carries the change out on a copy. null: it cannot be rehearsed. */
  readonly apply: ((scene: Scene) => Scene) | null;
}
