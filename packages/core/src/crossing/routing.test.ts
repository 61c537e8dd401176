import { expect } from 'chai';
import { address, formatAddress, parsePrefix } from '../net/index.ts';
import type { Question } from '../rules/index.ts';
import { routeTo, type Machine, type NextHop, type PolicyRule, type Route } from '../site/index.ts';
import { testMachine } from '../testing/index.ts';
import { rule } from './routeTables.ts';
import { lookUpRoute, type RouteQuery } from './routing.ts';

const MACHINE = testMachine('edge', {
  interfaces: {
    lo: ['127.0.0.1/8', '::1/128'],
    wan: ['203.0.113.50/24', '2001:db8:50::1/64'],
    lan: ['192.168.50.1/24'],
  },
});
const prefix = (text: string) => {
  const found = parsePrefix(text);
  if (!found) throw new Error(`no prefix: ${text}`);
  return found;
};
const by = (device: string, via: string | null = null): NextHop => ({
  device,
  via: via === null ? null : address(via),
});
const route = (to: string, hop: NextHop, more: Partial<Route> = {}): Route => routeTo(prefix(to), hop, more);
const DEFAULT = route('0.0.0.0/0', by('wan', '203.0.113.1'));
const BACKUP = route('0.0.0.0/0', by('lan', '192.168.50.254'), { table: 'backup' });

const withRoutes = (routes: readonly Route[], more: Partial<Machine> = {}): Machine => ({
  ...MACHINE,
  routes: { 4: routes, 6: MACHINE.routes[6] },
  ...more,
});
const policy = (...rules: readonly PolicyRule[]): Partial<Machine> => ({ policy: { 4: rules, 6: null } });
const LOCAL_RULE = rule(4, 0, 'local');
const MAIN_RULE = rule(4, 32766, 'main');
const to = (destination: string, more: Partial<RouteQuery> = {}): RouteQuery => ({
  destination: address(destination),
  source: null,
  in: 'lo',
  mark: 0,
  ...more,
});

/** Where a packet goes, in short; what is asked comes into `asked`. */
function way(
  machine: Machine,
  query: RouteQuery,
  answers: readonly number[] = [],
  asked: Question[] = [],
): string {
  const found = lookUpRoute(machine, query, (question) => {
    asked.push(question);
    return answers[asked.length - 1] ?? 0;
  });
  switch (found.is) {
    case 'unicast':
      return [found.hop.via ? `via ${formatAddress(found.hop.via)}` : 'direct', found.hop.device].join(' ');
    case 'local':
      return `local ${found.device}`;
    case 'unknown':
      return `unknown ${found.need.need}`;
    default:
      return found.is;
  }
}

