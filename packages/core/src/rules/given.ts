import { explore, type Ask, type Question } from './ask.ts';

/** The answers to open questions under which a set of packets has come as far as it has, newest first. */
export interface Given {
  readonly question: Question;
  /** 0 … options-1 */
  readonly answer: number;
  readonly options: number;
  readonly before: Given | null;
}

/** The answer that is given already; null where the question has not come up. */
export function answerIn(given: Given | null, key: string): number | null {
  for (let g = given; g; g = g.before) if (g.question.key === key) return g.answer;
  return null;
}

/** The questions of a chain of answers, oldest first. */
export function givenList(given: Given | null): Given[] {
  const out: Given[] = [];
  for (let g = given; g; g = g.before) out.unshift(g);
  return out;
}

/** Every way to answer a question under what is given: one where it is answered already. */
export function answersTo(
  given: Given | null,
  question: Question,
  options: number,
): readonly { readonly answer: number; readonly given: Given | null }[] {
  const known = answerIn(given, question.key);
  if (known !== null) return [{ answer: known, given }];
  return Array.from({ length: options }, (_, answer) => ({
    answer,
    given: { question, answer, options, before: given },
  }));
}

/**
 * Everything that a piece of work that asks can come to under what is given, with the answers that lead to
 * each.
 */
export function outcomesOf<T>(
  given: Given | null,
  work: (ask: Ask) => T,
): readonly { readonly value: T; readonly given: Given | null }[] {
  let asked = false;
  const quick = work((question) => {
    const known = answerIn(given, question.key);
    if (known === null) asked = true;
    return known ?? 0;
  });
  if (!asked) return [{ value: quick, given }];
  const { results } = explore((ask) => {
    let now = given;
    const value = work((question, options) => {
      const known = answerIn(now, question.key);
      if (known !== null) return known;
      const answer = ask(question, options);
      now = { question, answer, options, before: now };
      return answer;
    });
    return { value, given: now };
  });
  return results;
}
