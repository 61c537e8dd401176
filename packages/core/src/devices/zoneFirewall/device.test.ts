import { expect } from 'chai';
import { outcome, run, caseSite, serverEvidence } from '../../testing/index.ts';
import { formatEndpoint } from '../../net/index.ts';
import type { ZoneFirewallSettings, ZoneRule, ZoneTranslation } from './settings.ts';

const FORWARD: ZoneTranslation = {
  type: 'port-forward',
  outside: 'wan',
  protocol: 'tcp',
  ports: 8214,
  to: '192.168.50.20',
};
const ONE: ZoneTranslation = {
  type: 'one-to-one',
  outside: '203.0.113.52',
  inside: '192.168.50.20',
  twoWay: true,
};
const LEAVE: ZoneTranslation = { type: 'source', fromZone: 'hall', toZone: 'world', to: 'wan' };
const ALLOW: ZoneRule = {
  action: 'allow',
  fromZone: 'world',
  toZone: 'hall',
  destinations: ['heron'],
  services: ['tide'],
};
const BASE: ZoneFirewallSettings = {
  kind: 'zone-firewall',
  translations: [FORWARD, LEAVE],
  rules: [ALLOW],
  otherwise: 'drop',
  destinationSeen: 'after',
  zoneSeen: 'after',
  ownPorts: [{ protocol: 'tcp', ports: 4443 }],
  extraAddresses: ['203.0.113.52'],
  interfaces: [
    { name: 'wan', side: 'outside', zone: 'world', addresses: ['203.0.113.50/29'] },
    { name: 'lan', side: 'inside', zone: 'hall', addresses: ['192.168.50.1/24'] },
    { name: 'guest', side: 'inside', zone: 'guests', addresses: ['192.168.60.1/24'] },
  ],
  names: { heron: ['192.168.50.20'], outside: ['203.0.113.50'] },
  services: { tide: [{ protocol: 'tcp', ports: 8214 }], game: [{ protocol: 'both', ports: '28410-28411' }] },
};
const site = (change: Partial<ZoneFirewallSettings>) =>
  caseSite(
    [
      { id: 'client', role: 'client' },
      { id: 'carrier', role: 'carrier' },
      { id: 'gateway', role: 'gateway', settings: { ...BASE, ...change } },
      { id: 'host', role: 'host' },
    ],
    serverEvidence('192.168.50.20/24', '192.168.50.1', ['tcp 0.0.0.0:8214', 'udp 0.0.0.0:28410']),
  );
const before = { destinationSeen: 'before', zoneSeen: 'before' } as const;

