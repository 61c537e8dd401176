import { expect } from 'chai';
import { caseFacts, HOME, serverEvidence } from '../../testing/index.ts';
import { openingsView } from './openings.ts';

const PATH = [
  { id: 'client', role: 'client' },
  { id: 'carrier', role: 'carrier' },
  { id: 'host', role: 'host' },
];
const RULES = (rules: string, policy = 'drop'): string =>
  `table inet guard {\n\tchain input {\n\t\ttype filter hook input priority filter; policy ${policy};\n${rules
    .split('; ')
    .map((r) => `\t\t${r}\n`)
    .join('')}\t}\n}\n`;

const view = (rules: string, sockets = ['tcp 0.0.0.0:8214 gullcast', 'tcp 0.0.0.0:5432 postgres']) => {
  const facts = caseFacts(PATH, serverEvidence('203.0.113.80/24', '203.0.113.1', sockets, rules), {
    service: { name: 'Gullcast', endpoints: [{ protocol: 'tcp', port: 8214, portEnd: 8219 }] },
  });
  return openingsView(facts, (id) => (id === 'host' ? 'Heron' : (id ?? '')));
};
const rows = (v: ReturnType<typeof view>): string[] =>
  v.rows
    .filter((r) => !r.at.includes(':'))
    .map(
      (r) =>
        `${r.stop}: ${r.listener} | ${r.ports} | ${r.sources} | ` +
        `${r.sure ? 'sure' : (r.needs ?? 'perhaps')} | ${r.asked ? 'asked for' : 'not asked for'}`,
    );

