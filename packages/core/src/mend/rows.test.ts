import { expect } from 'chai';
import { mendCases } from '../testing/index.ts';

const { account, mendSteps, router, told, WHOLE } = mendCases;
type Given = mendCases.Given;
type Told = mendCases.Told;

const HEAD = 'Name\tProtocol\tOutside port\tInside address\tInside port\n';
/** A router that lists its table. */
const listed = (...rows: string[]): Given => ({
  files: { ...WHOLE, 'gateway/forwards': HEAD + rows.map((r) => `${r}\n`).join('') },
});
const TO = '192.168.50.20';

describe('the row of a forward table that comes nearest, and its one value', () => {
  const table: readonly (readonly [string, Given, Told])[] = [
    [
      'switched off',
      router({ enabled: false }),
      { steps: ['fwd-disabled at gateway', 'answered'], values: ['Enabled: off > on'] },
    ],
    [
      'switched off, and for the other protocol: another row is missing',
      router({ enabled: false, protocol: 'udp', ports: 9000 }),
      { steps: ['fwd-none at gateway', 'answered'] },
    ],
    [
      'switched off for the other protocol on this port: its protocol is wrong, and it is off',
      router({ enabled: false, protocol: 'udp' }),
      { steps: ['fwd-protocol at gateway', 'fwd-disabled at gateway', 'answered'] },
    ],
    [
      'entered and not applied',
      router({ state: 'staged' }),
      { steps: ['fwd-not-applied at gateway', 'answered'], values: ['State: not applied > applied'] },
    ],
    [
      'in force after a restart',
      router({ state: 'needs-restart' }),
      { steps: ['fwd-needs-restart at gateway', 'answered'], values: ['State: restart needed > in force'] },
    ],
    [
      'switched off and never applied: one after the other',
      router({ enabled: false, state: 'staged' }),
      { steps: ['fwd-disabled at gateway', 'fwd-not-applied at gateway', 'answered'] },
    ],
    [
      'for others than the client',
      router({ sources: ['192.0.2.0/24'] }),
      {
        steps: ['fwd-source at gateway', 'answered'],
        values: ['Allowed source: 192.0.2.0/24 > anyone'],
      },
    ],
    [
      'for others than the client: the audience is let in, and nobody else',
      { ...router({ sources: ['192.0.2.0/24'] }), audience: ['198.51.100.0/24'] },
      {
        steps: ['fwd-source at gateway', 'answered'],
        values: ['Allowed source: 192.0.2.0/24 > 198.51.100.0/24'],
      },
    ],
    [
      'for the client among others, and to the wrong machine',
      router({ sources: ['192.0.2.0/24', '198.51.100.23'], to: '192.168.50.29' }),
      { steps: ['fwd-target-typo at gateway', 'answered'] },
    ],
    [
      'its first port',
      router({ protocol: 'udp', ports: '8214-8220' }),
      { steps: ['fwd-protocol at gateway', 'answered'], values: ['Protocol: UDP > TCP and UDP'] },
    ],
    [
      'its last port',
      router({ protocol: 'udp', ports: '8200-8214', toPort: 8200 }),
      { steps: ['fwd-protocol at gateway', 'answered'] },
    ],
    [
      'one port short at either end',
      router({ protocol: 'udp', ports: '8200-8213' }, { protocol: 'udp', ports: '8215-8220' }),
      { steps: ['fwd-none at gateway', 'answered'] },
    ],
    [
      'another outside port that leads to the right one',
      router({ ports: 8299, toPort: 8214 }),
      { steps: ['fwd-outside-port at gateway', 'answered'], values: ['Outside port: 8299 > 8214'] },
    ],
    [
      'another outside port to another machine is somebody else’s',
      router({ ports: 8299, toPort: 8214, to: '192.168.50.31' }),
      { steps: ['fwd-none at gateway', 'answered'] },
    ],
    [
      'another outside port of the other protocol is another service',
      router({ ports: 8299, toPort: 8214, protocol: 'udp' }),
      { steps: ['fwd-none at gateway', 'answered'] },
    ],
    [
      'a row for both protocols elsewhere',
      router({ ports: 8299, toPort: 8214, protocol: 'both' }),
      { steps: ['fwd-outside-port at gateway', 'answered'] },
    ],
    [
      'nothing near',
      router({ ports: 80 }),
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
  const ranged = (...rows: Record<string, unknown>[]): Given => ({ ...router(...rows), endpoints: RANGE });
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
      told(mendSteps({ ...router({ ports: '8210-8213' }), endpoints: [{ protocol: 'tcp', port: 8214 }] })),
    ).to.deep.equal(['fwd-none at gateway', 'answered']));
});
