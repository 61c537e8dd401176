import { expect } from 'chai';
import { forwardingGateway, outcome, run, caseSite, serverEvidence } from '../../testing/index.ts';
import { formatEndpoint } from '../../net/index.ts';
import type { ForwardTableSettings } from './settings.ts';

const TWO: ForwardTableSettings['interfaces'] = [
  { name: 'line1', side: 'outside', addresses: ['203.0.113.50'] },
  { name: 'line2', side: 'outside', addresses: ['203.0.113.130'] },
  { name: 'lan', side: 'inside', addresses: ['192.168.50.1/24'] },
];
const ROW = { protocol: 'tcp', ports: 8214, to: '192.168.50.20' } as const;

const site = (settings: Partial<ForwardTableSettings>, carrier: object = {}) =>
  caseSite(
    [
      { id: 'client', role: 'client' },
      { id: 'carrier', role: 'carrier', ...carrier },
      forwardingGateway({ rows: [], ...settings }),
      { id: 'host', role: 'host' },
      { id: 'other', role: 'host', typed: [{ text: 'server 192.168.50.99' }] },
    ],
    serverEvidence('192.168.50.20/24', '192.168.50.1', [
      'tcp 0.0.0.0:8214',
      'tcp 0.0.0.0:9999',
      'udp 0.0.0.0:28411',
    ]),
  );

