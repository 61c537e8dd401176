import { expect } from 'chai';
import { formatAddress } from '../net/index.ts';
import { caseSite, mendCases, outcome, run, type TestStop } from '../testing/index.ts';

const { CARRIER, CLIENT, HOST, routerAt, SERVER } = mendCases;
const OUTER = routerAt('outer', { addresses: ['203.0.113.50'] }, '10.0.0.1/24', { to: '10.0.0.2' });
const inner = (wan: object): TestStop => routerAt('inner', wan, '192.168.50.1/24', {});

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
    const one = routerAt('outer', { addresses: ['203.0.113.50/29'] }, '10.0.0.1/24', { to: '10.0.0.2' });
    const other = routerAt('inner', { addresses: ['203.0.113.51/29'] }, '192.168.50.1/24', {});
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
