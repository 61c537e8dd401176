import { expect } from 'chai';
import { address, formatAddress } from '../net/index.ts';
import { ROUTE_TYPE, isMissing, type LookupField, type Question, type Subject } from '../rules/index.ts';
import type { InterfaceAddress, Machine } from '../site/index.ts';
import { testMachine } from '../testing/index.ts';
import { errorSource } from './errorSource.ts';
import { hopsLeft, loopbackAddress, masqueradeAddress, redirectAddress, routeValue } from './lookups.ts';

const MACHINE = testMachine('gateway', {
  role: 'gateway',
  interfaces: {
    lo: ['127.0.0.1/8', '::1/128'],
    wan: ['10.0.0.9/30', '203.0.113.50/24', '2001:db8:50::1/64'],
    lan: ['192.168.50.1/24', '2001:db8:51::1/64'],
  },
  routes: ['default via 203.0.113.1 dev wan', '192.168.60.0/24 via 192.168.50.2 dev lan'],
});
const none = (): number => {
  throw new Error('nothing is open');
};
const packet = (more: Partial<Subject>): Subject => ({
  family: 4,
  protocol: 6,
  icmp: null,
  tcpFlags: 2,
  in: 'wan',
  out: null,
  mark: 0,
  nextHop: null,
  source: address('198.51.100.23'),
  destination: address('203.0.113.50'),
  sport: 40000,
  dport: 8211,
  tracking: null,
  untracked: false,
  ...more,
});

/** A machine with its addresses changed. */
const changed = (change: (a: InterfaceAddress, device: string) => Partial<InterfaceAddress>): Machine => ({
  ...MACHINE,
  interfaces: (MACHINE.interfaces ?? []).map((i) => ({
    ...i,
    addresses: i.addresses.map((a) => ({ ...a, ...change(a, i.name) })),
  })),
});
const shown = (found: ReturnType<typeof masqueradeAddress>): string | null => found && formatAddress(found);

describe('the type of the route to an address (addrtype, fib … type)', () => {
  const type = (at: string, only: 'in' | 'out' | null = null, more: Partial<Subject> = {}) => {
    const field: LookupField = { of: 'address-type', side: 'destination', only };
    return routeValue(MACHINE, field, packet({ destination: address(at), ...more }), none);
  };
  it('is local, on all interfaces or on the one that is asked for', () => {
    expect(type('203.0.113.50')).to.equal(ROUTE_TYPE.local);
    expect(type('203.0.113.50', 'in')).to.equal(ROUTE_TYPE.local);
    expect(type('192.168.50.1', 'in')).to.equal(ROUTE_TYPE.unicast);
    expect(type('192.168.50.1', 'out', { out: 'lan' })).to.equal(ROUTE_TYPE.local);
  });

  it('is that of the route, and unreachable without one', () => {
    expect(type('198.51.100.7')).to.equal(ROUTE_TYPE.unicast);
    const field: LookupField = { of: 'address-type', side: 'source', only: null };
    expect(routeValue(MACHINE, field, packet({}), none)).to.equal(ROUTE_TYPE.unicast);
    expect(type('2001:db8:99::1', null, { family: 6 })).to.equal(ROUTE_TYPE.unreachable);
  });

  it('is missing where the routes are', () => {
    const open = { ...MACHINE, routes: { 4: null, 6: null } };
    const field: LookupField = { of: 'address-type', side: 'source', only: null };
    const found = routeValue(open, field, packet({}), none);
    expect(isMissing(found) && found.missing.need).to.equal('routes');
  });
});

