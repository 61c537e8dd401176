import { expect } from 'chai';
import { caseFacts } from '../testing/index.ts';

const PATH = [
  { id: 'client', role: 'client' },
  { id: 'gateway', role: 'gateway' },
  { id: 'host', role: 'host' },
];
/** What follows from pieces, as `vantage to outcome`. */
const seen = (files: Record<string, string>, client: object = { address: '198.51.100.23' }): string[] =>
  (caseFacts(PATH, files, { client }).document.observations ?? []).map(
    (o) => `${o.vantage} ${o.to} ${o.outcome}`,
  );

describe('tries whose output was sent', () => {
  const WAITS = 'nc: connect to 203.0.113.50 port 8214 (tcp) timed out: Operation now in progress\n';
  const table: readonly (readonly [string, Record<string, string>, readonly string[], object?])[] = [
    ['of the client from outside', { 'client/nc': WAITS }, ['client 203.0.113.50:8214/tcp lost']],
    [
      'of a client that stands inside: the outside address is a try of its own',
      { 'client/nc': WAITS },
      ['lan-by-outside-address 203.0.113.50:8214/tcp lost'],
      { address: '192.168.50.77' },
    ],
    [
      'of a client inside, by the inside address',
      { 'client/nc': 'nc: connect to 192.168.50.20 port 8214 (tcp) failed: Connection refused\n' },
      ['lan 192.168.50.20:8214/tcp refused'],
      { address: '192.168.50.77' },
    ],
    [
      'on the server itself',
      { 'host/nc': 'Connection to 127.0.0.1 8214 port [tcp/*] succeeded!\n' },
      ['host 127.0.0.1:8214/tcp answered'],
    ],
    [
      'on the server itself, by an address that it prints',
      {
        'host/nc': 'Connection to 192.168.50.20 8214 port [tcp/*] succeeded!\n',
        'host/addresses':
          '2: eno1: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n    inet 192.168.50.20/24 scope global eno1\n',
      },
      ['host 192.168.50.20:8214/tcp answered'],
    ],
    [
      'on the server, by an address that is not its own: whose it is, nobody says',
      {
        'host/nc': 'Connection to 192.168.50.31 8214 port [tcp/*] succeeded!\n',
        'host/addresses':
          '2: eno1: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n    inet 192.168.50.20/24 scope global eno1\n',
      },
      [],
    ],
    [
      'on the server, while its own addresses are not known',
      { 'host/nc': 'Connection to 192.168.50.20 8214 port [tcp/*] succeeded!\n' },
      [],
    ],
    [
      'a server that turns somebody away has answered',
      {
        'client/psql':
          'psql: error: connection to server at "203.0.113.50", port 5432 failed: FATAL:  no ' +
          'pg_hba.conf entry for host "198.51.100.23", user "moor", database "tides", no encryption\n',
      },
      ['client 203.0.113.50:5432/tcp answered'],
    ],
    [
      'UDP that “succeeded” proves nothing',
      { 'client/nc': 'Connection to 203.0.113.50 8214 port [udp/*] succeeded!\n' },
      [],
    ],
    [
      'of the server to an address of its own',
      {
        'host/nc': 'Connection to 192.168.50.20 8214 port [tcp/*] succeeded!\n',
        'host/addresses':
          '2: eno1: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n    inet 192.168.50.20/24 scope global eno1\n',
      },
      ['host 192.168.50.20:8214/tcp answered'],
    ],
    [
      'of the server to another machine inside',
      { 'host/nc': 'Connection to 192.168.50.1 8214 port [tcp/*] succeeded!\n' },
      [],
    ],
    [
      'that found no way: the sender’s own network may be at fault',
      { 'client/nc': 'nc: connect to 203.0.113.50 port 8214 (tcp) failed: No route to host\n' },
      [],
    ],
    ['of the server to an outside address: whose that is, is not said', { 'host/nc': WAITS }, []],
    ['without an address or a port there is no try', { 'client/ncat': 'Ncat: Connection refused.\n' }, []],
    ['from a gateway nothing follows for the client’s way', { 'gateway/nc': WAITS }, []],
  ];
  for (const [title, files, expected, client] of table)
    it(title, () => expect(seen(files, client)).to.deep.equal(expected));
});

describe('tries that were noted and tries that were sent', () => {
  const told = (at: readonly [string, string], noted: readonly object[]): string[] => {
    const [first, second] = at;
    const evidence = [
      { stop: 'client', file: 'evidence/client/one.txt', at: first },
      { stop: 'client', file: 'evidence/client/two.txt', at: second },
    ];
    const to = (port: number) =>
      `nc: connect to 203.0.113.50 port ${port} (tcp) timed out: Operation now in progress\n`;
    const facts = caseFacts(
      PATH,
      { 'client/one': to(1), 'client/two': to(2) },
      { evidence, observations: noted, client: { address: '198.51.100.23' } },
    );
    return (facts.document.observations ?? []).map((o) => o.to);
  };
  const noted = (port: number, more: object) => ({
    vantage: 'client',
    to: `203.0.113.50:${port}/tcp`,
    outcome: 'lost',
    ...more,
  });

  it('stand in the order of time, those without any before all others', () => {
    const list = [
      noted(3, { at: '2026-11-25T10:00:30Z' }),
      noted(4, {}),
      noted(5, { at: '2026-11-25T09:00:00Z' }),
    ];
    expect(told(['2026-11-25T10:01:00Z', '2026-11-25T10:00:00Z'], list)).to.deep.equal(
      [4, 5, 2, 3, 1].map((port) => `203.0.113.50:${port}/tcp`),
    );
  });

  it('are kept where nothing was noted', () => {
    expect(told(['2026-11-25T10:01:00Z', '2026-11-25T10:00:00Z'], [])).to.deep.equal([
      '203.0.113.50:2/tcp',
      '203.0.113.50:1/tcp',
    ]);
  });
});