describe('zone firewall: settings, packet, outcome', () => {
  const OUT = '203.0.113.50:8214/tcp';
  const table: readonly (readonly [string, Partial<ZoneFirewallSettings>, string, string])[] = [
    ['translation and filter rule', {}, OUT, 'answered at host'],
    ['a filter rule without a translation', { translations: [LEAVE] }, OUT, 'lost at gateway'],
    ['a translation without a filter rule', { rules: [] }, OUT, 'lost at gateway'],
    [
      'rule names the inside address, the filter sees the outside one',
      { destinationSeen: 'before' },
      OUT,
      'lost at gateway',
    ],
    [
      'rule names the outside address, the filter sees the inside one',
      { rules: [{ ...ALLOW, destinations: ['outside'] }] },
      OUT,
      'lost at gateway',
    ],
    [
      'rule names the outside address, the filter sees it too',
      { destinationSeen: 'before', rules: [{ ...ALLOW, destinations: ['outside'] }] },
      OUT,
      'answered at host',
    ],
    [
      'the zone is looked up before translation, the rule names the inside zone',
      { ...before, rules: [{ ...ALLOW, destinations: ['outside'] }] },
      OUT,
      'lost at gateway',
    ],
    [
      'the zone is looked up before translation, the rule names the outside zone',
      { ...before, rules: [{ ...ALLOW, toZone: 'world', destinations: ['outside'] }] },
      OUT,
      'answered at host',
    ],
    ['the order is not known, and it matters', { destinationSeen: undefined }, OUT, 'unknown'],
    [
      'the order is not known, and it does not matter',
      {
        destinationSeen: undefined,
        zoneSeen: undefined,
        rules: [{ action: 'allow', fromZone: 'world', services: ['tide'] }],
      },
      OUT,
      'answered at host',
    ],
    ['the wrong zone', { rules: [{ ...ALLOW, toZone: 'guests' }] }, OUT, 'lost at gateway'],
    [
      'a deny stands above the allow',
      { rules: [{ action: 'drop', fromZone: 'world' }, ALLOW] },
      OUT,
      'lost at gateway',
    ],
    [
      'a refusal stands above the allow',
      { rules: [{ action: 'reject', fromZone: 'world' }, ALLOW] },
      OUT,
      'refused at gateway',
    ],
    [
      'a deny that is switched off',
      { rules: [{ action: 'drop', fromZone: 'world', enabled: false }, ALLOW] },
      OUT,
      'answered at host',
    ],
    [
      'one digit off in the allowed source',
      { rules: [{ ...ALLOW, sources: ['198.51.100.33'] }] },
      OUT,
      'lost at gateway',
    ],
    [
      'the client’s prefix as allowed source',
      { rules: [{ ...ALLOW, sources: ['198.51.100.0/24'] }] },
      OUT,
      'answered at host',
    ],
    [
      'TCP where the service speaks both',
      {
        translations: [{ ...FORWARD, protocol: 'both', ports: '28410-28411' }],
        rules: [{ ...ALLOW, services: ['game'] }],
      },
      '203.0.113.50:28410/udp',
      'answered at host',
    ],
    [
      'only TCP of it is translated',
      { translations: [{ ...FORWARD, ports: '28410-28411' }], rules: [{ ...ALLOW, services: ['game'] }] },
      '203.0.113.50:28410/udp',
      'lost at gateway',
    ],
    [
      'one-to-one on a further outside address',
      { translations: [ONE] },
      '203.0.113.52:8214/tcp',
      'answered at host',
    ],
    [
      'one-to-one inward only: answers still turn back',
      { translations: [{ ...ONE, twoWay: false }] },
      '203.0.113.52:8214/tcp',
      'answered at host',
    ],
    [
      'an outside address that a translation claims in the prefix of its own line',
      { extraAddresses: [], translations: [ONE] },
      '203.0.113.52:8214/tcp',
      'answered at host',
    ],
    [
      'an outside address that nothing brings to the firewall',
      { extraAddresses: [], translations: [{ ...ONE, outside: '203.0.113.152' }] },
      '203.0.113.152:8214/tcp',
      'unknown',
    ],
    ['the firewall itself answers on its own port', {}, '203.0.113.50:4443/tcp', 'answered at gateway'],
    ['a port that nothing names', {}, '203.0.113.50:22/tcp', 'lost at gateway'],
    ['everything not named is allowed', { rules: [], otherwise: 'allow' }, OUT, 'answered at host'],
    ['everything not named is refused', { rules: [], otherwise: 'reject' }, OUT, 'refused at gateway'],
    [
      'a translation that is switched off',
      { translations: [{ ...FORWARD, enabled: false }] },
      OUT,
      'lost at gateway',
    ],
  ];
  for (const [title, change, to, expected] of table)
    it(`${title}: ${expected}`, () =>
      expect(outcome(run(site(change), '198.51.100.23', to))).to.equal(expected));

  it('a two-way mapping gives the inside machine its outside address, a one-way one does not', () => {
    const leaving = (translations: readonly ZoneTranslation[]): string => {
      const s = caseSite(
        [
          { id: 'host', role: 'host' },
          {
            id: 'gateway',
            role: 'gateway',
            settings: {
              ...BASE,
              translations,
              rules: [{ action: 'allow', fromZone: 'hall', toZone: 'world' }],
            },
          },
          { id: 'far', role: 'host' },
          { id: 'carrier', role: 'carrier' },
        ],
        {
          ...serverEvidence('192.168.50.20/24', '192.168.50.1', []),
          'far/a':
            '2: ens3: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n' +
            '    inet 198.51.100.99/24 scope global ens3\n',
          'far/r': 'default via 198.51.100.1 dev ens3\n198.51.100.0/24 dev ens3\n',
          'far/s':
            'Netid State Recv-Q Send-Q Local Address:Port Peer Address:PortProcess\n' +
            'tcp LISTEN 0 1 0.0.0.0:80 0.0.0.0:*\n',
          'far/n': 'table inet none {\n}\n',
        },
      );
      return formatEndpoint(run(s, '192.168.50.20:40000', '198.51.100.99:80/tcp').seen!.source);
    };
    expect(leaving([ONE, LEAVE])).to.equal('203.0.113.52:40000');
    expect(leaving([{ ...ONE, twoWay: false }, LEAVE])).to.equal('203.0.113.50:40000');
  });
});