describe('forward table with its manner: settings, packet, outcome', () => {
  const table: readonly (readonly [string, Partial<ForwardTableSettings>, string, string])[] = [
    ['a row', { rows: [ROW] }, '203.0.113.50:8214/tcp', 'answered at host'],
    ['no row', {}, '203.0.113.50:8214/tcp', 'lost at gateway'],
    [
      'an exposed host takes what no row takes',
      { exposedHost: '192.168.50.20' },
      '203.0.113.50:9999/tcp',
      'answered at host',
    ],
    [
      'a row stands above the exposed host',
      { exposedHost: '192.168.50.20', rows: [{ ...ROW, ports: 9999, toPort: 7 }] },
      '203.0.113.50:9999/tcp',
      'refused at host',
    ],
    [
      'the gateway’s own page beats the exposed host',
      { exposedHost: '192.168.50.20', ownPorts: [{ protocol: 'tcp', ports: 9999 }] },
      '203.0.113.50:9999/tcp',
      'answered at gateway',
    ],
    [
      'the gateway itself answers on the port',
      { ownPorts: [{ protocol: 'tcp', ports: 8214 }] },
      '203.0.113.50:8214/tcp',
      'answered at gateway',
    ],
    [
      'first of two rows wins',
      { clash: 'first', rows: [ROW, { ...ROW, toPort: 7 }] },
      '203.0.113.50:8214/tcp',
      'answered at host',
    ],
    [
      'last of two rows wins',
      { clash: 'last', rows: [ROW, { ...ROW, toPort: 7 }] },
      '203.0.113.50:8214/tcp',
      'refused at host',
    ],
    [
      'the device refuses the second row',
      { clash: 'refused', rows: [{ ...ROW, toPort: 7 }, ROW] },
      '203.0.113.50:8214/tcp',
      'refused at host',
    ],
    [
      'which of two rows wins is not known',
      { rows: [ROW, { ...ROW, toPort: 7 }] },
      '203.0.113.50:8214/tcp',
      'unknown',
    ],
    [
      'a row that waits for a restart',
      { rows: [{ ...ROW, state: 'needs-restart' }] },
      '203.0.113.50:8214/tcp',
      'lost at gateway',
    ],
    [
      'the table is kept by the carrier, whose list is not known',
      { keptBy: 'carrier', rows: [ROW] },
      '203.0.113.50:8214/tcp',
      'unknown',
    ],
    [
      'a shifted range keeps the distance',
      { rows: [{ protocol: 'udp', ports: '30000-30001', to: '192.168.50.20', toPort: 28410 }] },
      '203.0.113.50:30001/udp',
      'answered at host',
    ],
    [
      'a list of ports in one row',
      { rows: [{ protocol: 'both', ports: '80, 8214', to: '192.168.50.20' }] },
      '203.0.113.50:8214/tcp',
      'answered at host',
    ],
    [
      'bound to the line that is dialled',
      { interfaces: TWO, answersBy: 'same-line', rows: [{ ...ROW, line: 'line2' }] },
      '203.0.113.130:8214/tcp',
      'answered at host',
    ],
    [
      'bound to the other line',
      { interfaces: TWO, answersBy: 'same-line', rows: [{ ...ROW, line: 'line1' }] },
      '203.0.113.130:8214/tcp',
      'lost at gateway',
    ],
    [
      'the answer leaves by the default line, whose carrier lets it',
      {
        interfaces: TWO!.map((l) => ({ ...l, filtersSources: false })),
        answersBy: 'default-line',
        rows: [ROW],
      },
      '203.0.113.130:8214/tcp',
      'answered at host',
    ],
    [
      'the answer leaves by the default line, whose carrier filters sources',
      {
        interfaces: TWO!.map((l) => ({ ...l, filtersSources: true })),
        answersBy: 'default-line',
        rows: [ROW],
      },
      '203.0.113.130:8214/tcp',
      'lost at gateway (reply)',
    ],
    [
      'it is not known by which line the answer leaves, nor what the carrier does',
      { interfaces: TWO, rows: [ROW] },
      '203.0.113.130:8214/tcp',
      'unknown',
    ],
    [
      'the first line itself needs no luck',
      { interfaces: TWO, rows: [ROW] },
      '203.0.113.50:8214/tcp',
      'answered at host',
    ],
    [
      'a mapping that a program asked for',
      { mappings: [{ protocol: 'tcp', port: 8214, to: '192.168.50.20' }] },
      '203.0.113.50:8214/tcp',
      'answered at host',
    ],
    [
      'a mapping whose lifetime is over',
      {
        at: '2026-03-01T15:00:00Z',
        mappings: [{ protocol: 'tcp', port: 8214, to: '192.168.50.20', until: '2026-03-01T14:00:00Z' }],
      },
      '203.0.113.50:8214/tcp',
      'lost at gateway',
    ],
    [
      'a mapping that still lives',
      {
        at: '2026-03-01T13:00:00Z',
        mappings: [{ protocol: 'tcp', port: 8214, to: '192.168.50.20', until: '2026-03-01T14:00:00Z' }],
      },
      '203.0.113.50:8214/tcp',
      'answered at host',
    ],
    [
      'a mapping with a lifetime, looked at nobody knows when',
      { mappings: [{ protocol: 'tcp', port: 8214, to: '192.168.50.20', until: '2026-03-01T14:00:00Z' }] },
      '203.0.113.50:8214/tcp',
      'unknown',
    ],
    [
      'what the gateway itself answers is not known',
      { ownPorts: undefined, rows: [] },
      '203.0.113.50:8214/tcp',
      'unknown',
    ],
    [
      'TCP where the program speaks UDP',
      { rows: [{ protocol: 'tcp', ports: 28411, to: '192.168.50.20' }] },
      '203.0.113.50:28411/udp',
      'lost at gateway',
    ],
  ];
  for (const [title, settings, to, expected] of table)
    it(`${title}: ${expected}`, () =>
      expect(outcome(run(site(settings), '198.51.100.23', to))).to.equal(expected));

  it('rows of the carrier’s portal are in force at the outermost gateway', () => {
    const portal = { settings: { kind: 'carrier', portal: [ROW] } };
    expect(
      outcome(run(site({ keptBy: 'carrier' }, portal), '198.51.100.23', '203.0.113.50:8214/tcp')),
    ).to.equal('answered at host');
  });

  it('the server sees the client’s own address and the inside port', () => {
    const t = run(
      site({ rows: [{ ...ROW, ports: 80, toPort: 8214 }] }),
      '198.51.100.23',
      '203.0.113.50:80/tcp',
    );
    expect(formatEndpoint(t.seen!.destination)).to.equal('192.168.50.20:8214');
    expect(formatEndpoint(t.seen!.source)).to.equal('198.51.100.23:40000');
  });
});