describe('the route of a packet (ip-route(8), RFC 1812 §5.2.4.3)', () => {
  const some = withRoutes([
    DEFAULT,
    route('192.168.50.0/24', by('lan')),
    route('192.168.50.128/25', by('lan', '192.168.50.2')),
    route('10.0.0.0/8', by('lan', '192.168.50.3'), { metric: 20 }),
    route('10.0.0.0/8', by('lan', '192.168.50.4'), { metric: 10 }),
    route('10.9.0.0/16', by('lan', '192.168.50.5'), { dead: true }),
    route('172.16.1.0/24', by('lan'), { type: 'blackhole' }),
    route('172.16.2.0/24', by('lan'), { type: 'unreachable' }),
    route('172.16.3.0/24', by('lan'), { type: 'prohibit' }),
    route('172.16.4.0/24', by('lan'), { type: 'throw' }),
    route('172.16.5.0/24', by('lan'), { type: 'anycast' }),
  ]);
  const table: readonly (readonly [string, string, string])[] = [
    ['the default one, where nothing longer fits', '198.51.100.7', 'via 203.0.113.1 wan'],
    ['the longest prefix', '192.168.50.130', 'via 192.168.50.2 lan'],
    ['on the link', '192.168.50.20', 'direct lan'],
    ['the lowest metric of two', '10.1.2.3', 'via 192.168.50.4 lan'],
    ['not a dead one', '10.9.0.1', 'via 192.168.50.4 lan'],
    ['an address of its own', '192.168.50.1', 'local lan'],
    ['any address of the loopback network', '127.9.9.9', 'local lo'],
    ['a black hole', '172.16.1.9', 'blackhole'],
    ['said to be unreachable', '172.16.2.9', 'unreachable'],
    ['said to be prohibited', '172.16.3.9', 'prohibit'],
    ['a table’s own end leads to the next rule, and none is left', '172.16.4.9', 'none'],
    ['shared by several machines', '172.16.5.9', 'anycast'],
  ];
  for (const [title, target, expected] of table)
    it(title, () => expect(way(some, to(target))).to.equal(expected));

  it('none without a default one', () => {
    expect(way(withRoutes([route('192.168.50.0/24', by('lan'))]), to('198.51.100.7'))).to.equal('none');
  });

  it('its own addresses are known where its routes are not', () => {
    const open = { ...MACHINE, routes: { 4: null, 6: null } };
    expect(way(open, to('192.168.50.1'))).to.equal('local lan');
    expect(way(open, to('192.168.50.20'))).to.equal('direct lan');
    expect(way(open, to('198.51.100.7'))).to.equal('unknown routes');
    expect(way({ ...open, interfaces: null }, to('198.51.100.7'))).to.equal('unknown addresses');
    expect(way({ ...open, policy: { 4: 'open', 6: null } }, to('192.168.50.20'))).to.equal('unknown routes');
    expect(way({ ...open, policy: { 4: 'open', 6: null } }, to('192.168.50.1'))).to.equal('local lan');
  });

  it('one of several hops, each tried', () => {
    const spread = withRoutes([
      { ...DEFAULT, hops: [by('wan', '203.0.113.1'), by('lan', '192.168.50.254')] },
    ]);
    const asked: Question[] = [];
    expect(way(spread, to('198.51.100.7'), [0], asked)).to.equal('via 203.0.113.1 wan');
    expect(way(spread, to('198.51.100.7'), [1])).to.equal('via 192.168.50.254 lan');
    expect(asked.map((q) => q.need)).to.deep.equal([{ need: 'spread', stop: 'edge', ways: 2 }]);
    // Only one of them leads out of the interface that is asked for.
    const [none]: Question[][] = [[]];
    expect(way(spread, to('198.51.100.7', { out: 'lan' }), [], none)).to.equal('via 192.168.50.254 lan');
    expect(none).to.deep.equal([]);
    expect(way(spread, to('198.51.100.7', { out: 'dmz' }))).to.equal('none');
  });

  it('a route with words that are not modelled may lead there or not', () => {
    const odd = withRoutes([DEFAULT, route('10.0.0.0/8', by('lan'), { unmodelled: 'encap' })]);
    expect(way(odd, to('10.1.2.3'), [0])).to.equal('direct lan');
    expect(way(odd, to('10.1.2.3'), [1])).to.equal('via 203.0.113.1 wan');
    const asked: Question[] = [];
    way(odd, to('198.51.100.7'), [], asked);
    expect(asked).to.deep.equal([]);
  });
});

