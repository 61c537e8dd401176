import { expect } from 'chai';
import { outcome, run, testMachine, type TestMachine } from '../../testing/index.ts';
import { address, formatEndpoint, prefix } from '../../net/index.ts';
import type { Site } from '../../site/index.ts';
import { compileForwardTable } from './compile.ts';
import { type ForwardRow } from './row.ts';

const CLIENT: TestMachine = {
  role: 'client',
  interfaces: { eth0: ['198.51.100.23/24'] },
  routes: ['default via 198.51.100.1 dev eth0'],
};
const SERVER: TestMachine = {
  interfaces: { eno1: ['192.168.50.20/24'] },
  routes: ['default via 192.168.50.1 dev eno1'],
  sockets: [
    'tcp 0.0.0.0:8214',
    'tcp 0.0.0.0:80',
    'udp 0.0.0.0:28410',
    'udp 0.0.0.0:28411',
    'udp 0.0.0.0:28500',
    'udp 0.0.0.0:28501',
  ],
};

function siteWith(rows: readonly Partial<ForwardRow>[]): Site {
  const whole = rows.map((r): ForwardRow => ({
    name: '',
    protocol: 'tcp',
    outside: { first: 8214, last: 8214 },
    insideAddress: address('192.168.50.20'),
    insideFirst: r.outside?.first ?? 8214,
    enabled: true,
    applied: null,
    sources: null,
    doubts: [],
    source: null,
    ...r,
  }));
  const program = compileForwardTable(whole, { wan: ['wan'], lan: ['lan'] });
  const gateway = {
    ...testMachine('gateway', {
      role: 'gateway',
      interfaces: { wan: ['198.51.100.1/24', '203.0.113.50/32'], lan: ['192.168.50.1/24'] },
    }),
    program: { 4: program, 6: program },
  };
  return {
    machines: [
      testMachine('client', CLIENT),
      gateway,
      testMachine('host', SERVER),
      testMachine('inside', {
        role: 'client',
        interfaces: { eth0: ['192.168.50.77/24'] },
        routes: ['default via 192.168.50.1 dev eth0'],
      }),
    ],
    sharedAddresses: [],
    internet: null,
  };
}

const row = (first: number, last = first): Partial<ForwardRow> => ({ outside: { first, last } });

describe('forward table: settings, packet, outcome', () => {
  const table: readonly (readonly [string, readonly Partial<ForwardRow>[], string, string, string])[] = [
    [
      'a row for the port and protocol',
      [row(8214)],
      '198.51.100.23',
      '203.0.113.50:8214/tcp',
      'answered at host',
    ],
    ['no row: silence at the gateway', [], '198.51.100.23', '203.0.113.50:8214/tcp', 'lost at gateway'],
    [
      'the row is for the other protocol',
      [{ ...row(8214), protocol: 'udp' }],
      '198.51.100.23',
      '203.0.113.50:8214/tcp',
      'lost at gateway',
    ],
    [
      'a row for both takes UDP',
      [{ ...row(28410), protocol: 'both' }],
      '198.51.100.23',
      '203.0.113.50:28410/udp',
      'answered at host',
    ],
    [
      'a row for both takes TCP, where nothing listens',
      [{ ...row(28410), protocol: 'both' }],
      '198.51.100.23',
      '203.0.113.50:28410/tcp',
      'refused at host',
    ],
    [
      'switched off',
      [{ ...row(8214), enabled: false }],
      '198.51.100.23',
      '203.0.113.50:8214/tcp',
      'lost at gateway',
    ],
    [
      'entered and not applied',
      [{ ...row(8214), applied: false }],
      '198.51.100.23',
      '203.0.113.50:8214/tcp',
      'lost at gateway',
    ],
    [
      'inside port differs, outside one dialled',
      [{ ...row(8080), insideFirst: 80 }],
      '198.51.100.23',
      '203.0.113.50:8080/tcp',
      'answered at host',
    ],
    [
      'inside port differs, inside one dialled',
      [{ ...row(8080), insideFirst: 80 }],
      '198.51.100.23',
      '203.0.113.50:80/tcp',
      'lost at gateway',
    ],
    [
      'last port of a range',
      [{ ...row(28410, 28411), protocol: 'udp' }],
      '198.51.100.23',
      '203.0.113.50:28411/udp',
      'answered at host',
    ],
    [
      'one above the range',
      [{ ...row(28410, 28411), protocol: 'udp' }],
      '198.51.100.23',
      '203.0.113.50:28412/udp',
      'lost at gateway',
    ],
    [
      'a shifted range keeps the distance',
      [{ ...row(28410, 28411), protocol: 'udp', insideFirst: 28500 }],
      '198.51.100.23',
      '203.0.113.50:28411/udp',
      'answered at host',
    ],
    [
      'an allowed source that holds the client',
      [{ ...row(8214), sources: [prefix('198.51.100.0/24')] }],
      '198.51.100.23',
      '203.0.113.50:8214/tcp',
      'answered at host',
    ],
    [
      'an allowed source one digit off',
      [{ ...row(8214), sources: [prefix('198.51.100.33/32')] }],
      '198.51.100.23',
      '203.0.113.50:8214/tcp',
      'lost at gateway',
    ],
    [
      'sent to an address that no known machine has',
      [{ ...row(8214), insideAddress: address('192.168.50.31') }],
      '198.51.100.23',
      '203.0.113.50:8214/tcp',
      'unknown',
    ],
    [
      'two rows claim the port and differ: which one wins is not known',
      [row(8214), { ...row(8214), insideFirst: 9999 }],
      '198.51.100.23',
      '203.0.113.50:8214/tcp',
      'unknown',
    ],
    [
      'two rows claim the port and agree',
      [row(8214), row(8214)],
      '198.51.100.23',
      '203.0.113.50:8214/tcp',
      'answered at host',
    ],
    [
      'an inside client dials the outside address: hairpin is not known',
      [row(8214)],
      '192.168.50.77',
      '203.0.113.50:8214/tcp',
      'unknown',
    ],
    [
      'an inside client dials the inside address',
      [],
      '192.168.50.77',
      '192.168.50.20:8214/tcp',
      'answered at host',
    ],
    [
      'a part of the row is not modelled',
      [{ ...row(8214), doubts: [{ doubt: 'said', text: 'a schedule' }] }],
      '198.51.100.23',
      '203.0.113.50:8214/tcp',
      'unknown',
    ],
  ];
  for (const [title, rows, from, to, expected] of table)
    it(`${title}: ${expected}`, () => expect(outcome(run(siteWith(rows), from, to))).to.equal(expected));

  it('the server sees the client’s own address, and the shifted port', () => {
    const t = run(
      siteWith([{ ...row(28410, 28411), protocol: 'udp', insideFirst: 28500 }]),
      '198.51.100.23',
      '203.0.113.50:28411/udp',
    );
    expect(formatEndpoint(t.seen!.source)).to.equal('198.51.100.23:40000');
    expect(formatEndpoint(t.seen!.destination)).to.equal('192.168.50.20:28501');
  });
});
