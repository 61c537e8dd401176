import { expect } from 'chai';
import { cleanText } from './clean.ts';
import { forwardLines } from '../testing/index.ts';
import { readText } from './recognise.ts';

const forwards = (text: string): string[] =>
  readText(cleanText(text))!.facts.flatMap((f) => forwardLines([f]).map((l) => `${f.at.line}: ${l}`));

describe('what surrounds a text is taken away', () => {
  it('marks, colours, typed-over characters and quote marks go, lines keep their numbers', () => {
    expect(cleanText('\ufeffWAN')).to.equal('WAN');
    expect(cleanText('\u001b[1;32meth0\u001b[0m up')).to.equal('eth0 up');
    expect(cleanText('ip adx\bdr')).to.equal('ip addr');
    expect(cleanText('> a\n> b\n>\n> c')).to.equal('a\nb\n\nc');
    expect(cleanText('> a\nb\nc\nd')).to.equal('> a\nb\nc\nd');
  });

  it('characters without a width are blanks around a word, and stay inside one', () => {
    expect(cleanText('a\t8214\u200b\t\ufeff80\tb')).to.equal('a\t8214 \t 80\tb');
    expect(cleanText('82\u200b14')).to.equal('82\u200b14');
    expect(cleanText('\u200e203.0.113.50\u200e\n')).to.equal(' 203.0.113.50 \n');
  });

  it('a table as page source is a table', () => {
    const page =
      '<html><body>\n' +
      '<h1>Forwards</h1>\n' +
      '<table class="t">\n' +
      '<thead><tr><th>Name</th><th>Protocol</th><th>Outside port</th><th>Inside ' +
      'address</th><th>Inside port</th><th>Enabled</th></tr></thead>\n' +
      '<tr>\n' +
      ' <td>Radio&nbsp;hall</td>\n' +
      ' <td><select><option>UDP<option selected>TCP</select></td>\n' +
      ' <td><input type="text" value="8214"></td>\n' +
      ' <td>192.168.50.20</td><td>8214</td>\n' +
      ' <td><input type="checkbox" checked></td>\n' +
      '</tr>\n' +
      '<tr><td>Lantern</td><td>UDP</td><td>28410</td><td>192.168.50.20</td><td>28410</td><td><input ' +
      'type="checkbox"></td></tr>\n' +
      '</table></body></html>\n';
    expect(forwards(page)).to.deep.equal([
      '5: tcp 8214 → 192.168.50.20:8214',
      '12: udp 28410 → 192.168.50.20:28410 (off)',
    ]);
  });

  it('rows without closing tags, and a script between them', () => {
    expect(
      forwards(
        '<table><tr><td>tcp<td>8214<td>192.168.50.20<td>8214\n' +
          '<tr><td>udp<td>28410<td>192.168.50.20<td>28410\n' +
          '</table><script>var rows = "<tr><td>tcp<td>1<td>192.168.50.9<td>1";</script>',
      ),
    ).to.deep.equal(['1: tcp 8214 → 192.168.50.20:8214', '2: udp 28410 → 192.168.50.20:28410']);
  });

  it('a rule, a neighbour and an address that end where others go on are no crash', () => {
    for (const text of [
      '0:\tfrom all lookup local\n30000:\tfrom 192.0.2.1\n',
      '192.0.2.1 dev eth0\n192.0.2.2 dev eth0\n',
      'eth0: flags=4163<UP>\n\tinet6 2001:db8::1\n',
    ])
      expect(() => readText(text)).not.to.throw();
  });

  it('a table in Markdown is a table', () => {
    expect(
      forwards(
        '| Name | Protocol | Outside port | Inside address | Inside port |\n' +
          '|---|:---:|---|---|--:|\n' +
          '| Radio | TCP | 8214 | 192.168.50.20 | 8214 |\n' +
          '| Lantern | UDP | 28410 | 192.168.50.20 | 28410 |\n',
      ),
    ).to.deep.equal(['3: tcp 8214 → 192.168.50.20:8214', '4: udp 28410 → 192.168.50.20:28410']);
  });
});
