import { expect } from 'chai';
import { mendCases } from '../testing/index.ts';

const { account, linuxGateway, mendSteps, router, WHOLE } = mendCases;
type Given = mendCases.Given;
type Told = mendCases.Told;

const TO = '192.168.50.20';

describe('a forward that leads to another machine', () => {
  const stray = (rows: string, more: Record<string, string> = {}): Given => ({
    files: { ...WHOLE, 'gateway/forwards': rows, ...more },
  });
  const LEASES = '1772370000 52:54:00:3a:00:44 192.168.50.44 recorder *\n';
  const table: readonly (readonly [string, Given, Told])[] = [
    [
      'one digit off',
      stray('tcp 8214 192.168.50.21 8214\n'),
      {
        steps: ['fwd-target-typo at gateway', 'answered'],
        values: [`Inside address: 192.168.50.21 > ${TO}`],
        at: ['gateway/forwards:1'],
      },
    ],
    [
      'one that another machine has now',
      stray('tcp 8214 192.168.50.44 8214\n', { 'gateway/leases': LEASES }),
      {
        steps: ['fwd-target-stale at gateway', 'answered'],
        at: ['gateway/forwards:1', 'gateway/leases:1'],
      },
    ],
    [
      'one digit off, and somebody’s: it was his before',
      stray('tcp 8214 192.168.50.24 8214\n', { 'gateway/leases': LEASES.replace('50.44', '50.24') }),
      { steps: ['fwd-target-stale at gateway', 'answered'] },
    ],
    [
      'quite another one',
      stray('tcp 8214 192.168.50.133 8214\n'),
      { steps: ['fwd-target-stale at gateway', 'answered'], at: ['gateway/forwards:1'] },
    ],
    [
      'a row above the right one',
      router({ name: 'old', ports: '8200-8299', toPort: 8200, to: '192.168.50.31' }, { name: 'cast' }),
      { steps: ['fwd-shadowed at gateway', 'answered'] },
    ],
    [
      'a row for all above one that is off: its target is wrong',
      router({ ports: '8200-8299', toPort: 8200, to: '192.168.50.21' }, { enabled: false }),
      { steps: ['fwd-target-typo at gateway', 'answered'] },
    ],
    [
      'a row above one for the other protocol: its target is wrong',
      router({ to: '192.168.50.21' }, { protocol: 'udp' }),
      { steps: ['fwd-target-typo at gateway', 'answered'] },
    ],
    [
      'a row above one for other ports: its target is wrong',
      router({ to: '192.168.50.21' }, { ports: '8215-8299' }, { ports: '8200-8213' }),
      { steps: ['fwd-target-typo at gateway', 'answered'] },
    ],
    [
      'a row above one that was never applied: its target is wrong',
      router({ to: '192.168.50.21' }, { state: 'staged' }),
      { steps: ['fwd-target-typo at gateway', 'answered'] },
    ],
    [
      'a row above one for both protocols',
      router({ to: '192.168.50.21' }, { protocol: 'both' }),
      { steps: ['fwd-shadowed at gateway', 'answered'] },
    ],
  ];
  for (const [title, given, expected] of table)
    it(title, () => expect(account(mendSteps(given))).to.deep.include(expected));

  it('a rule of a packet filter above the right one, and the right one moved above it', () => {
    const rules = (...list: string[]) =>
      linuxGateway({
        'gateway/rules':
          'table ip nat {\n\tchain pre {\n\t\ttype nat hook prerouting priority dstnat; policy accept;\n' +
          `${list.map((r) => `\t\t${r}\n`).join('')}\t}\n}\n`,
      });
    const WIDE = 'tcp dport 8000-8999 dnat to 192.168.50.31';
    const RIGHT = `tcp dport 8214 dnat to ${TO}`;
    const seen = (...list: string[]) => account(mendSteps(rules(...list)));
    expect(seen('tcp dport 22 dnat to 192.168.50.30', WIDE, RIGHT)).to.deep.include({
      steps: ['fwd-shadowed at gateway', 'answered'],
      at: ['gateway/rules:5', 'gateway/rules:6'],
    });
    // None of these below it is for the service: its own target is wrong.
    for (const below of [
      `udp dport 8214 dnat to ${TO}`,
      `tcp dport 8215-8300 dnat to ${TO}`,
      'tcp dport 8214 dnat to 192.168.50.33',
      `tcp dport 8214 accept`,
    ])
      expect(seen(WIDE, below).steps, below).to.deep.equal(['fwd-target-stale at gateway', 'answered']);
    expect(seen(WIDE, `tcp dport { 80, 8214 } dnat to ${TO}`).steps).to.deep.equal([
      'fwd-shadowed at gateway',
      'answered',
    ]);
  });

  it('rows without names are called by their numbers', () => {
    const [first] = mendSteps(
      router({ ports: 80 }, { ports: '8200-8299', toPort: 8200, to: '192.168.50.31' }, { name: 'cast' }),
    );
    expect(first?.mend?.finding).to.deep.include({ found: 'shadowed', by: 'row 2', right: 'row “cast”' });
  });

  it('the row is named by its number in the table', () => {
    const [first] = mendSteps(router({ ports: 80 }, { to: '192.168.50.21' }));
    expect(first?.mend?.finding).to.deep.include({ found: 'row-target', number: 2, holder: null });
  });

  it('who holds the address now is told by name, or by MAC', () => {
    const holder = (lease: string): unknown => {
      const finding = mendSteps(stray('tcp 8214 192.168.50.44 8214\n', { 'gateway/leases': lease }))[0]?.mend
        ?.finding;
      return finding?.found === 'row-target' ? finding.holder : null;
    };
    expect(holder(LEASES)).to.equal('recorder');
    expect(holder(LEASES.replace('recorder', '*'))).to.equal('52:54:00:3a:00:44');
    expect(holder(LEASES.replace('50.44', '50.45'))).to.equal(null);
  });
});
