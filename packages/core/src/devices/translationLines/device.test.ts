import { expect } from 'chai';
import { outcome, run, caseSite, serverEvidence } from '../../testing/index.ts';
import { formatEndpoint } from '../../net/index.ts';
import type { TranslationLinesSettings } from './settings.ts';

const INTERFACES: TranslationLinesSettings['interfaces'] = [
  { name: 'up0', side: 'outside', addresses: ['203.0.113.50/28'] },
  { name: 'in0', side: 'inside', addresses: ['192.168.50.1/24'] },
];
const PORT = {
  type: 'port',
  protocol: 'tcp',
  outside: 'up0',
  outsidePort: 8214,
  inside: '192.168.50.20',
  insidePort: 8214,
} as const;
const WHOLE = { type: 'address', outside: '203.0.113.53', inside: '192.168.50.20' } as const;
const MANY = { type: 'many' } as const;
const SECOND = {
  'second/a':
    '2: eno1: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n    inet 192.168.50.21/24 scope global eno1\n',
  'second/r': 'default via 192.168.50.1 dev eno1\n192.168.50.0/24 dev eno1\n',
  'second/s':
    'Netid State Recv-Q Send-Q Local Address:Port Peer Address:PortProcess\n' +
    'tcp LISTEN 0 1 0.0.0.0:8214 0.0.0.0:*\n',
  'second/n': 'table inet none {\n}\n',
};
const site = (
  lines: TranslationLinesSettings['lines'],
  more: Partial<TranslationLinesSettings> = {},
  sockets = ['tcp 0.0.0.0:8214', 'udp 0.0.0.0:28410'],
) =>
  caseSite(
    [
      { id: 'client', role: 'client' },
      { id: 'carrier', role: 'carrier' },
      {
        id: 'gateway',
        role: 'gateway',
        settings: { kind: 'translation-lines', interfaces: INTERFACES, lines, ownPorts: [], ...more },
      },
      { id: 'host', role: 'host' },
      { id: 'second', role: 'host' },
    ],
    { ...serverEvidence('192.168.50.20/24', '192.168.50.1', sockets), ...SECOND },
  );

describe('router with translation lines only: settings, packet, outcome', () => {
  const OUT = '203.0.113.50:8214/tcp';
  const table: readonly (readonly [string, Parameters<typeof site>, string, string])[] = [
    ['one port of the interface’s address', [[PORT]], OUT, 'answered at host'],
    ['the same by the address itself', [[{ ...PORT, outside: '203.0.113.50' }]], OUT, 'answered at host'],
    ['no line: the router itself refuses', [[]], OUT, 'refused at gateway'],
    ['no line, and it is not known what the router answers', [[], { ownPorts: undefined }], OUT, 'unknown'],
    [
      'the router itself listens on the port',
      [[], { ownPorts: [{ protocol: 'tcp', ports: 8214 }] }],
      OUT,
      'answered at gateway',
    ],
    ['the line is for the other protocol', [[{ ...PORT, protocol: 'udp' }]], OUT, 'refused at gateway'],
    ['another outside port', [[{ ...PORT, outsidePort: 8215 }]], OUT, 'refused at gateway'],
    ['another inside port, where nothing listens', [[{ ...PORT, insidePort: 8215 }]], OUT, 'refused at host'],
    ['a whole outside address', [[WHOLE]], '203.0.113.53:8214/tcp', 'answered at host'],
    ['a whole address carries every protocol', [[WHOLE]], '203.0.113.53:28410/udp', 'answered at host'],
    [
      'a whole address needs no filter rule: a closed port refuses',
      [[WHOLE]],
      '203.0.113.53:22/tcp',
      'refused at host',
    ],
    [
      'several servers, each with an address of its own',
      [[WHOLE, { ...WHOLE, outside: '203.0.113.54', inside: '192.168.50.21' }]],
      '203.0.113.54:8214/tcp',
      'answered at second',
    ],
    [
      'the inside address given as the outside one',
      [[{ ...WHOLE, outside: '192.168.50.20' }]],
      '203.0.113.53:8214/tcp',
      'unknown',
    ],
    [
      'an outside address of a prefix that is routed to it',
      [[{ ...WHOLE, outside: '198.51.100.201' }], { outsidePrefixes: ['198.51.100.200/29'] }],
      '198.51.100.201:8214/tcp',
      'answered at host',
    ],
    ['a line to an address that nobody has', [[{ ...PORT, inside: '192.168.50.99' }]], OUT, 'unknown'],
    [
      'an earlier line takes the port',
      [[{ ...PORT, inside: '192.168.50.21' }, PORT]],
      OUT,
      'answered at second',
    ],
    ['nothing listens at all', [[PORT], {}, []], OUT, 'refused at host'],
  ];
  for (const [title, settings, to, expected] of table)
    it(`${title}: ${expected}`, () =>
      expect(outcome(run(site(...settings), '198.51.100.203', to))).to.equal(expected));

  it('a machine with an address of its own leaves behind it, others behind the interface', () => {
    const far = {
      'far/a':
        '2: ens3: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n    inet 198.51.100.99/24 scope global ens3\n',
      'far/r': 'default via 198.51.100.1 dev ens3\n198.51.100.0/24 dev ens3\n',
      'far/s':
        'Netid State Recv-Q Send-Q Local Address:Port Peer Address:PortProcess\n' +
        'tcp LISTEN 0 1 0.0.0.0:80 0.0.0.0:*\n',
      'far/n': 'table inet none {\n}\n',
    };
    const s = caseSite(
      [
        { id: 'host', role: 'host' },
        { id: 'second', role: 'host' },
        {
          id: 'gateway',
          role: 'gateway',
          settings: { kind: 'translation-lines', interfaces: INTERFACES, lines: [WHOLE, MANY], ownPorts: [] },
        },
        { id: 'carrier', role: 'carrier' },
        { id: 'far', role: 'host' },
      ],
      { ...serverEvidence('192.168.50.20/24', '192.168.50.1', []), ...SECOND, ...far },
    );
    expect(formatEndpoint(run(s, '192.168.50.20:40000', '198.51.100.99:80/tcp').seen!.source)).to.equal(
      '203.0.113.53:40000',
    );
    expect(formatEndpoint(run(s, '192.168.50.21:40000', '198.51.100.99:80/tcp').seen!.source)).to.equal(
      '203.0.113.50:40000',
    );
  });
});
