import { expect } from 'chai';
import {
  caseSite,
  forwardingGateway,
  outcome,
  ROUTER_LINES,
  run,
  tunnelledHost as host,
} from '../../testing/index.ts';
import { formatEndpoint } from '../../net/index.ts';
import type { RelaySettings } from './settings.ts';

/** Many share the router's outside address. */
const SHARED = { name: 'wan', side: 'outside', addresses: ['100.72.14.9'] };
const LEASE = { protocol: 'tcp', port: 18214, to: '10.66.0.2', toPort: 8214 } as const;
const site = (change: Partial<RelaySettings>, files = host('home')) =>
  caseSite(
    [
      { id: 'client', role: 'client' },
      { id: 'carrier', role: 'carrier' },
      {
        id: 'relay',
        role: 'relay',
        settings: {
          kind: 'relay',
          address: '203.0.113.200',
          tunnelAddress: '10.66.0.1/24',
          leases: [LEASE],
          hidesClient: true,
          ...change,
        },
      },
      forwardingGateway({ interfaces: [SHARED, ROUTER_LINES[1]], rows: [] }),
      { id: 'host', role: 'host' },
    ],
    files,
  );

describe('relay: settings, packet, outcome', () => {
  const OUT = '203.0.113.200:18214/tcp';
  const table: readonly (readonly [string, Parameters<typeof site>, string, string])[] = [
    ['a leased port', [{}], OUT, 'answered at host'],
    ['the inside port dialled at the relay', [{}], '203.0.113.200:8214/tcp', 'lost at relay'],
    ['a port that is not leased', [{}], '203.0.113.200:9/tcp', 'lost at relay'],
    ['leased for the other protocol', [{ leases: [{ ...LEASE, protocol: 'udp' }] }], OUT, 'lost at relay'],
    ['leased for both', [{ leases: [{ ...LEASE, protocol: 'both' }] }], OUT, 'answered at host'],
    [
      'UDP',
      [{ leases: [{ protocol: 'udp', port: 28410, to: '10.66.0.2' }] }],
      '203.0.113.200:28410/udp',
      'answered at host',
    ],
    [
      'no inside port given: the same one',
      [{ leases: [{ protocol: 'tcp', port: 8214, to: '10.66.0.2' }] }],
      '203.0.113.200:8214/tcp',
      'answered at host',
    ],
    [
      'nothing listens behind it',
      [{}, host('home', 'tcp LISTEN 0 1 0.0.0.0:22 0.0.0.0:*\n')],
      OUT,
      'refused at host',
    ],
    [
      'the program listens on the home address only',
      [{}, host('home', 'tcp LISTEN 0 1 192.168.50.20:8214 0.0.0.0:*\n')],
      OUT,
      'refused at host',
    ],
    [
      'a lease that has ended',
      [{ at: '2026-03-02T00:00:00Z', leases: [{ ...LEASE, until: '2026-03-01T00:00:00Z' }] }],
      OUT,
      'lost at relay',
    ],
    [
      'a lease that still holds',
      [{ at: '2026-02-28T00:00:00Z', leases: [{ ...LEASE, until: '2026-03-01T00:00:00Z' }] }],
      OUT,
      'answered at host',
    ],
    [
      'a lease with an end, looked at nobody knows when',
      [{ leases: [{ ...LEASE, until: '2026-03-01T00:00:00Z' }] }],
      OUT,
      'unknown',
    ],
    [
      'the client is not hidden, answers leave by the home line',
      [{ hidesClient: false }],
      OUT,
      'lost at client (reply)',
    ],
    [
      'the client is not hidden, answers leave by the tunnel',
      [{ hidesClient: false }, host('tunnel')],
      OUT,
      'answered at host',
    ],
    ['it is not known whether the client is hidden', [{ hidesClient: undefined }], OUT, 'unknown'],
    [
      'the lease leads to another tunnel address',
      [{ leases: [{ ...LEASE, to: '10.66.0.3' }] }],
      OUT,
      'unknown',
    ],
  ];
  for (const [title, args, to, expected] of table)
    it(`${title}: ${expected}`, () =>
      expect(outcome(run(site(...args), '198.51.100.23', to))).to.equal(expected));

  it('a server behind a relay that hides the client sees the relay', () =>
    expect(formatEndpoint(run(site({}), '198.51.100.23', OUT).seen!.source)).to.equal('10.66.0.1:40000'));
});
