import { expect } from 'chai';
import { parts, pieces } from './sourceLines.ts';

const mark = (label: string, column: number | null, endColumn: number | null) => ({
  line: 1,
  column,
  endColumn,
  label,
  value: 'v',
});

describe('a line of evidence, cut for the eye', () => {
  it('is cut at the places of its facts, and nothing of it is lost', () => {
    const text = 'tcp 0.0.0.0:8214 gullcast';
    const cut = pieces(text, [mark('Program', 17, 25), mark('Address', 4, 11)]);
    expect(cut).to.deep.equal([
      { text: 'tcp ', label: null },
      { text: '0.0.0.0', label: 'Address: v' },
      { text: ':8214 ', label: null },
      { text: 'gullcast', label: 'Program: v' },
    ]);
    expect(cut.map((p) => p.text).join('')).to.equal(text);
  });

  it('leaves out places that overlap, that lie outside, or that nobody knows', () => {
    const cut = pieces('0123456789', [
      mark('a', 2, 6),
      mark('b', 4, 8),
      mark('c', 9, 12),
      mark('d', null, null),
    ]);
    expect(cut.map((p) => [p.text, p.label])).to.deep.equal([
      ['01', null],
      ['2345', 'a: v'],
      ['6789', null],
    ]);
  });

  it('of one without end the part around the marked place is shown', () => {
    const text = `${'x'.repeat(5000)}0.0.0.0${'y'.repeat(9000)}`;
    const { before, marked, after } = parts(text, { column: 5000, endColumn: 5007 });
    expect([before, marked, after.length]).to.deep.equal([`… ${'x'.repeat(200)}`, '0.0.0.0', 4000]);
    expect(parts('short', {})).to.deep.equal({ before: '', marked: 'short', after: '' });
    expect(parts(text, {}).after).to.equal(' …');
  });
});
