import { expect } from 'chai';
import { mendCases } from '../testing/index.ts';
import type { MendStep } from './index.ts';

const { CARRIER, CLIENT, GATEWAY, HOST, mendSteps, places, SERVER, STATUS, told, values, WHOLE } = mendCases;
type Given = mendCases.Given;

const HEAD = 'Name\tProtocol\tOutside port\tInside address\tInside port\n';
/** A router that lists its table. */
const listed = (...rows: string[]): Given => ({
  files: { ...WHOLE, 'gateway/forwards': HEAD + rows.map((r) => `${r}\n`).join('') },
});
const LINES = [
  { name: 'wan', side: 'outside', addresses: ['203.0.113.50'] },
  { name: 'lan', side: 'inside', addresses: ['192.168.50.1/24'] },
];
const TO = '192.168.50.20';
/** A router that somebody filled in. */
const typed = (...rows: Record<string, unknown>[]): Given => ({
  path: [
    CLIENT,
    CARRIER,
    {
      ...GATEWAY,
      settings: {
        kind: 'forward-table',
        interfaces: LINES,
        rows: rows.map((r) => ({ protocol: 'tcp', ports: 8214, to: TO, ...r })),
        ownPorts: [],
        clash: 'first',
      },
    },
    HOST,
  ],
  files: SERVER,
});

interface Told {
  readonly steps: readonly string[];
  readonly values?: readonly string[];
  readonly at?: readonly string[];
}
const account = (steps: readonly MendStep[]): Required<Told> => ({
  steps: told(steps),
  values: steps[0] ? values(steps[0]) : [],
  at: steps[0] ? places(steps[0]) : [],
});

describe('the row of a forward table that comes nearest, and its one value', () => {
  const table: readonly (readonly [string, Given, Told])[] = [
    [
      'switched off',
      typed({ enabled: false }),
      { steps: ['fwd-disabled at gateway', 'answered'], values: ['Enabled: off > on'] },
    ],
    [
      'switched off, and for the other protocol: another row is missing',
      typed({ enabled: false, protocol: 'udp', ports: 9000 }),
      { steps: ['fwd-none at gateway', 'answered'] },
    ],
    [
      'switched off for the other protocol on this port: its protocol is wrong, and it is off',
      typed({ enabled: false, protocol: 'udp' }),
      { steps: ['fwd-protocol at gateway', 'fwd-disabled at gateway', 'answered'] },
    ],
    [
      'entered and not applied',
      typed({ state: 'staged' }),
      { steps: ['fwd-not-applied at gateway', 'answered'], values: ['State: not applied > applied'] },
    ],
    [
      'in force after a restart',
      typed({ state: 'needs-restart' }),
      { steps: ['fwd-needs-restart at gateway', 'answered'], values: ['State: restart needed > in force'] },
    ],
    [
      'switched off and never applied: one after the other',
      typed({ enabled: false, state: 'staged' }),
      { steps: ['fwd-disabled at gateway', 'fwd-not-applied at gateway', 'answered'] },
    ],
    [
      'for others than the client',
      typed({ sources: ['192.0.2.0/24'] }),
      {
        steps: ['fwd-source at gateway', 'answered'],
        values: ['Allowed source: 192.0.2.0/24 > anyone'],
      },
    ],
    [
      'for others than the client: the audience is let in, and nobody else',
      { ...typed({ sources: ['192.0.2.0/24'] }), audience: ['198.51.100.0/24'] },
      {
        steps: ['fwd-source at gateway', 'answered'],
        values: ['Allowed source: 192.0.2.0/24 > 198.51.100.0/24'],
      },
    ],
    [
      'for the client among others, and to the wrong machine',
      typed({ sources: ['192.0.2.0/24', '198.51.100.23'], to: '192.168.50.29' }),
      { steps: ['fwd-target-typo at gateway', 'answered'] },
    ],
    [
      'its first port',
      typed({ protocol: 'udp', ports: '8214-8220' }),
      { steps: ['fwd-protocol at gateway', 'answered'], values: ['Protocol: UDP > TCP and UDP'] },
    ],
    [
      'its last port',
      typed({ protocol: 'udp', ports: '8200-8214', toPort: 8200 }),
      { steps: ['fwd-protocol at gateway', 'answered'] },
    ],
    [
      'one port short at either end',
      typed({ protocol: 'udp', ports: '8200-8213' }, { protocol: 'udp', ports: '8215-8220' }),
      { steps: ['fwd-none at gateway', 'answered'] },
    ],
    [
      'another outside port that leads to the right one',
      typed({ ports: 8299, toPort: 8214 }),
      { steps: ['fwd-outside-port at gateway', 'answered'], values: ['Outside port: 8299 > 8214'] },
    ],
    [
      'another outside port to another machine is somebody else’s',
      typed({ ports: 8299, toPort: 8214, to: '192.168.50.31' }),
      { steps: ['fwd-none at gateway', 'answered'] },
    ],
    [
      'another outside port of the other protocol is another service',
      typed({ ports: 8299, toPort: 8214, protocol: 'udp' }),
      { steps: ['fwd-none at gateway', 'answered'] },
    ],
    [
      'a row for both protocols elsewhere',
      typed({ ports: 8299, toPort: 8214, protocol: 'both' }),
      { steps: ['fwd-outside-port at gateway', 'answered'] },
    ],
    [
      'nothing near',
      typed({ ports: 80 }),
      {
        steps: ['fwd-none at gateway', 'answered'],
        values: [
          'Protocol: - > TCP',
          'Outside port: - > 8214',
          `Inside address: - > ${TO}`,
          'Inside port: - > 8214',
        ],
      },
    ],
    [
      'of a listing its lines are named',
      listed(`web\tTCP\t80\t192.168.50.31\t80`, `cast\tUDP\t8214\t${TO}\t8214`),
      { steps: ['fwd-protocol at gateway', 'answered'], at: ['gateway/forwards:3'] },
    ],
    [
      'of a listing without one its first line is named',
      listed(`web\tTCP\t80\t192.168.50.31\t80`, `mail\tTCP\t25\t192.168.50.31\t25`),
      { steps: ['fwd-none at gateway', 'answered'], at: ['gateway/forwards:2'] },
    ],
  ];
  for (const [title, given, expected] of table)
    it(title, () => expect(account(mendSteps(given))).to.deep.include(expected));
});

