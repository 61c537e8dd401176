import type { AskKind } from '../asks/index.ts';
import type { Need } from './needs.ts';

/** A question that the evidence leaves open, asked while a packet is followed. */
export interface Question {
  /** The same key asked twice in one run gets the same answer. */
  readonly key: string;
  /** What would settle it. */
  readonly need: Need;
  /** Which kind of evidence settles it, and from which stop; null where none can. */
  readonly settle: { readonly stop: string; readonly yields: AskKind } | null;
  /** Answer 0 holds at first, answer 1 after a while: both are true, one after the other. */
  readonly overTime?: boolean;
}

/** Answers questions with 0 … options-1. */
export type Ask = (question: Question, options: number) => number;

export interface Exploration<T> {
  /** One result for each way the open questions can be answered. */
  readonly results: readonly T[];
  /** For each result the answers that led to it, by question key. */
  readonly answers: readonly ReadonlyMap<string, number>[];
  /** The questions that came up. */
  readonly questions: readonly Question[];
  /** False where the limit was reached and other results are possible. */
  readonly complete: boolean;
}

/** Runs beyond which the exploration gives up; more open questions than that is "unknown" anyway. */
export const MAX_RUNS = 256;

/**
 * Runs a deterministic program once for every combination of answers to the questions that it asks.
 * Depth first: the last question that still has an answer left is answered anew. That makes the program
 * three-valued without a word about it inside the program: it says what happens *if*, and this finds all ifs.
 * @param settled stops early once it says that more results cannot change the conclusion
 */
export function explore<T>(
  run: (ask: Ask) => T,
  settled: (results: readonly T[]) => boolean = () => false,
): Exploration<T> {
  const results: T[] = [];
  const given: ReadonlyMap<string, number>[] = [];
  const questions = new Map<string, Question>();
  let script: { taken: number; options: number }[] = [];
  for (let runs = 0; runs < MAX_RUNS; runs++) {
    const asked: { taken: number; options: number }[] = [];
    const answers = new Map<string, number>();
    const ask: Ask = (question, options) => {
      const before = answers.get(question.key);
      if (before !== undefined) return before;
      const taken = script[asked.length]?.taken ?? 0;
      asked.push({ taken, options });
      answers.set(question.key, taken);
      questions.set(question.key, question);
      return taken;
    };
    results.push(run(ask));
    given.push(answers);
    while (asked.length > 0 && asked[asked.length - 1]!.taken + 1 >= asked[asked.length - 1]!.options)
      asked.pop();
    const last = asked.pop();
    if (!last) return { results, answers: given, questions: [...questions.values()], complete: true };
    script = [...asked, { taken: last.taken + 1, options: last.options }];
    if (settled(results)) break;
  }
  return { results, answers: given, questions: [...questions.values()], complete: false };
}
