import { expect } from 'chai';
import { address } from '../net/index.ts';
import { bareMachine, type Machine, type NetInterface, type Site } from '../site/index.ts';
import { testMachine } from '../testing/index.ts';
import { bareWay, holds } from './bareSender.ts';

const GATEWAY = testMachine('gateway', {
  role: 'gateway',
  interfaces: { wan: ['203.0.113.50/24'], lan: ['192.168.50.1/24'] },
});
const SERVER = testMachine('server', { interfaces: { eno1: ['192.168.50.20/24'] } });
const CARRIER = testMachine('carrier', { role: 'carrier', interfaces: { net: ['203.0.113.1/24'] } });
const SENDER = bareMachine('sender', address('192.168.50.31'));

/** Which stop a packet of a machine with one address goes to first. */
function way(
  to: string,
  others: readonly Machine[],
  { sender = SENDER, internet = 'carrier' }: { sender?: Machine; internet?: string | null } = {},
): string {
  const site: Site = { machines: [sender, ...others], sharedAddresses: [], internet };
  const found = bareWay(site, sender, address(to));
  if (found.is === 'neighbour') return `${found.machine.id} ${found.interface.name}`;
  return found.is === 'unknown' ? `unknown ${found.need.need} by ${found.yields}` : found.is;
}

describe('where a machine sends of which only its address is known', () => {
  const table: readonly (readonly [string, string, readonly Machine[], string])[] = [
    ['to the machine on its link that holds the address', '192.168.50.20', [GATEWAY, SERVER], 'server eno1'],
    ['to its router itself', '192.168.50.1', [GATEWAY, SERVER], 'gateway lan'],
    ['to its router, for what is not on the link', '203.0.113.9', [GATEWAY, SERVER], 'gateway lan'],
    [
      'to nobody known, for what is on the link',
      '192.168.50.40',
      [GATEWAY, SERVER],
      'unknown holder by neighbours',
    ],
    ['to the internet, where no router stands on its link', '198.51.100.7', [SERVER], 'internet'],
    ['not to a host as if it were a router', '198.51.100.7', [SERVER, CARRIER], 'internet'],
    [
      'to one of two routers, nobody knows which',
      '198.51.100.7',
      [GATEWAY, testMachine('second', { role: 'edge', interfaces: { lan: ['192.168.50.2/24'] } })],
      'unknown default-gateway by routes',
    ],
    // The prefix of a network may be any; what its first bits share with another family’s says nothing.
    ['to its router, in the other family', '2001:db8:99::1', [GATEWAY, SERVER], 'gateway lan'],
  ];
  for (const [title, target, others, expected] of table)
    it(title, () => expect(way(target, others)).to.equal(expected));

  it('nobody knows, without a router or the internet', () => {
    expect(way('198.51.100.7', [SERVER], { internet: null })).to.equal('unknown default-gateway by routes');
  });

  it('to the internet, where it has no interface', () => {
    const none = { ...SENDER, interfaces: null };
    expect(way('198.51.100.7', [GATEWAY], { sender: none })).to.equal('internet');
  });
});

describe('whether a machine holds an address', () => {
  it('is seen at any of its interfaces', () => {
    expect(holds(GATEWAY, address('192.168.50.1'))).to.equal(true);
    expect(holds(GATEWAY, address('203.0.113.50'))).to.equal(true);
    expect(holds(GATEWAY, address('192.168.50.20'))).to.equal(false);
    const none: readonly NetInterface[] = [];
    expect(holds({ ...GATEWAY, interfaces: none }, address('192.168.50.1'))).to.equal(false);
    expect(holds({ ...GATEWAY, interfaces: null }, address('192.168.50.1'))).to.equal(false);
  });
});