describe('whether there is a way back (rpfilter, fib saddr . iif oif)', () => {
  const back = (from: string, device: boolean, more: Partial<Subject> = {}, machine = MACHINE) => {
    const field: LookupField = { of: 'reverse-path', mark: false, interface: device };
    return routeValue(machine, field, packet({ source: address(from), ...more }), none);
  };
  it('out of any interface', () => {
    expect(back('198.51.100.23', false)).to.equal(1);
    expect(back('192.168.50.20', false)).to.equal(1);
    expect(back('2001:db8:99::1', false, { family: 6, destination: address('2001:db8:50::1') })).to.equal(0);
  });

  it('out of the one that it came in by', () => {
    expect(back('198.51.100.23', true)).to.equal(1);
    expect(back('192.168.50.20', true, { in: 'lan' })).to.equal(1);
    expect(back('192.168.60.20', true, { in: 'lan' })).to.equal(1);
    const noDefault = { ...MACHINE, routes: { ...MACHINE.routes, 4: MACHINE.routes[4]?.slice(0, -2) ?? [] } };
    expect(back('192.168.60.20', true, { in: 'lan' }, noDefault)).to.equal(0);
  });

  it('is missing where the routes are', () => {
    const found = back('198.51.100.23', true, {}, { ...MACHINE, routes: { 4: null, 6: null } });
    expect(isMissing(found) && found.missing.need).to.equal('routes');
  });
});

describe('the address that masquerading takes (inet_select_addr)', () => {
  const out = (device: string, hop: string | null, to: string, machine = MACHINE) => {
    const destination = address(to);
    const subject = packet({ family: destination.family, out: device, destination });
    return shown(masqueradeAddress(machine, { ...subject, nextHop: hop === null ? null : address(hop) }));
  };
  it('is the one in the subnet of the next hop', () => {
    expect(out('wan', '203.0.113.1', '198.51.100.7')).to.equal('203.0.113.50');
    expect(out('wan', '10.0.0.10', '198.51.100.7')).to.equal('10.0.0.9');
    expect(out('wan', null, '203.0.113.7')).to.equal('203.0.113.50');
  });

  it('is the first one otherwise, of the family of the packet', () => {
    expect(out('wan', '172.16.0.1', '198.51.100.7')).to.equal('10.0.0.9');
    expect(out('wan', '2001:db8:50::2', '2001:db8:99::1')).to.equal('2001:db8:50::1');
    expect(out('lan', '192.168.50.2', '198.51.100.7')).to.equal('192.168.50.1');
  });

  it('is none that is secondary, not in use, or of the link alone', () => {
    const without = (change: Partial<InterfaceAddress>) =>
      changed((a) => (formatAddress(a.address) === '203.0.113.50' ? change : {}));
    for (const change of [
      { secondary: true },
      { unusable: true },
      { scope: 'link' },
      { scope: 'host' },
    ] as const)
      expect(out('wan', '203.0.113.1', '198.51.100.7', without(change))).to.equal('10.0.0.9');
    expect(out('wan', '203.0.113.1', '198.51.100.7', without({ scope: 'site' }))).to.equal('203.0.113.50');
  });

  it('counts the other end of a tunnel, and is none on an interface without addresses', () => {
    const peer = changed((a) =>
      formatAddress(a.address) === '203.0.113.50' ? { peer: address('172.16.0.1'), prefixLength: 32 } : {},
    );
    expect(out('wan', '172.16.0.1', '198.51.100.7', peer)).to.equal('203.0.113.50');
    expect(out('dmz', '172.16.0.1', '198.51.100.7')).to.equal(null);
  });
});

describe('the address that REDIRECT sends to (nf_nat_redirect)', () => {
  it('is the first one of the interface that it came in by', () => {
    expect(shown(redirectAddress(MACHINE, 'wan', 4))).to.equal('10.0.0.9');
    expect(shown(redirectAddress(MACHINE, 'lan', 6))).to.equal('2001:db8:51::1');
    expect(redirectAddress(MACHINE, 'dmz', 4)).to.equal(null);
    expect(redirectAddress(MACHINE, null, 4)).to.equal(null);
  });

  it('is none that is not in use, and in IPv6 none of the link alone', () => {
    const first = (change: Partial<InterfaceAddress>) =>
      changed((a) => (['10.0.0.9', '2001:db8:51::1'].includes(formatAddress(a.address)) ? change : {}));
    expect(shown(redirectAddress(first({ unusable: true }), 'wan', 4))).to.equal('203.0.113.50');
    expect(shown(redirectAddress(first({ scope: 'link' }), 'wan', 4))).to.equal('10.0.0.9');
    expect(redirectAddress(first({ scope: 'link' }), 'lan', 6)).to.equal(null);
  });

  it('is the loopback address for what the machine sends itself', () => {
    expect([shown(loopbackAddress(4)), shown(loopbackAddress(6))]).to.deep.equal(['127.0.0.1', '::1']);
  });
});

