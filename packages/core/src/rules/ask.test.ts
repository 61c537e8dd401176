import { expect } from 'chai';
import { explore, MAX_RUNS, type Question } from './ask.ts';

const question = (key: string): Question => ({ key, need: { need: 'addresses', stop: key }, settle: null });

describe('exploring open questions', () => {
  it('runs once where nothing is asked', () => {
    expect(explore(() => 'done')).to.deep.include({ results: ['done'], questions: [], complete: true });
  });

  it('tries every combination, also of questions that only come up after some answers', () => {
    const { results, questions, complete } = explore((ask) =>
      ask(question('a'), 2) === 0 ? `a0b${ask(question('b'), 3)}` : `a1c${ask(question('c'), 2)}`,
    );
    expect(results).to.deep.equal(['a0b0', 'a0b1', 'a0b2', 'a1c0', 'a1c1']);
    expect(questions.map((q) => q.key)).to.deep.equal(['a', 'b', 'c']);
    expect(complete).to.equal(true);
  });

  it('gives the same question the same answer within one run', () => {
    const { results } = explore((ask) => [ask(question('a'), 2), ask(question('a'), 2)].join());
    expect(results).to.deep.equal(['0,0', '1,1']);
  });

  it('stops at its limit and says that it did', () => {
    const { results, complete } = explore((ask) =>
      Array.from({ length: 20 }, (_, i) => ask(question(`q${i}`), 2)).join(''),
    );
    expect(results).to.have.length(MAX_RUNS);
    expect(complete).to.equal(false);
  });
});
