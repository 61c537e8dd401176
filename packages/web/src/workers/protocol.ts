import type { BenchView, ReadingView, ShelfView, OpeningsView, Handover } from '@bright-ferry/core/views';
import type { CaseDocument, EvidenceEntry } from '@bright-ferry/core/case';
import type { Assignment } from '@bright-ferry/core/ledger';
import type { LookAlike, TableShape } from '@bright-ferry/core/reading';

/** What a piece of evidence turned out to be. */
export type Recognised =
  | {
      readonly is: 'text';
      readonly format: string | null;
      readonly title: string;
      readonly facts: number;
      readonly problems: number;
      readonly assignment: Assignment;
      readonly lines: number;
      readonly lookAlikes: readonly LookAlike[];
      readonly columns: EvidenceEntry['columns'] | null;
    }
  | { readonly is: 'not-text'; readonly what: string }
  | { readonly is: 'empty' };

/** What a person has put right in a piece of evidence. */
export type Adjustments = Pick<EvidenceEntry, 'part' | 'corrections' | 'columns'>;

/** Columns of tables that were put right before, by the shape of the table. */
export type Shapes = Readonly<Record<string, NonNullable<EvidenceEntry['columns']>>>;

export interface Work {
  readonly document: CaseDocument;
  /** Identifies the case, so that files sent before need not be sent again. */
  readonly caseId: string;
  /** Files that this worker has not seen. */
  readonly files: readonly (readonly [string, Uint8Array])[];
}

export type Request =
  | (Work & { readonly ask: 'bench'; readonly endpoint: string | null; readonly viewpoint: string | null })
  | (Work & { readonly ask: 'openings' })
  | (Work & { readonly ask: 'shelf' })
  | (Work & { readonly ask: 'reading'; readonly file: string })
  | (Work & {
      readonly ask: 'recognise';
      readonly bytes: Uint8Array;
      readonly adjust: Adjustments;
      readonly shapes: Shapes;
    })
  | (Work & { readonly ask: 'handover'; readonly now: string });

export interface Answers {
  readonly bench: BenchView;
  readonly openings: OpeningsView;
  readonly shelf: ShelfView;
  readonly reading: ReadingView & { readonly shape: TableShape | null };
  readonly recognise: Recognised;
  readonly handover: { readonly handover: Handover; readonly markdown: string };
}

export type Reply<K extends keyof Answers = keyof Answers> =
  { readonly id: number; readonly value: Answers[K] } | { readonly id: number; readonly error: string };