describe('a range of ports that one service speaks on', () => {
  const RANGE = [{ protocol: 'tcp', port: 8210, portEnd: 8215 }];
  const ranged = (...rows: Record<string, unknown>[]): Given => ({ ...typed(...rows), endpoints: RANGE });
  const table: readonly (readonly [string, Given, Told])[] = [
    [
      'the end is missing',
      ranged({ ports: '8210-8212' }),
      {
        steps: ['fwd-range at gateway', 'answered'],
        values: ['Outside ports: 8210-8212 > 8210-8214', 'Inside ports: - > the same range'],
      },
    ],
    [
      'the beginning is missing',
      ranged({ ports: '8215-8219' }),
      {
        steps: ['fwd-range at gateway', 'answered'],
        values: ['Outside ports: 8215-8219 > 8214-8219', 'Inside ports: - > the same range'],
      },
    ],
    [
      'it leads to other ports, and goes on to do so',
      ranged({ ports: '8210-8213', toPort: 9210 }),
      { steps: ['fwd-range at gateway', 'fwd-inside-port at gateway', 'answered'] },
    ],
    [
      'a row beside the range is another service’s',
      ranged({ ports: '8216-8219' }),
      { steps: ['fwd-none at gateway', 'answered'] },
    ],
    ['and one before it', ranged({ ports: '8200-8209' }), { steps: ['fwd-none at gateway', 'answered'] }],
    [
      'the other protocol is another service',
      ranged({ ports: '8210-8212', protocol: 'udp' }),
      { steps: ['fwd-none at gateway', 'answered'] },
    ],
    [
      'what is switched off takes no more of it',
      ranged({ ports: '8210-8212', enabled: false }),
      { steps: ['fwd-none at gateway', 'answered'] },
    ],
  ];
  for (const [title, given, expected] of table)
    it(title, () => expect(account(mendSteps(given))).to.deep.include(expected));

  it('a single port is no range', () =>
    expect(
      told(mendSteps({ ...typed({ ports: '8210-8213' }), endpoints: [{ protocol: 'tcp', port: 8214 }] })),
    ).to.deep.equal(['fwd-none at gateway', 'answered']));
});

