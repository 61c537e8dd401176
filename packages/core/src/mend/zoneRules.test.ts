import { expect } from 'chai';
import { mendCases, zonedOffice } from '../testing/index.ts';

const { mendSteps, told, values } = mendCases;
const { FORWARD, MAPPING, office, rule, WHOLE } = zonedOffice;
type Given = mendCases.Given;
type Row = zonedOffice.Row;

interface Told {
  readonly steps: readonly string[];
  readonly values?: readonly string[];
}

describe('the rule of a firewall with zones that nearly lets it in', () => {
  const MISSING = ['filter-missing at gateway', 'answered'];
  const table: readonly (readonly [string, Given, Told])[] = [
    ['it does', office({ rules: [rule()] }), { steps: ['answered'] }],
    ['it is for any service', office({ rules: [rule({ services: ['any'] })] }), { steps: ['answered'] }],
    [
      'it is for a range',
      office({ rules: [rule({ services: ['tcp/22,8200-8214'] })] }),
      { steps: ['answered'] },
    ],
    [
      'no rule: the narrowest one',
      office({ rules: [] }),
      {
        steps: MISSING,
        values: [
          'From zone: - > outside',
          'To zone: - > inside',
          'Source: - > anyone',
          'Destination: - > 192.168.50.20',
          'Service: - > tcp 8214',
          'Action: - > allow',
        ],
      },
    ],
    [
      'no rule, for one sender',
      office({ rules: [], given: { audience: ['198.51.100.23'] } }),
      {
        steps: MISSING,
        values: [
          'From zone: - > outside',
          'To zone: - > inside',
          'Source: - > 198.51.100.23',
          'Destination: - > 192.168.50.20',
          'Service: - > tcp 8214',
          'Action: - > allow',
        ],
      },
    ],
    [
      'no rule, where rules see what was dialled',
      office({ rules: [], more: { destinationSeen: 'before', zoneSeen: 'before' } }),
      {
        steps: MISSING,
        values: [
          'From zone: - > outside',
          'To zone: - > outside',
          'Source: - > anyone',
          'Destination: - > 203.0.113.50',
          'Service: - > tcp 8214',
          'Action: - > allow',
        ],
      },
    ],
    ['a rule that is off', office({ rules: [rule({ enabled: false })] }), { steps: MISSING }],
    [
      'a rule for another service',
      office({ rules: [rule({ services: ['tcp/22', 'udp/8214'] })] }),
      { steps: MISSING },
    ],
    [
      'ports one short at either end',
      office({ rules: [rule({ services: ['tcp/8200-8213,8215-8220'] })] }),
      { steps: MISSING },
    ],
    ['a rule from another zone', office({ rules: [rule({ fromZone: 'guests' })] }), { steps: MISSING }],
    [
      'the outside address of a rule for any zone',
      office({ rules: [rule({ fromZone: 'any', destinations: ['203.0.113.50'] })] }),
      {
        steps: ['filter-side at gateway', 'answered'],
        values: ['Destination: 203.0.113.50 > 192.168.50.20'],
      },
    ],
    [
      'the outside address, in the second rule',
      office({
        rules: [rule({ services: ['tcp/22'] }), rule({ name: undefined, destinations: ['203.0.113.50'] })],
      }),
      { steps: ['filter-side at gateway', 'answered'] },
    ],
    [
      'the outside address in a rule that drops it',
      office({ rules: [rule({ action: 'drop', destinations: ['203.0.113.50'] })] }),
      { steps: MISSING },
    ],
    [
      'one digit off in the destination',
      office({ rules: [rule({ destinations: ['192.168.50.21'] })] }),
      {
        steps: ['filter-side at gateway', 'answered'],
        values: ['Destination: 192.168.50.21 > 192.168.50.20'],
      },
    ],
    [
      'a network that holds the server is right',
      office({ rules: [rule({ destinations: ['192.168.50.0/28', '192.168.50.16/28'] })] }),
      { steps: ['answered'] },
    ],
    [
      'the guests’ zone',
      office({ rules: [rule({ toZone: 'guests' })] }),
      { steps: ['filter-zone at gateway', 'answered'], values: ['Destination zone: guests > inside'] },
    ],
    [
      'the inner zone, where zones are those of what was dialled',
      office({ rules: [rule()], more: { zoneSeen: 'before' } }),
      { steps: ['filter-zone at gateway', 'answered'], values: ['Destination zone: inside > outside'] },
    ],
    [
      'the inner zone for an address that no interface holds, where zones are those of what was dialled',
      office({
        rules: [rule()],
        more: { zoneSeen: 'before', extraAddresses: ['203.0.113.99'] },
        translations: [{ ...MAPPING, outside: '203.0.113.99' }],
        to: '203.0.113.99:8214/tcp',
      }),
      { steps: ['filter-zone at gateway', 'answered'], values: ['Destination zone: inside > outside'] },
    ],
    [
      'a mapping to a machine that is one digit off',
      office({ ...WHOLE, rules: [rule()], translations: [{ ...MAPPING, inside: '192.168.50.21' }] }),
      {
        steps: ['fwd-target-typo at gateway', 'answered'],
        values: ['Inside address: 192.168.50.21 > 192.168.50.20'],
      },
    ],
    [
      'a forward to a machine that is one digit off',
      office({ rules: [rule()], translations: [{ ...FORWARD, to: '192.168.50.21' }] }),
      {
        steps: ['fwd-target-typo at gateway', 'answered'],
        values: ['Inside address: 192.168.50.21 > 192.168.50.20'],
      },
    ],
    [
      'a mapping inside out, behind one that is right',
      office({
        ...WHOLE,
        rules: [rule()],
        translations: [
          { ...MAPPING, name: 'mail', outside: '203.0.113.53', inside: '192.168.50.31' },
          { ...MAPPING, outside: '192.168.50.20', inside: '203.0.113.52' },
        ],
      }),
      {
        steps: ['static-inside-out at gateway', 'answered'],
        values: [
          'Outside address: 192.168.50.20 > 203.0.113.52',
          'Inside address: 203.0.113.52 > 192.168.50.20',
        ],
      },
    ],
    [
      'a mapping inside out that is off is none',
      office({
        ...WHOLE,
        rules: [rule()],
        translations: [{ ...MAPPING, outside: '192.168.50.20', inside: '203.0.113.52', enabled: false }],
      }),
      { steps: ['translate-missing at gateway', 'answered'] },
    ],
    [
      'no translation, and a rule for it',
      office({ rules: [rule({ services: ['tcp/22'] }), rule()], translations: [] }),
      {
        steps: ['translate-missing at gateway', 'answered'],
        values: [
          'Outside address: - > 203.0.113.50',
          'Protocol and port: - > TCP 8214',
          'Inside address: - > 192.168.50.20',
        ],
      },
    ],
    [
      'no translation, and a rule for it that is off',
      office({ rules: [rule({ enabled: false })], translations: [] }),
      { steps: ['fwd-none at gateway', 'filter-missing at gateway', 'answered'] },
    ],
    [
      'no translation, and a rule that drops it',
      office({ rules: [rule({ action: 'drop', services: ['tcp/22'] })], translations: [] }),
      { steps: ['fwd-none at gateway', 'filter-missing at gateway', 'answered'] },
    ],
  ];
  for (const [title, given, expected] of table)
    it(title, () => {
      const steps = mendSteps(given);
      expect({ steps: told(steps), values: steps[0] ? values(steps[0]) : [] }).to.deep.include(expected);
    });

  it('a rule without a name is called by its number', () => {
    const finding = (rules: readonly Row[]) => mendSteps(office({ rules }))[0]?.mend?.finding;
    const rules = [rule({ services: ['tcp/22'] }), rule({ name: undefined, destinations: ['203.0.113.50'] })];
    expect(finding(rules)).to.deep.include({
      found: 'zone-rule',
      rule: { name: null, number: 2 },
      isOtherSide: true,
    });
    const zone = [rule({ services: ['tcp/22'] }), rule({ toZone: 'guests' })];
    expect(finding(zone)).to.deep.include({
      found: 'zone-rule',
      rule: { name: 'cast', number: 2 },
      what: 'zone',
    });
    const slip = [rule({ destinations: ['192.168.50.21'] })];
    expect(finding(slip)).to.deep.include({ isOtherSide: false, slip: 'one digit off' });
  });
});
