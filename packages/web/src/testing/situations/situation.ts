import type { CaseDocument } from '@bright-ferry/core/case';
import { caseFromIntake, readComplaint } from '@bright-ferry/core/intake';
import type { Pieces } from '../pieces.ts';

/**
 * What people send in the situations that the product has to master, as they send it: the complaint in one
 * line, and pieces in any order with the stop that each is from.
 */
export interface Situation {
  readonly title: string;
  readonly complaint: string;
  /** What the technician says of the way; missing: as a new case has it. */
  readonly way?: 'rented';
  /** Whether the technician says that the pieces are all that there is. */
  readonly whole?: true;
  readonly pieces: Pieces;
  /** What the headline says when all is in. */
  readonly seen: RegExp;
  /** What is warned of, in red. */
  readonly warned?: RegExp;
  /** What is said of the connection after the first one. */
  readonly then?: RegExp;
}

/** The case that the complaint of a situation opens, with the way that the technician says. */
export function openedBy({ complaint, way }: Situation, now: string): CaseDocument {
  const document = caseFromIntake(readComplaint(complaint), now);
  return way === undefined
    ? document
    : {
        ...document,
        path: document.path.map((s) => (s.role === 'gateway' ? { id: 'edge', role: 'edge' as const } : s)),
      };
}