describe('rules that choose a table (ip-rule(8))', () => {
  const routes = [DEFAULT, BACKUP, route('192.168.50.0/24', by('lan'))];
  const chosen = (extra: Partial<PolicyRule>, query: Partial<RouteQuery>, others: PolicyRule[] = []) =>
    way(
      withRoutes(routes, policy(LOCAL_RULE, { ...rule(4, 100, 'backup'), ...extra }, ...others, MAIN_RULE)),
      to('198.51.100.7', query),
    );
  const [APPLIES, PASSED_OVER] = ['via 192.168.50.254 lan', 'via 203.0.113.1 wan'];
  const table: readonly (readonly [string, Partial<PolicyRule>, Partial<RouteQuery>, boolean])[] = [
    ['any packet', {}, {}, true],
    ['from a network', { from: prefix('10.0.0.0/8') }, { source: address('10.1.1.1') }, true],
    ['from another one', { from: prefix('10.0.0.0/8') }, { source: address('11.1.1.1') }, false],
    ['from a network, no sender yet', { from: prefix('10.0.0.0/8') }, {}, false],
    ['from anywhere, no sender yet', { from: prefix('0.0.0.0/0') }, {}, true],
    ['to a network', { to: prefix('198.51.100.0/24') }, {}, true],
    ['to another one', { to: prefix('198.51.101.0/24') }, {}, false],
    ['in by an interface', { in: 'wan' }, { in: 'wan' }, true],
    ['in by another one', { in: 'wan' }, { in: 'lan' }, false],
    ['out by an interface that is asked for', { out: 'lan' }, { out: 'lan' }, true],
    ['out by one, where none is asked for', { out: 'lan' }, {}, false],
    ['a mark', { mark: { value: 2, mask: 0xffffffff } }, { mark: 2 }, true],
    ['another mark', { mark: { value: 2, mask: 0xffffffff } }, { mark: 3 }, false],
    ['bits of a mark', { mark: { value: 2, mask: 2 } }, { mark: 7 }, true],
    ['the top bit of a mark', { mark: { value: 0x80000000, mask: 0x80000000 } }, { mark: 0x80000001 }, true],
    ['a protocol', { protocol: 6 }, { protocol: 6 }, true],
    ['another protocol', { protocol: 17 }, { protocol: 6 }, false],
    ['the first port of a range', { dport: { first: 80, last: 90 } }, { dport: 80 }, true],
    ['the last port of a range', { dport: { first: 80, last: 90 } }, { dport: 90 }, true],
    ['a port before a range', { dport: { first: 80, last: 90 } }, { dport: 79 }, false],
    ['a port after a range', { dport: { first: 80, last: 90 } }, { dport: 91 }, false],
    ['a port, of a packet without any', { dport: { first: 0, last: 90 } }, { dport: null }, false],
    ['a source port', { sport: { first: 80, last: 90 } }, { sport: 85 }, true],
    ['another source port', { sport: { first: 80, last: 90 } }, { sport: 95 }, false],
    ['not from a network', { not: true, from: prefix('10.0.0.0/8') }, { source: address('10.1.1.1') }, false],
    ['not from another', { not: true, from: prefix('10.0.0.0/8') }, { source: address('11.1.1.1') }, true],
    ['nothing to do', { action: 'nop' }, {}, false],
    ['long enough prefixes alone', { suppressPrefixLength: 0 }, {}, false],
  ];
  for (const [title, extra, query, applies] of table)
    it(title, () => expect(chosen(extra, query)).to.equal(applies ? APPLIES : PASSED_OVER));

  it('an end of its own', () => {
    expect(chosen({ action: 'prohibit' }, {})).to.equal('prohibit');
    expect(chosen({ action: 'blackhole' }, {})).to.equal('blackhole');
  });

  it('a leap to a later rule, never back', () => {
    const skipped = { ...rule(4, 200, 'backup') };
    expect(chosen({ action: 'goto', goto: 300 }, {}, [skipped])).to.equal(PASSED_OVER);
    expect(chosen({ action: 'goto', goto: 200 }, {}, [skipped])).to.equal(APPLIES);
    expect(chosen({ action: 'goto', goto: 0 }, {}, [])).to.equal(PASSED_OVER);
    expect(chosen({ action: 'goto', goto: 100 }, {}, [])).to.equal(PASSED_OVER);
  });

  it('keeps what is longer than the length that it passes over', () => {
    const machine = withRoutes(
      [DEFAULT, route('198.51.100.0/24', by('lan', '192.168.50.9'))],
      policy(
        LOCAL_RULE,
        { ...rule(4, 100, 'main'), suppressPrefixLength: 8 },
        rule(4, 200, 'none'),
        MAIN_RULE,
      ),
    );
    expect(way(machine, to('198.51.100.7'))).to.equal('via 192.168.50.9 lan');
    expect(way(machine, to('198.51.102.7'))).to.equal(PASSED_OVER);
  });

  it('that has words which are not modelled may apply or not', () => {
    const machine = withRoutes(
      routes,
      policy(LOCAL_RULE, { ...rule(4, 100, 'backup'), unmodelled: 'uidrange 0-99' }, MAIN_RULE),
    );
    const asked: Question[] = [];
    expect(way(machine, to('198.51.100.7'), [0], asked)).to.equal(APPLIES);
    expect(way(machine, to('198.51.100.7'), [1])).to.equal(PASSED_OVER);
    expect(asked.map((q) => q.need)).to.deep.equal([
      { need: 'routing-rule', stop: 'edge', priority: 100, text: 'uidrange 0-99' },
    ]);
  });

  it('without any for its own addresses these are not its own', () => {
    expect(way(withRoutes(routes, policy(MAIN_RULE)), to('192.168.50.1'))).to.equal('direct lan');
  });
});
