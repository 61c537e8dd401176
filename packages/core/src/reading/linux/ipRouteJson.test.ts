import { expect } from 'chai';
import { readText } from '../recognise.ts';

/** What a listing of ip(8) as JSON holds, without its places. */
const facts = (value: unknown, format: string): object[] => {
  const reading = readText(JSON.stringify(value));
  expect(reading?.format).to.equal(format);
  return (reading?.facts ?? []).map(({ at: _, ...rest }) => rest);
};
const covers = (value: unknown): readonly string[] => readText(JSON.stringify(value))?.covers ?? [];

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
        linkDown: true,
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