describe('what a packet has left of its hops (RFC 791 §3.2, RFC 8200 §3)', () => {
  const at = { form: 'question', machines: 1, isCarried: false, isForwarded: false };
  const left = (passed: Partial<typeof at>, answers: Readonly<Record<string, number>> = {}) => {
    const asked: Question[] = [];
    const hops = hopsLeft({ ...at, ...passed }, (question) => {
      asked.push(question);
      return answers[question.key] ?? 0;
    });
    return { hops, asked: asked.map((q) => q.key) };
  };
  it('is what its sender starts with, on the sender’s own link', () => {
    expect(left({})).to.deep.equal({ hops: 64, asked: ['hops/question'] });
    expect(left({}, { 'hops/question': 1 }).hops).to.equal(128);
    expect(left({ form: 'answer' }, { 'hops/answer': 2 }).hops).to.equal(255);
  });

  it('loses one at each machine that passes it on, before its forward hook', () => {
    expect(left({ machines: 0 }).hops).to.equal(64);
    expect(left({ isForwarded: true }).hops).to.equal(63);
    expect(left({ machines: 3 }).hops).to.equal(62);
    expect(left({ machines: 3, isForwarded: true }).hops).to.equal(61);
  });

  it('loses one to thirty on the internet', () => {
    expect(left({ isCarried: true }).hops).to.equal(63);
    expect(left({ isCarried: true }, { 'distance/question': 6 }).hops).to.equal(34);
    expect(left({ isCarried: true }).asked).to.deep.equal(['hops/question', 'distance/question']);
  });
});

describe('the address that an ICMP error bears (icmp_route_lookup)', () => {
  const from = (more: Partial<Subject>, machine = MACHINE) => shown(errorSource(machine, packet(more), none));
  it('is the one that was asked, where it is the machine’s own', () => {
    expect(from({})).to.equal('203.0.113.50');
    expect(from({ destination: address('192.168.50.1') })).to.equal('192.168.50.1');
  });

  it('is that of the interface back, else any but the loopback one', () => {
    const elsewhere = { destination: address('192.168.50.20') };
    expect(from({ ...elsewhere, source: address('192.168.60.9') })).to.equal('192.168.50.1');
    // Of several on it the one in the next hop's subnet (fib_info_update_nhc_saddr).
    expect(from(elsewhere)).to.equal('203.0.113.50');
    const unused = changed((a) => (formatAddress(a.address) === '203.0.113.50' ? { unusable: true } : {}));
    expect(from(elsewhere, unused)).to.equal('10.0.0.9');
    const noWay = { ...MACHINE, routes: { 4: [], 6: [] } };
    expect(from(elsewhere, noWay)).to.equal('10.0.0.9');
  });

  it('is the one that the route prefers', () => {
    const preferring: Machine = {
      ...MACHINE,
      routes: {
        ...MACHINE.routes,
        4: (MACHINE.routes[4] ?? []).map((r) => ({ ...r, preferred: address('10.0.0.9') })),
      },
    };
    expect(from({ destination: address('192.168.50.20') }, preferring)).to.equal('10.0.0.9');
  });

  it('is the unspecified one of a machine without any of the family', () => {
    const bare = testMachine('bare', { interfaces: { lo: ['127.0.0.1/8'] } });
    expect(from({ destination: address('192.168.50.20') }, bare)).to.equal('0.0.0.0');
    const six = { family: 6, source: address('2001:db8::1'), destination: address('2001:db8::2') } as const;
    expect(from(six, bare)).to.equal('::');
  });
});
