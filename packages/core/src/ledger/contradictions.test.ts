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
      `${c.sides.map((s) => s.value + (s.typed ? ' (typed)' : '')).join(' against ')}${c.slip ? `, ${c.slip}` : ''}`,
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

  it('the address that people say the server has against the one that it prints', () => {
    expect(
      told(
        {
          'host/addresses':
            '2: eno1: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n    inet 192.168.50.20/24 scope global eno1\n',
        },
        ['server 192.168.50.02'],
      ),
    ).to.deep.equal([]);
    expect(
      told(
        {
          'host/addresses':
            '2: eno1: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n    inet 192.168.50.20/24 scope global eno1\n',
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
  });
});
