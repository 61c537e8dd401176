import { expect } from 'chai';
import fc from 'fast-check';
import { csvCells } from './csv.ts';

describe('cells of a record (RFC 4180)', () => {
  const table: readonly (readonly [string, string, readonly string[]])[] = [
    ['a,b,c', ',', ['a', 'b', 'c']],
    ['"80, 443",tcp', ',', ['80, 443', 'tcp']],
    ['"say ""hello""";x', ';', ['say "hello"', 'x']],
    ['a\t"b\tc"', '\t', ['a', 'b\tc']],
    ['"",", """', ',', ['', ', "']],
    ['a, "b, ""c""", d', ',', ['a', 'b, "c"', 'd']],
    ['a,,b,', ',', ['a', '', 'b', '']],
  ];
  for (const [text, delimiter, cells] of table)
    it(JSON.stringify(text), () => expect(csvCells(text, delimiter).map((c) => c.text)).to.deep.equal(cells));

  it('a cell stands where its column says', () =>
    expect(csvCells('name, "80, 443", tcp', ',').map((c) => c.column)).to.deep.equal([0, 7, 17]));

  it('what is written with quotes comes out as it was', () => {
    const cell = fc.string({ maxLength: 12 }).map((t) => t.replace(/[\r\n\u2028\u2029]/g, '').trim());
    fc.assert(
      fc.property(fc.array(cell, { minLength: 2, maxLength: 6 }), (cells) => {
        const record = cells.map((c) => `"${c.replaceAll('"', '""')}"`).join(',');
        expect(csvCells(record, ',').map((c) => c.text)).to.deep.equal(cells);
      }),
      { numRuns: 500 },
    );
  });
});
