import { expect } from 'chai';
import { formatPrefix } from '../net/index.ts';
import type { Machine } from '../site/index.ts';
import { testMachine } from '../testing/index.ts';
import { connected } from './routeTables.ts';

const machine = testMachine('host', {
  interfaces: {
    lo: ['127.0.0.1/8', '::1/128'],
    eno1: ['192.168.50.20/24', '2001:db8:50::20/64'],
    eno2: ['10.0.0.5/8'],
    wg0: ['10.9.0.2/32'],
  },
});
const ways = (m: Machine, family: 4 | 6 = 4): string[] =>
  connected(m, family).map((r) => `${formatPrefix(r.destination)} by ${r.hops[0]?.device ?? '-'}`);
const changed = (change: (i: NonNullable<Machine['interfaces']>[number]) => object): Machine => ({
  ...machine,
  interfaces: (machine.interfaces ?? []).map((i) => ({ ...i, ...change(i) })),
});

describe('ways that follow from addresses alone', () => {
  it('are the networks of its interfaces, none of the loopback', () => {
    expect(ways(machine)).to.deep.equal(['192.168.50.0/24 by eno1', '10.0.0.0/8 by eno2', '10.9.0.2 by wg0']);
    expect(ways(machine, 6)).to.deep.equal(['2001:db8:50::/64 by eno1']);
  });

  it('leave out an interface that is switched off, and an address that is not in use', () => {
    expect(ways(changed((i) => ({ adminUp: i.name !== 'eno1' })))).to.deep.equal([
      '10.0.0.0/8 by eno2',
      '10.9.0.2 by wg0',
    ]);
    const unused = changed((i) => ({
      addresses: i.addresses.map((a) => ({ ...a, unusable: i.name === 'eno2' })),
    }));
    expect(ways(unused)).to.deep.equal(['192.168.50.0/24 by eno1', '10.9.0.2 by wg0']);
  });

  it('lead to the other end of a tunnel', () => {
    const [peer] = machine.interfaces?.[1]?.addresses ?? [];
    const other = changed((i) => ({
      addresses:
        i.name === 'wg0' ? i.addresses.map((a) => ({ ...a, peer: peer?.address ?? null })) : i.addresses,
    }));
    expect(ways(other)).to.include('192.168.50.20 by wg0');
  });

  it('are none where no interface is known', () => {
    expect(ways({ ...machine, interfaces: null })).to.deep.equal([]);
  });
});
