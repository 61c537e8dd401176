import { expect } from 'chai';
import { forwardingGateway, outcome, run, caseSite, serverEvidence } from '../../testing/index.ts';
import type { HostProfilesSettings, HostRow } from './settings.ts';

const PROFILES: HostProfilesSettings['profiles'] = {
  home: { in: 'block', out: 'allow' },
  public: { in: 'block', out: 'allow' },
  off: { on: false, in: 'block', out: 'allow' },
};
const ROW: HostRow = { direction: 'in', action: 'allow', protocol: 'tcp', localPorts: 8214 };
const EVIDENCE = serverEvidence(
  '192.168.50.20/24',
  '192.168.50.1',
  ['tcp 0.0.0.0:8214 gullcast', 'udp 0.0.0.0:28410 lanternd'],
  '',
);
const FORWARDS = ['tcp 8214', 'udp 28410', 'tcp 9999'].map((t) => ({
  protocol: t.split(' ')[0],
  ports: Number(t.split(' ')[1]),
  to: '192.168.50.20',
}));
const site = (rows: readonly HostRow[], more: Partial<HostProfilesSettings> = {}) =>
  caseSite(
    [
      { id: 'client', role: 'client' },
      { id: 'carrier', role: 'carrier' },
      forwardingGateway({ rows: FORWARDS }),
      {
        id: 'host',
        role: 'host',
        settings: {
          kind: 'host-profiles',
          active: 'home',
          profiles: PROFILES,
          rows,
          silentWhenClosed: false,
          ...more,
        },
      },
      { id: 'inside', role: 'client' },
    ],
    {
      ...EVIDENCE,
      'inside/a':
        '2: wlp2s0: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n' +
        '    inet 192.168.50.77/24 scope global wlp2s0\n',
      'inside/r': 'default via 192.168.50.1 dev wlp2s0\n192.168.50.0/24 dev wlp2s0 scope link\n',
      'inside/n': 'table inet none {\n}\n',
    },
  );

describe('host firewall with profiles: settings, packet, outcome', () => {
  const OUT = '203.0.113.50:8214/tcp';
  const FROM = '198.51.100.23';
  const table: readonly (readonly [string, Parameters<typeof site>, string, string])[] = [
    ['one exact row', [[ROW]], OUT, 'answered at host'],
    ['no row, and the profile blocks', [[]], OUT, 'lost at host'],
    ['a row that is switched off', [[{ ...ROW, enabled: false }]], OUT, 'lost at host'],
    [
      'a row on a profile that is not the active one',
      [[{ ...ROW, profiles: ['public'] }]],
      OUT,
      'lost at host',
    ],
    [
      'the active profile is not known, and it matters',
      [
        [{ ...ROW, profiles: ['public'] }],
        { active: undefined, profiles: { home: PROFILES['home']!, public: PROFILES['public']! } },
      ],
      OUT,
      'unknown',
    ],
    [
      'the active profile is not known, and it does not matter',
      [[ROW], { active: undefined }],
      OUT,
      'answered at host',
    ],
    ['the firewall is off on the active profile', [[], { active: 'off' }], OUT, 'answered at host'],
    ['a block beats the allow above it', [[ROW, { ...ROW, action: 'block' }]], OUT, 'lost at host'],
    ['a block beats the allow below it', [[{ ...ROW, action: 'block' }, ROW]], OUT, 'lost at host'],
    [
      'only what is authenticated is allowed',
      [[{ ...ROW, action: 'allow-if-authenticated' }]],
      OUT,
      'lost at host',
    ],
    ['scope: local subnet', [[{ ...ROW, remoteAddresses: ['local-subnet'] }]], OUT, 'lost at host'],
    [
      'scope: the client’s prefix',
      [[{ ...ROW, remoteAddresses: ['198.51.100.0/24'] }]],
      OUT,
      'answered at host',
    ],
    ['scope: one digit off', [[{ ...ROW, remoteAddresses: ['198.51.100.33'] }]], OUT, 'lost at host'],
    [
      'for the right program',
      [[{ ...ROW, localPorts: undefined, program: 'Gullcast.exe' }]],
      OUT,
      'answered at host',
    ],
    [
      'for a program by its path, where only its name is listed',
      [[{ ...ROW, localPorts: undefined, program: 'C:\\Radio\\Gullcast.exe' }]],
      OUT,
      'unknown',
    ],
    ['for another program', [[{ ...ROW, program: '/usr/bin/lanternd' }]], OUT, 'lost at host'],
    ['the other protocol', [[{ ...ROW, protocol: 'udp' }]], OUT, 'lost at host'],
    ['UDP', [[{ ...ROW, protocol: 'udp', localPorts: 28410 }]], '203.0.113.50:28410/udp', 'answered at host'],
    [
      'an allowed port on which nothing listens, refusals let out',
      [[{ ...ROW, localPorts: 9999 }]],
      '203.0.113.50:9999/tcp',
      'refused at host',
    ],
    [
      'an allowed port on which nothing listens, refusals held back',
      [[{ ...ROW, localPorts: 9999 }], { silentWhenClosed: true }],
      '203.0.113.50:9999/tcp',
      'lost at host (reply)',
    ],
    [
      'an allowed port on which nothing listens, the manner not known',
      [[{ ...ROW, localPorts: 9999 }], { silentWhenClosed: undefined }],
      '203.0.113.50:9999/tcp',
      'unknown',
    ],
    [
      'outgoing default does not matter for answers',
      [[ROW], { profiles: { home: { in: 'block', out: 'block' } } }],
      OUT,
      'answered at host',
    ],
  ];
  for (const [title, settings, to, expected] of table)
    it(`${title}: ${expected}`, () => expect(outcome(run(site(...settings), FROM, to))).to.equal(expected));

  it('the local subnet is the machine’s own network', () =>
    expect(
      outcome(
        run(site([{ ...ROW, remoteAddresses: ['local-subnet'] }]), '192.168.50.77', '192.168.50.20:8214/tcp'),
      ),
    ).to.equal('answered at host'));
});
