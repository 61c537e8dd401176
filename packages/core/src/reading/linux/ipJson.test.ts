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

describe('ip -j route', () => {
  it('default routes, connected ones, and routes that lead nowhere', () => {
    expect(
      facts(
        [
          { dst: 'default', gateway: '203.0.113.1', dev: 'wan', protocol: 'static', flags: [] },
          { dst: '192.168.50.0/24', dev: 'lan', protocol: 'kernel', prefsrc: '192.168.50.1', flags: [] },
          { type: 'blackhole', dst: '10.0.0.0/8', protocol: 'static', metric: 5, flags: [] },
          { dst: '10.9.0.0/16', dev: 'tun0', protocol: 'static', table: 'vpn', flags: ['dead', 'linkdown'] },
          { dst: '10.8.0.0/16', dev: 'tun0', protocol: 'static', encap: 'mpls', flags: [] },
        ],
        'ip-route-json',
      ),
    ).to.deep.equal([
      {
        kind: 'route',
        family: 4,
        table: 'main',
        type: 'unicast',
        to: 'default',
        hops: [{ via: '203.0.113.1', dev: 'wan' }],
        metric: 0,
      },
      {
        kind: 'route',
        family: 4,
        table: 'main',
        type: 'unicast',
        to: '192.168.50.0/24',
        hops: [{ via: null, dev: 'lan' }],
        metric: 0,
        src: '192.168.50.1',
      },
      {
        kind: 'route',
        family: 4,
        table: 'main',
        type: 'blackhole',
        to: '10.0.0.0/8',
        hops: [{ via: null, dev: null }],
        metric: 5,
      },
      {
        kind: 'route',
        family: 4,
        table: 'vpn',
        type: 'unicast',
        to: '10.9.0.0/16',
        hops: [{ via: null, dev: 'tun0' }],
        metric: 0,
        dead: true,
      },
      {
        kind: 'route',
        family: 4,
        table: 'main',
        type: 'unicast',
        to: '10.8.0.0/16',
        hops: [{ via: null, dev: 'tun0' }],
        metric: 0,
        unmodelled: 'encap',
      },
    ]);
  });

  it('several next hops, and a gateway of the other family', () => {
    const [spread, across] = facts(
      [
        {
          dst: 'default',
          protocol: 'static',
          flags: [],
          nexthops: [
            { gateway: '203.0.113.1', dev: 'wan' },
            { gateway: '192.0.2.1', dev: 'wan2' },
          ],
        },
        {
          dst: '192.0.2.128/25',
          via: { family: 'inet6', host: 'fe80::1' },
          dev: 'wan',
          protocol: 'static',
          flags: [],
        },
      ],
      'ip-route-json',
    );
    expect(spread).to.deep.include({
      hops: [
        { via: '203.0.113.1', dev: 'wan' },
        { via: '192.0.2.1', dev: 'wan2' },
      ],
    });
    expect(across).to.deep.include({ family: 4, hops: [{ via: 'fe80::1', dev: 'wan' }] });
  });

  it('of which family a default route is', () => {
    const family = (route: object, beside: readonly object[] = []): unknown =>
      (
        facts([...beside, { protocol: 'static', flags: [], ...route }], 'ip-route-json').pop() as {
          family: number;
        }
      ).family;
    const six = { dst: '2001:db8::/64', dev: 'lan', protocol: 'kernel', flags: [] };
    expect(family({ dst: 'default', gateway: 'fe80::1', dev: 'wan' })).to.equal(6);
    expect(family({ dst: 'default', gateway: '203.0.113.1', dev: 'wan' }, [six])).to.equal(4);
    expect(family({ dst: 'default', dev: 'ppp0' }, [six])).to.equal(6);
    expect(family({ dst: 'default', dev: 'ppp0' })).to.equal(4);
    expect(family({ dst: 'default', dev: 'ppp0', metric: 1024 })).to.equal(6);
    expect(family({ dst: 'default', dev: 'ppp0', pref: 'medium' })).to.equal(6);
    expect(covers([six])).to.deep.equal(['routes6']);
    expect(
      covers([six, { dst: 'default', gateway: '203.0.113.1', dev: 'wan', protocol: 'dhcp', flags: [] }]),
    ).to.deep.equal(['routes4', 'routes6']);
  });

  it('a destination that cannot be read is a problem, not a silence', () => {
    const reading = readText(
      JSON.stringify([
        { dst: 'default', gateway: '203.0.113.1', dev: 'wan', protocol: 'dhcp', flags: [] },
        { dst: 'somewhere', dev: 'wan', protocol: 'static', flags: [] },
      ]),
    );
    expect(reading?.problems.map((p) => p.why)).to.deep.equal(['route-destination']);
  });
});

describe('ip -j rule', () => {
  const base = [
    { priority: 0, src: 'all', table: 'local' },
    { priority: 32766, src: 'all', table: 'main' },
  ];

  it('every selector that is modelled', () => {
    const [rule] = facts(
      [
        {
          priority: 100,
          not: null,
          src: '192.168.50.0',
          srclen: 24,
          dst: '10.0.0.0',
          dstlen: 8,
          fwmark: '0x1',
          fwmask: '0xff',
          iif: 'lan',
          oif: 'wan',
          ipproto: 'tcp',
          sport: 1000,
          dport_start: 80,
          dport_end: 89,
          table: 'vpn',
          suppress_prefixlen: 0,
        },
        ...base,
      ],
      'ip-rule-json',
    );
    expect(rule).to.deep.equal({
      kind: 'policy',
      family: 4,
      priority: 100,
      action: 'lookup',
      not: true,
      from: '192.168.50.0/24',
      to: '10.0.0.0/8',
      iif: 'lan',
      oif: 'wan',
      fwmark: { value: 1, mask: 0xff },
      protocol: 'tcp',
      sport: { first: 1000, last: 1000 },
      dport: { first: 80, last: 89 },
      table: 'vpn',
      suppress: 0,
    });
  });

  it('actions, and selectors that are not modelled', () => {
    const one = (rule: object): object | undefined =>
      facts([{ priority: 9, src: 'all', ...rule }, ...base], 'ip-rule-json')[0];
    expect(one({ action: 'blackhole' })).to.deep.include({ action: 'blackhole' });
    expect(one({ action: 'unreachable' })).to.deep.include({ action: 'unreachable' });
    expect(one({ action: 'prohibit' })).to.deep.include({ action: 'prohibit' });
    expect(one({ goto: 200 })).to.deep.include({ action: 'goto', goto: 200 });
    expect(one({ nop: null })).to.deep.include({ action: 'nop' });
    expect(one({ fwmark: '0x2', table: 'x' })).to.deep.include({ fwmark: { value: 2, mask: 0xffff_ffff } });
    expect(one({ uid_start: 1000, table: 'x' })).to.deep.include({ unmodelled: 'uid_start' });
    expect(one({ src: '192.168.50.9', table: 'x' })).to.deep.include({ from: '192.168.50.9' });
  });

  it('the family is IPv4 where its default table or an address says so', () => {
    expect(covers([...base, { priority: 32767, src: 'all', table: 'default' }])).to.deep.equal(['policy4']);
    expect(covers(base)).to.deep.equal(['policy6']);
    expect(covers([{ priority: 9, src: '2001:db8::', srclen: 64, table: 'x' }, ...base])).to.deep.equal([
      'policy6',
    ]);
    expect(covers([{ priority: 9, src: '192.0.2.1', table: 'x' }, ...base])).to.deep.equal(['policy4']);
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
