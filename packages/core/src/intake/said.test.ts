import { expect } from 'chai';
import type { CaseDocument } from '../case/index.ts';
import { portsText } from './heard.ts';
import { saidOf, withPorts } from './said.ts';

describe('what a caller says between two listings', () => {
  const table: readonly (readonly [string, string | null])[] = [
    ['tcp 8214', 'tcp 8214'],
    ['port 8214/tcp', 'tcp 8214'],
    ['udp 28410-28415, tcp 28410', 'udp 28410-28415, tcp 28410'],
    ['port 8214', '8214'],
    ['works now', 'answered'],
    ['Still times out', 'lost'],
    ['still refused.', 'refused'],
    ['Connection refused', 'refused'],
    ['the connection was refused at once', 'refused'],
    // None of these says a port of the service or what came of a try.
    ['8214', null],
    ['WAN IP 203.0.113.50', null],
    ['203.0.113.50', null],
    ['tcp 8214 192.168.50.20 8214', null],
    ['it works at my neighbour’s', null],
    ['', null],
  ];
  for (const [line, expected] of table)
    it(line || '(nothing)', () => {
      const said = saidOf(line);
      const text = said?.said === 'ports' ? portsText(said.endpoints) : (said?.outcome ?? null);
      expect(text).to.equal(expected);
    });

  it('ports that are said take the place of guesses, and stand beside others', () => {
    const document: CaseDocument = {
      format: 'bright-ferry-case',
      version: 1,
      title: 'x',
      path: [],
      service: {
        endpoints: [
          { protocol: 'tcp', port: 8214, guessed: true },
          { protocol: 'tcp', port: 80 },
        ],
      },
    };
    const said = withPorts(document, [{ protocol: 'udp', port: 8214 }]);
    expect(portsText(said.service?.endpoints ?? [])).to.equal('tcp 80, udp 8214');
    expect(portsText(withPorts(said, [{ protocol: 'tcp', port: 80 }]).service?.endpoints ?? [])).to.equal(
      'udp 8214, tcp 80',
    );
  });
});
