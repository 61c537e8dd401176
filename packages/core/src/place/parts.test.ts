import { expect } from 'chai';
import { last, nth } from './parts.ts';

describe('parts known to be there', () => {
  it('gives groups of a match and items of a list', () => {
    const match = /^(\d+)-(\d+)?/.exec('80-');
    expect(match && nth(match, 1)).to.equal('80');
    expect(nth(['a', 'b'], 1)).to.equal('b');
    expect(last([3, 0])).to.equal(0);
    expect(last([''])).to.equal('');
  });

  it('never makes a value of a wrong belief', () => {
    const match = /^(\d+)-(\d+)?/.exec('80-');
    expect(() => match && nth(match, 2)).to.throw(RangeError, 'no part 2 among 3');
    expect(() => last([])).to.throw(RangeError, 'no part -1 among 0');
    expect(() => nth([null], 0)).to.throw(RangeError);
  });
});
