import { expect } from 'chai';
import { readText } from '../recognise.ts';

/** What a listing of ip(8) as JSON holds, without its places. */
const facts = (value: unknown, format: string): object[] => {
  const reading = readText(JSON.stringify(value));
  expect(reading?.format).to.equal(format);
  return (reading?.facts ?? []).map(({ at: _, ...rest }) => rest);
};
const covers = (value: unknown): readonly string[] => readText(JSON.stringify(value))?.covers ?? [];

describe('ip -j addr', () => {
  const wan = {
    ifindex: 2,
    ifname: 'wan',
    flags: ['BROADCAST', 'MULTICAST', 'UP', 'LOWER_UP'],
    mtu: 1492,
    operstate: 'UP',
    link_type: 'ether',
    address: '02:48:4e:00:00:50',
    addr_info: [
      { family: 'inet', local: '203.0.113.50', prefixlen: 24, scope: 'global' },
      { family: 'inet', local: '203.0.113.51', prefixlen: 24, scope: 'global', secondary: true },
      { family: 'inet6', local: '2001:db8::50', prefixlen: 64, scope: 'global', tentative: true },
      { family: 'inet6', local: 'fe80::1', prefixlen: 64, scope: 'link' },
    ],
  };

  it('interfaces with their state, addresses with their scope', () => {
    const [head, ...addresses] = facts([wan], 'ip-addr-json');
    expect(head).to.deep.equal({
      kind: 'interface',
      name: 'wan',
      index: 2,
      mtu: 1492,
      operstate: 'up',
      adminUp: true,
      carrier: true,
      loopback: false,
      noNeighbours: false,
      mac: '02:48:4e:00:00:50',
    });
    expect(addresses).to.deep.equal([
      { kind: 'address', interface: 'wan', family: 4, address: '203.0.113.50', prefix: 24, scope: 'global' },
      {
        kind: 'address',
        interface: 'wan',
        family: 4,
        address: '203.0.113.51',
        prefix: 24,
        scope: 'global',
        secondary: true,
      },
      {
        kind: 'address',
        interface: 'wan',
        family: 6,
        address: '2001:db8::50',
        prefix: 64,
        scope: 'global',
        unusable: true,
      },
      { kind: 'address', interface: 'wan', family: 6, address: 'fe80::1', prefix: 64, scope: 'link' },
    ]);
    expect(covers([wan])).to.deep.equal(['addresses']);
  });

  it('a tunnel has no neighbours, an interface without a cable no carrier, one that is down neither', () => {
    const one = (flags: readonly string[], link_type = 'ether'): object | undefined =>
      facts([{ ifindex: 3, ifname: 'x', flags, link_type }], 'ip-addr-json')[0];
    expect(one(['POINTOPOINT', 'NOARP', 'UP', 'LOWER_UP'], 'none')).to.deep.include({ noNeighbours: true });
    expect(one(['POINTOPOINT', 'UP', 'LOWER_UP'], 'ppp')).to.deep.include({ noNeighbours: true });
    expect(one(['POINTOPOINT', 'UP', 'LOWER_UP'], 'ether')).to.deep.include({ noNeighbours: false });
    expect(one(['NO-CARRIER', 'BROADCAST', 'UP'])).to.deep.include({ carrier: false, adminUp: true });
    expect(one(['BROADCAST']))
      .to.deep.include({ adminUp: false })
      .and.to.not.have.property('carrier');
    expect(one(['LOOPBACK', 'UP', 'LOWER_UP'], 'loopback')).to.deep.include({ loopback: true });
    expect(covers([{ ifindex: 3, ifname: 'x', flags: [] }])).to.deep.equal([]);
  });

  it('an address with a peer, and values that are none, left out', () => {
    const listed = facts(
      [
        {
          ifname: 'ppp0',
          flags: ['UP'],
          addr_info: [
            { local: '203.0.113.9', address: '192.0.2.1', prefixlen: 32, scope: 'global' },
            { local: 'nonsense', prefixlen: 24 },
            { local: '203.0.113.10' },
          ],
        },
        { flags: [] },
      ],
      'ip-addr-json',
    );
    expect(listed).to.have.length(2);
    expect(listed[1]).to.deep.include({ address: '203.0.113.9', peer: '192.0.2.1' });
  });

  it('a listing that is not whole says so', () => {
    const reading = readText('[{"ifindex":1,"ifname":"lo","flags":["LOOPBACK","UP"],"mtu":655');
    expect(reading?.problems[0]?.why).to.equal('json-cut');
    expect(reading?.covers).to.deep.equal([]);
  });
});

describe('ip -j neigh', () => {
  it('who is known, and in which state', () => {
    expect(
      facts(
        [
          { dst: '192.168.50.20', dev: 'lan', lladdr: '02:48:4e:00:00:20', state: ['REACHABLE'] },
          { dst: '192.168.50.99', dev: 'lan', state: ['FAILED'] },
          { dst: 'nobody', dev: 'lan', state: ['FAILED'] },
        ],
        'ip-neigh-json',
      ),
    ).to.deep.equal([
      {
        kind: 'neighbour',
        address: '192.168.50.20',
        dev: 'lan',
        mac: '02:48:4e:00:00:20',
        states: ['REACHABLE'],
      },
      { kind: 'neighbour', address: '192.168.50.99', dev: 'lan', mac: null, states: ['FAILED'] },
    ]);
  });
});
