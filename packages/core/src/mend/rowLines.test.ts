import { expect } from 'chai';
import { mendCases } from '../testing/index.ts';

const { account, CARRIER, CLIENT, filledIn, GATEWAY, HOST, mendSteps, SERVER, told } = mendCases;
type Given = mendCases.Given;
type Told = mendCases.Told;

const TO = '192.168.50.20';

describe('a row that is bound to another line', () => {
  const lines = [
    { name: 'wan', side: 'outside', addresses: ['203.0.113.50'] },
    { name: 'Fibre', side: 'outside', addresses: ['203.0.113.98'] },
    { name: 'lan', side: 'inside', addresses: ['192.168.50.1/24'] },
  ];
  const on = (...rows: Record<string, unknown>[]): Given => ({
    path: [CLIENT, CARRIER, filledIn(rows, { interfaces: lines, answersBy: 'same-line' }), HOST],
    files: SERVER,
  });
  const table: readonly (readonly [string, Given, Told])[] = [
    ['the line that was dialled', on({ line: 'wan' }), { steps: ['answered'] }],
    [
      'the other one',
      on({ line: 'fibre' }),
      {
        steps: ['fwd-line at gateway', 'answered'],
        values: ['Line: the one with 203.0.113.98 > also the one with 203.0.113.50'],
      },
    ],
    [
      'the other one, from the other side',
      { ...on({ line: 'wan' }), to: '203.0.113.98:8214/tcp' },
      {
        steps: ['fwd-line at gateway', 'answered'],
        values: ['Line: the one with 203.0.113.50 > also the one with 203.0.113.98'],
      },
    ],
    [
      'the other one, beside one for another port',
      on({ ports: 80 }, { line: 'Fibre' }),
      { steps: ['fwd-line at gateway', 'answered'] },
    ],
    [
      'the other one, and switched off: first it is switched on',
      on({ line: 'Fibre', enabled: false }),
      { steps: ['fwd-disabled at gateway', 'fwd-line at gateway', 'answered'] },
    ],
  ];
  for (const [title, given, expected] of table)
    it(title, () => expect(account(mendSteps(given))).to.deep.include(expected));
});

describe('two routers in a row', () => {
  const path = [CLIENT, CARRIER, { id: 'outer', role: 'gateway' }, GATEWAY, HOST];
  const twice = (outer: string, inner: string): Given => ({
    path,
    files: {
      ...SERVER,
      'outer/status': 'WAN IP 203.0.113.50\nLAN IP 192.168.1.1\n',
      'gateway/status': 'WAN IP 192.168.1.2\nLAN IP 192.168.50.1\n',
      'outer/forwards': outer,
      'gateway/forwards': inner,
    },
  });
  const NONE = 'tcp 80 192.168.9.9 80\n';
  const OUTER = 'tcp 8214 192.168.1.2 8214\n';
  const INNER = `tcp 8214 ${TO} 8214\n`;
  const table: readonly (readonly [string, Given, readonly string[]])[] = [
    ['both forward', twice(OUTER, INNER), ['answered']],
    ['the outer one does not', twice(NONE, INNER), ['outer-missing at outer', 'answered']],
    ['the inner one does not', twice(OUTER, NONE), ['inner-missing at gateway', 'answered']],
    ['neither does', twice(NONE, NONE), ['outer-missing at outer', 'inner-missing at gateway', 'answered']],
    [
      'the outer one leads past the inner one',
      twice(`tcp 8214 192.168.1.20 8214\n`, INNER),
      ['fwd-target-typo at outer', 'answered'],
    ],
  ];
  for (const [title, given, expected] of table)
    it(title, () => expect(told(mendSteps(given))).to.deep.equal(expected));
});
