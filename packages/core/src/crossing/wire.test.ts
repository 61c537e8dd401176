import { expect } from 'chai';
import { address } from '../net/index.ts';
import type { Machine, NetInterface, Site } from '../site/index.ts';
import { testMachine } from '../testing/index.ts';
import { wireEnd } from './wire.ts';

/** A machine at one end of a tunnel. */
const end = (id: string, at: string, change: Partial<NetInterface> = {}): Machine => {
  const machine = testMachine(id, { interfaces: { wg0: [at] } });
  const interfaces = (machine.interfaces ?? []).map((i) => ({ ...i, noNeighbours: true, ...change }));
  return { ...machine, interfaces };
};
const HERE = end('relay', '10.66.0.1/24');

/** Where a packet for an address goes that leaves by the tunnel. */
const told = (hop: string, ...others: readonly Machine[]): string => {
  const site: Site = { machines: [HERE, ...others], sharedAddresses: [], internet: null };
  const how = { isQuestion: true, isForwarded: true, destination: address(hop) };
  const found = wireEnd(site, HERE, { out: 'wg0', via: null, viaDefault: false }, address(hop), how);
  if (found.to === 'machine') return `${found.machine.id} ${found.interface.name}`;
  return 'ending' in found ? found.ending.kind : found.to;
};

describe('into a tunnel', () => {
  const HOST = end('host', '10.66.0.2/24');
  const table: readonly (readonly [string, string, readonly Machine[], string])[] = [
    ['whoever holds the address takes it', '10.66.0.2', [HOST], 'host wg0'],
    ['what is for somewhere behind the other end comes out there', '192.168.50.20', [HOST], 'host wg0'],
    ['an address of the tunnel that nobody holds is somebody else’s', '10.66.0.9', [HOST], 'left-by-tunnel'],
    ['without another end it has left', '192.168.50.20', [], 'left-by-tunnel'],
    [
      'of two other ends nobody knows which',
      '192.168.50.20',
      [HOST, end('third', '10.66.0.3/24')],
      'left-by-tunnel',
    ],
    [
      'an end that is switched off is none',
      '192.168.50.20',
      [end('host', '10.66.0.2/24', { adminUp: false })],
      'left-by-tunnel',
    ],
    [
      'a plain interface in its network is none',
      '192.168.50.20',
      [end('host', '10.66.0.2/24', { noNeighbours: false })],
      'left-by-tunnel',
    ],
    ['a tunnel elsewhere is none', '192.168.50.20', [end('host', '10.77.0.2/24')], 'left-by-tunnel'],
  ];
  for (const [title, hop, others, expected] of table)
    it(title, () => expect(told(hop, ...others)).to.equal(expected));
});
