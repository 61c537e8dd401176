import type { Ask } from './ask.ts';
import type { FieldValue, Surroundings } from './fields.ts';
import type { BaseChain, Chain, Field, TranslationTarget, Rule } from './program.ts';
import type { Subject } from './subject.ts';

/** One rule that the packet met, for the explanation. */
export interface Visit {
  readonly chain: Chain;
  readonly rule: Rule;
  readonly hit: boolean;
  /** For a miss: the first field that did not agree, and the value that the packet had. */
  readonly missed: { readonly field: Field; readonly value: FieldValue | null } | null;
}

/**
 * Rules that an index left out, since they miss by a plain condition; by what each missed is worked out when
 * somebody looks.
 */
export interface Skipped {
  readonly chain: Chain;
  readonly count: number;
  visits(): Generator<Visit>;
}

/** Hears of every rule that a packet met. */
export interface Recorder {
  visited(visit: Visit): void;
  skipped(rules: Skipped): void;
}

/** What the machine does for its rules: carries out translations, answers questions about routes. */
export interface RuleHost extends Surroundings {
  readonly stop: string;
  readonly ask: Ask;
  /** Of the base chain that runs. */
  readonly chainType: BaseChain['type'];
  translate(
    subject: Subject,
    side: 'source' | 'destination',
    target: TranslationTarget,
    rule: Rule,
  ): TranslationEnd;
  masquerade(subject: Subject, ports: TranslationTarget['ports'], rule: Rule): TranslationEnd;
  redirect(subject: Subject, ports: TranslationTarget['ports'], rule: Rule): TranslationEnd;
  /** null where nobody wants to know. */
  readonly record: Recorder | null;
}

/** What became of a packet that a rule translates. */

export type TranslationEnd = 'done' | 'drop' | 'open';
