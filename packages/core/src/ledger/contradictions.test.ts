import { expect } from 'chai';
import { contradictions, slipOf } from './contradictions.ts';
import { caseFacts } from '../testing/index.ts';

const PATH = (typed: string[] = []) => [
  { id: 'client', role: 'client' as const },
  { id: 'gateway', role: 'gateway' as const, typed: typed.map((text) => ({ text })) },
  { id: 'host', role: 'host' as const },
];
const told = (files: Record<string, string>, typed: string[] = []): string[] =>
  contradictions(caseFacts(PATH(typed), files)).map(
    (c) =>
      `${c.stop}: ${c.of ?? c.about}: ` +
      `${c.sides.map((s) => s.value + (s.typed ? ' (typed)' : '')).join(' against ')}` +
      `${c.slip ? `, ${c.slip}` : ''}`,
  );

describe('facts that contradict each other', () => {
  it('a typed outside address against the printed one: the printed one stands, and the slip shows', () => {
    expect(
      told({ 'gateway/status': 'WAN IP 203.0.113.50\nLAN IP 192.168.50.1\n' }, ['WAN IP 203.0.113.55']),
    ).to.deep.equal(['gateway: outside-address: 203.0.113.50 against 203.0.113.55 (typed), one digit off']);
  });

  it('what the gateway tells a program against what its page shows', () => {
    expect(
      told({
        'gateway/status': 'WAN IP 100.72.14.9\nLAN IP 192.168.50.1\n',
        'gateway/natpmp': 'initnatpmp() returned 0 (SUCCESS)\nPublic IP address : 203.0.113.50\n',
      }),
    ).to.have.length(1);
  });

  it('several lines of one page, and several addresses of one interface, are none', () => {
    const lines = 'WAN1\t203.0.113.66\nWAN2\t203.0.113.70\n';
    expect(told({ 'gateway/lines': lines })).to.deep.equal([]);
    const listed =
      '2: eth0: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n' +
      '    inet 203.0.113.64/28 scope global eth0\n' +
      '    inet 203.0.113.65/28 scope global eth0\n';
    const routes = 'default via 203.0.113.78 dev eth0\n203.0.113.64/28 dev eth0 scope link\n';
    const linux = { 'gateway/addresses': listed, 'gateway/routes': routes };
    expect(told(linux)).to.deep.equal([]);
    expect(told(linux, ['WAN IP 203.0.113.65'])).to.deep.equal([]);
    expect(told(linux, ['WAN IP 203.0.113.99'])).to.deep.equal([
      'gateway: outside-address: 203.0.113.64 against 203.0.113.99 (typed)',
    ]);
  });

  it('the outside address is the one of the interface of the default route, in IPv4', () => {
    const listed =
      '2: lan0: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n' +
      '    inet 192.168.50.1/24 scope global lan0\n' +
      '3: wan0: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n' +
      '    inet 203.0.113.50/24 scope global wan0\n';
    const files = {
      'host/a-routes': 'default via 192.168.50.1 dev lan0\n192.168.50.0/24 dev lan0 scope link\n',
      'gateway/addresses': listed,
      'gateway/routes6': 'default via fe80::1 dev lan0 metric 1024 pref medium\n',
      'gateway/routes':
        '192.168.50.0/24 dev lan0 scope link src 192.168.50.1\ndefault via 203.0.113.1 dev wan0\n',
    };
    expect(told(files, ['WAN IP 203.0.113.50'])).to.deep.equal([]);
    expect(told(files, ['WAN IP 203.0.113.51'])).to.deep.equal([
      'gateway: outside-address: 203.0.113.50 against 203.0.113.51 (typed), one digit off',
    ]);
  });

  it('pages of what is no gateway, and addresses that are listed without routes, say nothing of it', () => {
    const page = { 'host/one': 'WAN IP 203.0.113.50\n', 'host/two': 'WAN IP 203.0.113.51\n' };
    expect(told(page)).to.deep.equal([]);
    const listed =
      '2: lan0: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n    inet 192.168.50.1/24 scope global lan0\n';
    expect(told({ 'gateway/addresses': listed }, ['WAN IP 203.0.113.51'])).to.deep.equal([]);
  });

  it('the address that people say the server has against the one that it prints', () => {
    expect(
      told(
        {
          'host/addresses':
            '2: eno1: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n' +
            '    inet 192.168.50.20/24 scope global eno1\n',
        },
        ['server 192.168.50.02'],
      ),
    ).to.deep.equal([]);
    expect(
      told(
        {
          'host/addresses':
            '2: eno1: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n' +
            '    inet 192.168.50.20/24 scope global eno1\n',
        },
        ['server 192.168.50.26'],
      ),
    ).to.deep.equal(['host: server-address: 192.168.50.20 against 192.168.50.26 (typed), one digit off']);
  });

  it('what the page of a router calls the server is no word about this server', () => {
    const own =
      '2: eno1: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n    inet 192.168.50.20/24 scope global eno1\n';
    const page = 'Server IP address: 192.168.50.26\n';
    expect(told({ 'host/addresses': own, 'gateway/page': page })).to.deep.equal([]);
    expect(told({ 'host/addresses': own, 'host/page': page })).to.have.length(1);
    // Without a listing of its own nothing contradicts.
    expect(told({ 'host/page': page })).to.deep.equal([]);
  });

  it('one name with two answers', () => {
    expect(
      told({
        'client/a': 'play.example.net has address 203.0.113.50\n',
        'client/b': 'play.example.net has address 203.0.113.9\n',
      }),
    ).to.have.length(1);
  });

  it('an answer against none, and against a failure; their order does not matter', () => {
    const of = (a: string, b: string) => told({ 'client/a': a, 'client/b': b });
    const one = 'play.example.net has address 203.0.113.50\nplay.example.net has address 203.0.113.9\n';
    const other = 'play.example.net has address 203.0.113.9\nplay.example.net has address 203.0.113.50\n';
    expect(of(one, other)).to.deep.equal([]);
    expect(of(one, 'Host play.example.net not found: 3(NXDOMAIN)\n')).to.deep.equal([
      'client: play.example.net: 203.0.113.50, 203.0.113.9 against NXDOMAIN',
    ]);
  });

  it('one setting with two values, of one machine', () => {
    const [on, off] = ['net.ipv4.ip_forward = 1\n', 'net.ipv4.ip_forward = 0\n'];
    expect(told({ 'host/a': on, 'host/b': off })).to.deep.equal(['host: net.ipv4.ip_forward: 1 against 0']);
    expect(told({ 'host/a': on, 'gateway/b': off })).to.deep.equal([]);
    expect(told({ 'host/a': on, 'host/b': on })).to.deep.equal([]);
  });

  it('nothing where all agree, and a second address of the server is no contradiction', () => {
    expect(
      told(
        {
          'gateway/status': 'WAN IP 203.0.113.50\nLAN IP 192.168.50.1\n',
          'host/a':
            '2: eno1: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n' +
            '    inet 192.168.50.20/24 scope global eno1\n' +
            '    inet 192.168.50.21/24 scope global secondary eno1\n',
        },
        ['WAN IP 203.0.113.50', 'server 192.168.50.21'],
      ),
    ).to.deep.equal([]);
  });

  it('knows a slip of the pen from another address', () => {
    expect(slipOf('192.168.50.20', '192.168.50.26')).to.equal('one digit off');
    expect(slipOf('192.168.50.12', '192.168.50.21')).to.equal('two digits swapped');
    expect(slipOf('192.168.50.2', '192.168.50.20')).to.equal('one digit off');
    expect(slipOf('192.168.50.20', '192.168.51.99')).to.equal(null);
    // Neighbours that are not each other's, and digits swapped that do not stand side by side.
    expect(slipOf('192.168.50.12', '192.168.50.34')).to.equal(null);
    expect(slipOf('192.168.51.20', '192.168.52.10')).to.equal(null);
    expect(slipOf('192.168.50.2', '192.168.50.200')).to.equal(null);
    expect(slipOf('192.168.50.20', '192.168.5.21')).to.equal(null);
    // Of different kinds: no slip makes a public address of an inside one.
    expect(slipOf('192.168.50.20', '193.168.50.20')).to.equal(null);
    expect(slipOf('no record', '192.168.50.20')).to.equal(null);
  });
});
