import type { CaseDocument } from './document.ts';

/** Whether the technician has said no to a proposal. */
export const isDismissed = (document: CaseDocument, id: string): boolean =>
  document.dismissed?.includes(id) ?? false;
