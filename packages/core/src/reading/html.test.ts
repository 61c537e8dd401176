import { expect } from 'chai';
import fc from 'fast-check';
import { plainTables } from './html.ts';

const PIECES = [
  '<table>',
  '</table>',
  '<tr>',
  '</tr>',
  '<td>',
  '</td>',
  '<th>',
  '<p>',
  '</p>',
  '<!-- a -->',
  '<!-- b\n -->',
  '<script>x\n</script>',
  '\n',
  'text',
  '&lt;',
  '&nbsp;',
  '<input value="80">',
  '<input type=checkbox checked>',
  '<select><option>a<option selected>b</select>',
  '<br>',
  '<',
  '"',
  "<a href='x\ny'>",
  '</select>',
  '<option>',
] as const;

describe('tables of a page’s source', () => {
  const table: readonly (readonly [string, string, string])[] = [
    ['cells are parted by tabs', '<tr><td>a</td><td>b</td></tr>', 'a\tb'],
    ['an empty cell keeps its place', '<tr><td>a<td><td>c', 'a\t\tc'],
    ['entities are what they stand for', '<tr><td>A&amp;B &rarr; C&#58;1<td>x', 'A&B → C:1\tx'],
    [
      'a field shows its value',
      '<tr><td><input type="text" value="8214"><td><input type=hidden value=1>',
      '8214\t',
    ],
    ['a box is ticked or not', '<tr><td><input type="checkbox" checked><td><input type="radio">', 'yes\tno'],
    [
      'a list shows what is selected',
      '<tr><td><select><option>UDP<option selected>TCP</select><td>x',
      'TCP\tx',
    ],
    [
      'a list without a selection shows its first',
      '<tr><td><select><option>UDP<option>TCP</select><td>x',
      'UDP\tx',
    ],
    ['nothing of a script is shown', '<tr><td>a<script>var x = "<td>b";</script><td>c', 'a\tc'],
    ['nothing of a comment is shown', '<tr><td>a<!-- <td>b --><td>c', 'a\tc'],
    ['words of a cell stay apart', '<tr><td>one<br>two<td>x', 'one two\tx'],
    ['a row ends with its table', '<table><tr><td>a<td>b</table>after', 'a\tb\u2028after'],
    ['rows stand on their lines', '<tr>\n<td>a\n<td>b\n</tr>\n<tr><td>c<td>d</tr>', 'a\tb\n\n\n\nc\td'],
  ];
  for (const [title, page, text] of table) it(title, () => expect(plainTables(page)).to.equal(text));

  it('whatever the page, every line keeps its number', () => {
    const count = (text: string): number => text.split('\n').length;
    // A mark for what is cut off stands on the last line (U+2028).
    fc.assert(
      fc.property(fc.array(fc.constantFrom(...PIECES), { maxLength: 30 }), (pieces) => {
        const page = pieces.join('');
        expect(count(plainTables(page)), JSON.stringify(page)).to.equal(count(page));
      }),
      { numRuns: 2000 },
    );
  });
});
