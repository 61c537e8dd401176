import { expect } from 'chai';
import { forwardingGateway, forwardLines, outcome, run, caseSite, serverEvidence } from '../testing/index.ts';
import { readText } from '../reading/index.ts';

const at = (files: Record<string, string>) =>
  caseSite(
    [
      { id: 'client', role: 'client' },
      { id: 'carrier', role: 'carrier' },
      forwardingGateway(),
      { id: 'host', role: 'host' },
    ],
    {
      ...serverEvidence(
        '192.168.50.20/24',
        '192.168.50.1',
        ['tcp 0.0.0.0:8214 gullcast', 'udp 0.0.0.0:28410 lanternd'],
        '',
      ),
      ...files,
    },
  );
const tried = (rules: string): string =>
  outcome(run(at({ 'host/rules': rules }), '198.51.100.23', '203.0.113.50:8214/tcp'));

describe('a machine’s own BSD packet filter: listing, outcome (pf.conf(5))', () => {
  const table: readonly (readonly [string, string, string])[] = [
    [
      'the last rule that matches decides: pass',
      'block drop in all\npass in on eno1 proto tcp from any to any port = 8214 flags S/SA keep state\n',
      'answered at host',
    ],
    [
      'the last rule that matches decides: block',
      'pass in on eno1 proto tcp from any to any port = 8214 flags S/SA keep state\nblock drop in all\n',
      'lost at host',
    ],
    [
      'unless an earlier one says quick',
      'pass in quick proto tcp from any to any port = 8214 flags S/SA keep state\nblock drop in all\n',
      'answered at host',
    ],
    [
      'the first quick one of two',
      'block drop in quick from 198.51.100.0/24 to any\npass in quick all flags S/SA keep state\n',
      'lost at host',
    ],
    [
      'what no rule names passes',
      'pass out all flags S/SA keep state\nblock drop in proto udp all\n',
      'answered at host',
    ],
    [
      'another port',
      'block drop in all\npass in proto tcp from any to any port = ssh flags S/SA keep state\n',
      'lost at host',
    ],
    [
      'a range of ports',
      'block drop in all\npass in proto tcp from any to any port 8200:8220 flags S/SA keep state\n',
      'answered at host',
    ],
    [
      'a list of ports and protocols',
      'block drop in all\npass in proto { tcp, udp } from any to any port { 80, 8214 } keep state\n',
      'answered at host',
    ],
    [
      'one digit off',
      'block drop in all\npass in inet proto tcp from 198.51.100.33 to any port = 8214 ' +
        'flags S/SA keep state\n',
      'lost at host',
    ],
    [
      'everyone but one network',
      'block drop in all\npass in inet proto tcp from ! 192.0.2.0/24 to any port = 8214 ' +
        'flags S/SA keep state\n',
      'answered at host',
    ],
    [
      'another interface',
      'block drop in all\npass in on lo proto tcp from any to any port = 8214 flags S/SA keep state\n',
      'lost at host',
    ],
    [
      'a group of interfaces: which ones is not told',
      'block drop in all\npass in on egress proto tcp from any to any port = 8214 flags S/SA keep state\n',
      'unknown',
    ],
    [
      'a file of rules is not what is loaded',
      'set skip on lo0\nblock in all\npass in proto tcp from any to any port 22\n',
      'unknown',
    ],
    [
      'a translation beside the rules',
      'pass in all flags S/SA keep state\n' +
        'rdr pass on eno1 inet proto tcp from any to any port = 8214 -> 192.168.50.20 port 8080\n',
      'unknown',
    ],
    [
      'the other family',
      'block drop in all\npass in inet6 proto tcp from any to any port = 8214 flags S/SA keep state\n',
      'lost at host',
    ],
    ['a reset instead of silence', 'block return-rst in proto tcp all\n', 'refused at host'],
    [
      'a table whose members are not known',
      'block drop in all\npass in proto tcp from <offices> to any port = 8214 flags S/SA keep state\n',
      'unknown',
    ],
    [
      'an anchor whose rules are not known',
      'scrub-anchor "front/*" all fragment reassemble\nanchor "front/*" all\n',
      'unknown',
    ],
    [
      'a pass without state: answers need a rule of their own',
      'block drop in all\npass in proto tcp from any to any port = 8214 no state\n',
      'unknown',
    ],
    [
      'the filter is off',
      'Status: Disabled for 0 days 00:12:01           Debug: Urgent\n',
      'answered at host',
    ],
  ];
  for (const [title, rules, expected] of table)
    it(`${title}: ${expected}`, () => expect(tried(rules)).to.equal(expected));

  it('forwards are rows with a doubt, other translations are kept', () => {
    const reading = readText(
      'nat on em0 inet from 192.168.50.0/24 to any -> (em0:0)\n' +
        'rdr on em0 inet proto tcp from any to any port = 8214 -> 192.168.50.20 port 8214\n' +
        'rdr on em0 inet proto udp from any to 203.0.113.50 port 28410:28415 -> 192.168.50.20\n',
    )!;
    expect(reading.format).to.equal('bsd-filter');
    const OPEN = '(whether the filter’s own rules pass what is forwarded is not known)';
    expect(forwardLines(reading.facts)).to.deep.equal([
      `tcp 8214 → 192.168.50.20:8214 ${OPEN}`,
      `udp 28410-28415 → 192.168.50.20:28410 ${OPEN}`,
    ]);
    expect(reading.facts.filter((f) => f.kind === 'noted' && f.topic === 'bsdTranslations')).to.have.length(
      1,
    );
  });
});
