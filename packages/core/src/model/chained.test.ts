import { expect } from 'chai';
import { formatAddress } from '../net/index.ts';
import { caseSite, outcome, run, serverEvidence, type TestStop } from '../testing/index.ts';

const CLIENT = { id: 'client', role: 'client' };
const CARRIER = { id: 'carrier', role: 'carrier' };
const HOST = { id: 'host', role: 'host' };
const SERVER = serverEvidence('192.168.50.20/24', '192.168.50.1', ['tcp 0.0.0.0:8214 gullcast']);

/** A router that somebody filled in, with one row for the service. */
const router = (id: string, wan: object, lan: string, to: string): TestStop => ({
  id,
  role: 'gateway',
  settings: {
    kind: 'forward-table',
    interfaces: [
      { name: 'wan', side: 'outside', ...wan },
      { name: 'lan', side: 'inside', addresses: [lan] },
    ],
    rows: [{ protocol: 'tcp', ports: 8214, to }],
    ownPorts: [],
  },
});
const OUTER = router('outer', { addresses: ['203.0.113.50'] }, '10.0.0.1/24', '10.0.0.2');
const inner = (wan: object): TestStop => router('inner', wan, '192.168.50.1/24', '192.168.50.20');

const site = (path: readonly TestStop[], files: Record<string, string> = SERVER) => caseSite(path, files);
/** The next hop of a router's default route. */
const nextOf = (path: readonly TestStop[], id = 'inner', files?: Record<string, string>): string | null => {
  const machine = site(path, files).machines.find((m) => m.id === id);
  const via = machine?.routes[4]?.find((r) => r.destination.length === 0)?.hops[0]?.via;
  return via ? formatAddress(via) : null;
};

describe('a router behind another one, of which nobody said the next router', () => {
  const ways: readonly (readonly [string, object])[] = [
    ['with the length of its network', { addresses: ['10.0.0.2/24'] }],
    ['without it', { addresses: ['10.0.0.2'] }],
    ['with the next router', { addresses: ['10.0.0.2/24'], gateway: '10.0.0.1' }],
  ];
  for (const [title, wan] of ways)
    it(`both filled in, ${title}: the answer goes back through both`, () => {
      const path = [CLIENT, CARRIER, OUTER, inner(wan), HOST];
      expect(nextOf(path)).to.equal('10.0.0.1');
      expect(outcome(run(site(path), '198.51.100.23', '203.0.113.50:8214/tcp'))).to.equal('answered at host');
    });

  it('by its page: the same', () => {
    const page = {
      id: 'inner',
      role: 'gateway',
      typed: [{ text: 'WAN IP 10.0.0.2' }, { text: 'LAN IP 192.168.50.1' }],
    };
    expect(nextOf([CLIENT, CARRIER, OUTER, page, HOST])).to.equal('10.0.0.1');
  });

  it('what was said stands', () =>
    expect(
      nextOf([CLIENT, CARRIER, OUTER, inner({ addresses: ['10.0.0.2/24'], gateway: '10.0.0.254' }), HOST]),
    ).to.equal('10.0.0.254'));

  it('two routers beside each other on one line outward: neither is before the other', () => {
    const one = router('outer', { addresses: ['203.0.113.50/29'] }, '10.0.0.1/24', '10.0.0.2');
    const other = router('inner', { addresses: ['203.0.113.51/29'] }, '192.168.50.1/24', '192.168.50.20');
    expect(nextOf([CLIENT, CARRIER, one, other, HOST])).to.equal(null);
    expect(nextOf([CLIENT, CARRIER, one, other, HOST], 'outer')).to.equal(null);
  });

  it('a client on the network before it is no router', () => {
    const files = {
      ...SERVER,
      'client/addresses':
        '2: wlp2s0: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n    inet 10.0.0.77/24 scope global wlp2s0\n',
      'client/routes': 'default via 10.0.0.1 dev wlp2s0\n10.0.0.0/24 dev wlp2s0 scope link\n',
    };
    expect(nextOf([CLIENT, inner({ addresses: ['10.0.0.2/24'] }), HOST], 'inner', files)).to.equal(null);
  });

  it('one alone, on a public address: whoever is next is the carrier', () =>
    expect(nextOf([CLIENT, CARRIER, inner({ addresses: ['203.0.113.51/29'] }), HOST])).to.equal(null));
});
