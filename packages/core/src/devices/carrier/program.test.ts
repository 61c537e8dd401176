import { expect } from 'chai';
import {
  forwardingGateway,
  outcome,
  ROUTER_LINES,
  run,
  caseSite,
  serverEvidence,
} from '../../testing/index.ts';
import type { CarrierSettings } from './settings.ts';

const rows = ['tcp 25', 'tcp 80', 'tcp 8214', 'udp 28410'].map((t) => ({
  protocol: t.split(' ')[0],
  ports: Number(t.split(' ')[1]),
  to: '192.168.50.20',
}));
const LINES = (outside: string) => [{ name: 'wan', side: 'outside', addresses: [outside] }, ROUTER_LINES[1]];
const site = (settings: Partial<CarrierSettings>, wan = '203.0.113.50') =>
  caseSite(
    [
      { id: 'client', role: 'client' },
      { id: 'carrier', role: 'carrier', settings: { kind: 'carrier', ...settings } },
      forwardingGateway({ interfaces: LINES(wan), rows }),
      { id: 'host', role: 'host' },
    ],
    serverEvidence('192.168.50.20/24', '192.168.50.1', [
      'tcp 0.0.0.0:25',
      'tcp 0.0.0.0:80',
      'tcp 0.0.0.0:8214',
      'udp 0.0.0.0:28410',
    ]),
  );

describe('carrier: settings, packet, outcome', () => {
  const OUT = '203.0.113.50:8214/tcp';
  const table: readonly (readonly [string, Partial<CarrierSettings>, string, string])[] = [
    ['nothing special', {}, OUT, 'answered at host'],
    [
      'a blocked port',
      { blocked: [{ protocol: 'tcp', ports: '25, 80' }] },
      '203.0.113.50:25/tcp',
      'lost at carrier',
    ],
    [
      'another port is let through',
      { blocked: [{ protocol: 'tcp', ports: '25, 80' }] },
      OUT,
      'answered at host',
    ],
    [
      'blocked for TCP only',
      { blocked: [{ protocol: 'tcp', ports: 28410 }] },
      '203.0.113.50:28410/udp',
      'answered at host',
    ],
    [
      'blocked for both',
      { blocked: [{ protocol: 'both', ports: '28000-29000' }] },
      '203.0.113.50:28410/udp',
      'lost at carrier',
    ],
    [
      'a range that begins above',
      { blocked: [{ protocol: 'udp', ports: '28411-29000' }] },
      '203.0.113.50:28410/udp',
      'answered at host',
    ],
    ['a shield that is always up', { shield: { when: 'always' } }, OUT, 'lost at carrier'],
    ['a shield that rises after a while', { shield: { when: 'after-a-while' } }, OUT, 'unknown'],
    ['a shield per client, who is approved is not said', { shield: { when: 'per-client' } }, OUT, 'unknown'],
    [
      'a shield per client, nobody approved',
      { shield: { when: 'per-client', approved: [] } },
      OUT,
      'lost at carrier',
    ],
    ['an address called shared beside one of its own', { ipv4: 'shared' }, OUT, 'unknown'],
    [
      'a shield per client, this one approved',
      { shield: { when: 'per-client', approved: ['198.51.100.23'] } },
      OUT,
      'answered at host',
    ],
    [
      'a shield per client, one digit off',
      { shield: { when: 'per-client', approved: ['198.51.100.32'] } },
      OUT,
      'lost at carrier',
    ],
    [
      'a shield per client, the prefix approved',
      { shield: { when: 'per-client', approved: ['198.51.100.0/24'] } },
      OUT,
      'answered at host',
    ],
    [
      'the block counts whatever the shield',
      { shield: { when: 'per-client', approved: ['any'] }, blocked: [{ protocol: 'tcp', ports: 8214 }] },
      OUT,
      'lost at carrier',
    ],
  ];
  for (const [title, settings, to, expected] of table)
    it(`${title}: ${expected}`, () =>
      expect(outcome(run(site(settings), '198.51.100.23', to))).to.equal(expected));

  it('a shield that rises later has two outcomes, one after the other', () => {
    const t = run(site({ shield: { when: 'after-a-while' } }), '198.51.100.23', OUT);
    expect(t.overTime.map((p) => `${p.phase}: ${p.outcome}`)).to.deep.equal([
      'at first: answered',
      'after a while: lost',
    ]);
  });

  it('a shared address leads to nobody, and so does the gateway’s own one', () => {
    const shared = { ipv4: 'shared', sharedAddresses: ['203.0.113.77'] } as const;
    expect(outcome(run(site(shared, '100.72.14.9'), '198.51.100.23', '203.0.113.77:8214/tcp'))).to.equal(
      'lost at carrier',
    );
    expect(outcome(run(site(shared, '100.72.14.9'), '198.51.100.23', '100.72.14.9:8214/tcp'))).to.equal(
      'lost at carrier',
    );
  });

  it('without IPv4 of its own nothing arrives', () => {
    expect(
      outcome(
        run(
          site({ ipv4: 'none', sharedAddresses: ['203.0.113.77'] }, '192.0.0.2'),
          '198.51.100.23',
          '203.0.113.77:8214/tcp',
        ),
      ),
    ).to.equal('lost at carrier');
  });
});
