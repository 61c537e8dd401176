import type {
  Adjustments,
  BenchView,
  Handover,
  OpeningsView,
  PlacesView,
  ReadingView,
  Recognised,
  ShelfView,
  Shrinking,
  Shapes,
  SuspicionView,
  VantageGrid,
} from '@bright-ferry/core/views';
import type { CaseDocument } from '@bright-ferry/core/case';
import type { TableShape } from '@bright-ferry/core/reading';

/** What every request carries: the case as it is. */
export interface Work {
  readonly document: CaseDocument;
  /** Identifies the case, so that files sent before need not be sent again. */
  readonly caseId: string;
  /** Files that this worker has not seen. */
  readonly files: readonly (readonly [string, Uint8Array])[];
}

/** What can be asked, by kind. */
export interface Questions {
  bench: { readonly endpoint: string | null; readonly viewpoint: string | null };
  openings: object;
  shelf: object;
  vantages: object;
  suspicion: object;
  places: object;
  shrinking: object;
  reading: { readonly file: string };
  recognise: { readonly bytes: Uint8Array; readonly adjust: Adjustments; readonly shapes: Shapes };
  handover: { readonly now: string };
}

export interface Answers {
  bench: BenchView;
  openings: OpeningsView;
  shelf: ShelfView;
  vantages: VantageGrid;
  suspicion: SuspicionView;
  places: PlacesView | null;
  shrinking: Shrinking;
  reading: ReadingView & { readonly shape: TableShape | null };
  recognise: Recognised;
  handover: { readonly handover: Handover; readonly markdown: string; readonly page: string };
}

export type Question = keyof Questions;
export type Answer = Answers[Question];

export type Request = { [K in Question]: Work & Questions[K] & { readonly ask: K } }[Question];

export type Reply =
  { readonly id: number; readonly value: Answer } | { readonly id: number; readonly error: string };