describe('what the outside reaches', () => {
  it('the service that was asked for, and what nobody asked for first', () =>
    expect(rows(view(RULES('tcp dport { 5432, 8214 } accept')))).to.deep.equal([
      'Heron: postgres on all addresses:5432 | tcp 5432 | anyone | sure | not asked for',
      'Heron: gullcast on all addresses:8214 | tcp 8214 | anyone | sure | asked for',
    ]));

  it('the last port of a range is asked for, the one behind it is not', () => {
    const sockets = ['tcp 0.0.0.0:8219 gullcast', 'tcp 0.0.0.0:8220 gullcast'];
    expect(rows(view(RULES('accept'), sockets)).map((r) => r.split(' | ').pop())).to.deep.equal([
      'not asked for',
      'asked for',
    ]);
  });

  it('for whom: a few senders by name, many by their number', () => {
    expect(rows(view(RULES('ip saddr 198.51.100.0/24 tcp dport 8214 accept')))[0]).to.contain(
      '| 198.51.100.0/24 |',
    );
    const many = Array.from({ length: 9 }, (_, i) => `198.51.100.${i * 10 + 1}`).join(', ');
    expect(rows(view(RULES(`ip saddr { ${many} } tcp dport 8214 accept`)))[0]).to.match(/ and 3 more \|/);
  });

  it('what is not certain says what would settle it', () =>
    expect(rows(view(RULES('tcp dport 8214 meta cpu 1 accept')))[0]).to.match(
      /\| Heron: .*is not modelled.*\| asked for$/,
    ));

  it('a forward to a machine that is no stop is meant for the service whose port it takes', () => {
    const table =
      'Protocol\tExternal port\tInternal IP\tInternal port\n' +
      'TCP\t8214\t192.168.50.31\t8214\n' +
      'TCP\t9000\t192.168.50.31\t9000\n';
    const facts = caseFacts(
      HOME,
      {
        ...serverEvidence('192.168.50.20/24', '192.168.50.1', ['tcp 0.0.0.0:8214 gullcast']),
        'gateway/table': table,
      },
      { service: { name: 'Gullcast', endpoints: [{ protocol: 'tcp', port: 8214 }] } },
    );
    const found = openingsView(facts, (id) => id ?? '').rows.map((r) => [
      r.ports,
      r.listener,
      r.asked,
      r.sure,
    ]);
    // Ports that lead to one place stand in one row; what nobody asked for makes it one that nobody did.
    expect(found).to.deep.equal([
      ['tcp 8214, 9000', '192.168.50.31, which is no stop of this case', false, false],
    ]);
    const alone = caseFacts(
      HOME,
      {
        ...serverEvidence('192.168.50.20/24', '192.168.50.1', ['tcp 0.0.0.0:8214 gullcast']),
        'gateway/table': table.slice(0, table.lastIndexOf('TCP')),
      },
      { service: { name: 'Gullcast', endpoints: [{ protocol: 'tcp', port: 8214 }] } },
    );
    expect(openingsView(alone, (id) => id ?? '').rows.map((r) => r.asked)).to.deep.equal([true]);
  });

  it('nothing, where nothing is let in', () =>
    expect(view(RULES('tcp dport 22 accept')).rows).to.deep.equal([]));

  it('rules that never match, by what takes their packets', () => {
    const { dead, unsearched, refused } = view(RULES('tcp dport 8000-8999 accept; tcp dport 8214 drop'));
    expect(dead.map((d) => `${d.stop}: ${d.rule} < ${d.by.join()}`)).to.deep.equal([
      'Heron: tcp dport 8214 drop < tcp dport 8000-8999 accept',
    ]);
    expect([unsearched, refused]).to.deep.equal([[], null]);
  });

  it('a rule set that is too long is not searched, and says so', () => {
    const long = Array.from({ length: 2001 }, (_, i) => `ip saddr 198.51.${i % 200}.${i % 250} drop`).join(
      '; ',
    );
    expect(view(RULES(long)).unsearched).to.deep.equal(['Heron']);
  });

  describe('how many addresses each lets in', () => {
    const of = (rules: string, audience?: readonly string[]) => {
      const facts = caseFacts(
        PATH,
        serverEvidence(
          '203.0.113.80/24',
          '203.0.113.1',
          ['tcp 0.0.0.0:8214 gullcast', 'tcp 0.0.0.0:22 sshd'],
          RULES(rules),
        ),
        { service: { name: 'Gullcast', endpoints: [{ protocol: 'tcp', port: 8214 }], audience } },
      );
      return openingsView(facts, (id) => id ?? '').rows.filter((r) => !r.at.includes(':'));
    };

    it('by number, and on a scale on which each step doubles them', () => {
      const lets = (sources: string) => of(`ip saddr { ${sources} } tcp dport 8214 accept`)[0]?.letIn;
      expect(lets('198.51.100.23')).to.deep.equal({ text: 'one address', share: 1 / 33 });
      expect(lets('198.51.100.0/24, 198.51.101.7')).to.deep.include({ text: '257 addresses' });
      expect(lets('198.51.100.0/24')?.share).to.equal(9 / 33);
      expect(of('tcp dport 8214 accept')[0]?.letIn).to.deep.equal({ text: 'every address', share: 1 });
    });

    it('held against whom the service is meant for', () => {
      const wide = (rules: string): readonly [boolean, string] | undefined => {
        const [row] = of(rules, ['198.51.100.0/28']);
        return row && [row.wider, row.askedText];
      };
      expect(wide('ip saddr 198.51.100.0/28 tcp dport 8214 accept')).to.deep.equal([false, 'yes']);
      expect(wide('ip saddr 198.51.100.4 tcp dport 8214 accept')).to.deep.equal([false, 'yes']);
      const more = [true, 'yes, but not for all of these'];
      expect(wide('ip saddr 198.51.100.0/27 tcp dport 8214 accept')).to.deep.equal(more);
      expect(wide('tcp dport 8214 accept')).to.deep.equal(more);
    });

    it('remote administration that everyone reaches stands first and is called so', () => {
      const rows = of('tcp dport { 22, 8214 } accept');
      expect(rows[0]?.grave).to.equal('Remote administration is open to everyone: port 22 is a remote shell');
      expect(rows[1]?.grave).to.equal(null);
      const few = of('ip saddr 198.51.100.0/24 tcp dport { 22, 8214 } accept');
      expect(few.map((r) => r.grave)).to.deep.equal([null, null]);
    });
  });
});
