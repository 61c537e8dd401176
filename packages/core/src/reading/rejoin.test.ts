import { readFileSync, readdirSync } from 'node:fs';
import { expect } from 'chai';
import { fileURLToPath } from 'node:url';
import { cleanText } from './clean.ts';
import { readText } from './recognise.ts';
import type { Fact } from '../facts/index.ts';

const EXAMPLES = fileURLToPath(new URL('./examples/', import.meta.url));
/** As a terminal of that width shows and copies it. */
const hard = (text: string, width: number): string =>
  text
    .split('\n')
    .flatMap((l) => l.match(new RegExp(`.{1,${width}}`, 'g')) ?? [''])
    .join('\n');
/** As a mail program wraps it. */
const soft = (text: string, width: number): string =>
  text
    .split('\n')
    .flatMap((l) => {
      const out: string[] = [];
      let rest = l;
      while (rest.length > width) {
        const at = rest.lastIndexOf(' ', width);
        if (at <= 0 || rest.slice(0, at).trim() === '') break;
        out.push(rest.slice(0, at));
        rest = rest.slice(at + 1);
      }
      return [...out, rest];
    })
    .join('\n');
const bare = (facts: readonly Fact[]): unknown[] =>
  facts.map(
    ({ at: _, ...f }) =>
      JSON.parse(JSON.stringify(f, (k, v: unknown) => (k === 'at' ? undefined : v))) as unknown,
  );

describe('lines that were cut', () => {
  const SS =
    'Netid State  Recv-Q Send-Q Local Address:Port Peer Address:PortProcess\n' +
    'tcp   LISTEN 0      4096         0.0.0.0:8214       0.0.0.0:*    ' +
    'users:(("gullcast",pid=712,fd=9))\n' +
    'udp   UNCONN 0      0            0.0.0.0:28410      0.0.0.0:*    ' +
    'users:(("lantern-reef",pid=715,fd=4))\n';
  const RULES =
    'table inet filter {\n' +
    '\tchain input {\n' +
    '\t\ttype filter hook input priority filter; policy drop;\n' +
    '\t\tip saddr 198.51.100.0/24 tcp dport 8214 counter packets 12 bytes 720 accept comment ' +
    '"gullcast for the towns"\n' +
    '\t\tct state established,related accept\n' +
    '\t}\n' +
    '}\n';

  for (const [title, text] of [
    ['a socket listing', SS],
    ['a rule set', RULES],
  ] as const) {
    for (const [how, cut] of [
      ['by a terminal of 80 columns', (t: string) => hard(t, 80)],
      ['by a mail program at 76', (t: string) => soft(t, 76)],
    ] as const) {
      it(`${title}, ${how}, says the same`, () => {
        const whole = readText(text)!;
        const reading = readText(cut(text))!;
        expect(reading.format).to.equal(whole.format);
        expect(bare(reading.facts)).to.deep.equal(bare(whole.facts));
        expect(reading.problems).to.deep.equal([]);
      });
    }
  }

  it('a verdict that lost its rule does not become a rule for everything', () => {
    const flat = RULES.replaceAll('\t', '');
    expect(readText(soft(flat, 70))!.facts).to.have.length(1);
    expect(bare(readText(soft(flat, 70))!.facts)).to.deep.equal(bare(readText(flat)!.facts));
  });

  it('places are those of the text as it came', () => {
    const cut = hard(SS, 80);
    const lines = cut.split('\n');
    for (const f of readText(cut)!.facts)
      expect(lines[f.at.line - 1]!.slice(f.at.column, f.at.endColumn)).to.match(/^0\.0\.0\.0:(8214|28410)$/);
  });

  it('long lines that are whole stay as they are', () => {
    const routes =
      'default via 192.168.50.1 dev eno1 proto dhcp src 192.168.50.20 metric 100 mtu 1500 advmss ' +
      '1460\n' +
      '192.168.50.0/24 dev eno1 proto kernel scope link src 192.168.50.20 metric 100\n' +
      'nonsense here\n';
    expect(readText(routes)!.problems.map((p) => p.line)).to.deep.equal([3]);
  });

  it('no example loses or gains a fact by it', () => {
    for (const name of readdirSync(EXAMPLES)
      .filter((n) => /\.(txt|json|conf)$/.test(n) && n !== 'expected.json')
      .slice(0, 80)) {
      const text = cleanText(readFileSync(EXAMPLES + name, 'utf8'));
      const whole = readText(text);
      // Only where every line is understood can cutting be told from what was there before.
      if (
        !whole ||
        whole.problems.length > 0 ||
        text.length > 20_000 ||
        !['ss', 'ip-route', 'ip-rule', 'iptables-save', 'nft', 'conntrack', 'dnsmasq-leases'].includes(
          whole.format,
        )
      )
        continue;
      const reading = readText(hard(text, 80));
      if (reading && reading.problems.length === 0)
        expect(bare(reading.facts), name).to.deep.equal(bare(whole.facts));
    }
  });
});