describe('a row that is bound to another line', () => {
  const lines = [
    { name: 'wan', side: 'outside', addresses: ['203.0.113.50'] },
    { name: 'Fibre', side: 'outside', addresses: ['203.0.113.98'] },
    { name: 'lan', side: 'inside', addresses: ['192.168.50.1/24'] },
  ];
  const on = (...rows: Record<string, unknown>[]): Given => {
    const given = typed(...rows);
    const path = given.path?.map((s) =>
      s.id === 'gateway'
        ? {
            ...s,
            settings: { ...(s['settings'] as object), interfaces: lines, answersBy: 'same-line' },
          }
        : s,
    );
    return { ...given, ...(path ? { path } : {}) };
  };
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
      typed({ name: 'old', ports: '8200-8299', toPort: 8200, to: '192.168.50.31' }, { name: 'cast' }),
      { steps: ['fwd-shadowed at gateway', 'answered'] },
    ],
    [
      'a row for all above one that is off: its target is wrong',
      typed({ ports: '8200-8299', toPort: 8200, to: '192.168.50.21' }, { enabled: false }),
      { steps: ['fwd-target-typo at gateway', 'answered'] },
    ],
    [
      'a row above one for the other protocol: its target is wrong',
      typed({ to: '192.168.50.21' }, { protocol: 'udp' }),
      { steps: ['fwd-target-typo at gateway', 'answered'] },
    ],
    [
      'a row above one for other ports: its target is wrong',
      typed({ to: '192.168.50.21' }, { ports: '8215-8299' }, { ports: '8200-8213' }),
      { steps: ['fwd-target-typo at gateway', 'answered'] },
    ],
    [
      'a row above one that was never applied: its target is wrong',
      typed({ to: '192.168.50.21' }, { state: 'staged' }),
      { steps: ['fwd-target-typo at gateway', 'answered'] },
    ],
    [
      'a row above one for both protocols',
      typed({ to: '192.168.50.21' }, { protocol: 'both' }),
      { steps: ['fwd-shadowed at gateway', 'answered'] },
    ],
  ];
  for (const [title, given, expected] of table)
    it(title, () => expect(account(mendSteps(given))).to.deep.include(expected));

  it('rows without names are called by their numbers', () => {
    const [first] = mendSteps(
      typed({ ports: 80 }, { ports: '8200-8299', toPort: 8200, to: '192.168.50.31' }, { name: 'cast' }),
    );
    expect(first?.mend?.finding).to.deep.include({ found: 'shadowed', by: 'row 2', right: 'row “cast”' });
  });

  it('the row is named by its number in the table', () => {
    const [first] = mendSteps(typed({ ports: 80 }, { to: '192.168.50.21' }));
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

describe('what was dialled is not where the network is', () => {
  const at = (status: string, more: Record<string, string> = {}): Given => ({
    files: { ...WHOLE, 'gateway/status': status, ...more },
  });
  const NAME = 'radio.example.net has address 203.0.113.50\n';
  const MOVED = 'WAN IP 203.0.113.77\nLAN IP 192.168.50.1\n';
  const table: readonly (readonly [string, Given, Told])[] = [
    [
      'the outside address is another one now',
      at(MOVED),
      { steps: ['wan-changed at client', 'answered'], at: ['gateway/status:1'] },
    ],
    [
      'the name still leads to the old one',
      at(MOVED, { 'client/name': NAME }),
      {
        steps: ['name-stale at client', 'answered'],
        values: ['Address: 203.0.113.50 > 203.0.113.77'],
        at: ['client/name:1', 'gateway/status:1'],
      },
    ],
    [
      'another name does not',
      at(MOVED, { 'client/name': 'mail.example.net has address 203.0.113.99\n' }),
      { steps: ['wan-changed at client', 'answered'] },
    ],
    [
      'the name leads to an inside address',
      { ...at(STATUS, { 'client/name': `radio.example.net has address ${TO}\n` }), to: `${TO}:8214/tcp` },
      { steps: ['name-private at client', 'answered'] },
    ],
    [
      'an inside address was dialled',
      { ...at(STATUS), to: `${TO}:8214/tcp` },
      { steps: ['dial-private at client', 'answered'], values: [`Address: ${TO} > 203.0.113.50`] },
    ],
  ];
  for (const [title, given, expected] of table)
    it(title, () => expect(account(mendSteps(given))).to.deep.include(expected));
});
