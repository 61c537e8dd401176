import { expect } from 'chai';
import { readText } from '../reading/index.ts';
import { misplacedAt } from './misplaced.ts';

const piece = (stop: string, text: string) => ({ stop, facts: readText(text)?.facts ?? [] });
const addresses = (...rows: readonly (readonly [string, string])[]): string =>
  rows
    .map(
      ([name, address], i) =>
        `${i + 1}: ${name}: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n` +
        `    inet ${address} scope global ${name}\n`,
    )
    .join('');
const sockets = (...at: readonly string[]): string =>
  'Netid State Recv-Q Send-Q Local Address:Port Peer Address:PortProcess\n' +
  at.map((a) => `tcp LISTEN 0 16 ${a} 0.0.0.0:* users:(("x",pid=1,fd=3))\n`).join('');

const GATEWAY = piece(
  'gateway',
  addresses(
    ['wan', '203.0.113.50/29'],
    ['lan', '192.168.50.1/24'],
    ['lo', '127.0.0.1/8'],
    ['dummy', '169.254.9.9/16'],
  ),
);
const HOST = piece('host', addresses(['eno1', '192.168.50.20/24']));

/** Why a piece at the server is another machine's. */
const why = (text: string, host = HOST): unknown => {
  const judged = piece('host', text);
  return misplacedAt([GATEWAY, host, judged]).get(judged) ?? null;
};

describe('a piece that is proven to be another machine’s', () => {
  const listening: readonly (readonly [string, readonly string[], boolean])[] = [
    ['on the gateway’s address', ['192.168.50.1:53'], true],
    ['on the gateway’s address, and on all', ['0.0.0.0:22', '192.168.50.1:53'], true],
    ['on its own address', ['192.168.50.20:8214'], false],
    ['on both: it cannot be told', ['192.168.50.20:8214', '192.168.50.1:53'], false],
    ['on all addresses', ['0.0.0.0:8214', '[::]:8214'], false],
    ['on the loopback, which every machine has', ['127.0.0.1:6379'], false],
    ['on an address of its link alone', ['169.254.9.9:67'], false],
    ['on a group', ['224.0.0.251:5353'], false],
    ['on an address that nobody is known to have', ['192.168.50.99:8214'], false],
  ];
  for (const [title, at, isOther] of listening)
    it(`sockets ${title}: ${isOther ? 'not the server’s' : 'left where they are'}`, () => {
      const expected = isOther ? { by: 'sockets', address: '192.168.50.1', stop: 'gateway' } : null;
      expect(why(sockets(...at))).to.deep.equal(expected);
    });

  it('routes by a next hop that it holds itself', () =>
    expect(why('default via 192.168.50.20 dev eno1\n192.168.50.0/24 dev eno1 scope link\n')).to.deep.equal({
      by: 'own-gateway',
      address: '192.168.50.20',
    }));

  it('routes by interfaces that it does not have', () => {
    expect(why('default via 192.168.50.1 dev en7\n192.168.50.0/24 dev en7 scope link\n')).to.deep.equal({
      by: 'interfaces',
      names: ['en7'],
    });
    expect(why('default via 192.168.50.1 dev eno1\n10.9.0.0/24 dev wg0 scope link\n')).to.equal(null);
  });

  it('nothing, where its own addresses are not known', () => {
    const nothing = piece('host', '');
    expect(why(sockets('192.168.50.1:53'), nothing)).to.equal(null);
    expect(why('default via 192.168.50.20 dev en7\n', nothing)).to.equal(null);
  });
});
