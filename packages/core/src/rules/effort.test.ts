import { expect } from 'chai';
import { Effort, TooMuchWork } from './effort.ts';

describe('work that is counted', () => {
  it('all steps may be spent, and not one more', () => {
    const effort = new Effort('what is open from outside', 10);
    effort.spend(4);
    effort.spend();
    effort.spend(5);
    expect(() => effort.spend())
      .to.throw(TooMuchWork, /^what is open from outside: /)
      .with.property('code', 'too-much-work');
  });

  it('pauses now and then, so that it can be stopped', () => {
    let pauses = 0;
    const effort = new Effort('a question', 1_000_000, () => void pauses++);
    for (let i = 0; i < 100_000; i++) effort.spend();
    // Once for each 16,384 steps.
    expect(pauses).to.be.within(6, 7);
    effort.spend(500_000);
    expect(pauses).to.be.within(7, 8);
  });

  it('stops where the pause throws', () => {
    const stopped = new Error('stopped');
    const effort = new Effort('a question', 100_000, () => {
      throw stopped;
    });
    expect(() => effort.spend(50_000)).to.throw(stopped);
  });
});
