import { expect } from 'chai';
import { address, type Family } from '../net/index.ts';
import { testMachine } from '../testing/index.ts';
import { isLocalAddress } from './routing.ts';

const MACHINE = testMachine('edge', {
  interfaces: {
    lo: ['127.0.0.1/8', '::1/128'],
    wan: ['203.0.113.50/24', '2001:db8:50::1/64'],
    lan: ['192.168.50.1/24'],
  },
});

describe('addresses of its own', () => {
  const told = (text: string, machine = MACHINE) => isLocalAddress(machine, address(text));

  it('are those of all interfaces, family by family', () => {
    expect(['203.0.113.50', '192.168.50.1', '2001:db8:50::1', '::1'].map((a) => told(a))).to.deep.equal([
      true,
      true,
      true,
      true,
    ]);
    // The same bits in the other family, as an address of IPv6.
    const bits = address('203.0.113.50').bits;
    const other: Family = 6;
    expect(isLocalAddress(MACHINE, { family: other, bits })).to.equal(false);
    expect(told('203.0.113.51')).to.equal(false);
  });

  it('but none that is not in use, and none where no interface is known', () => {
    const unused = {
      ...MACHINE,
      interfaces: (MACHINE.interfaces ?? []).map((i) => ({
        ...i,
        addresses: i.addresses.map((a) => ({ ...a, unusable: true })),
      })),
    };
    expect(told('203.0.113.50', unused)).to.equal(false);
    expect(told('203.0.113.50', { ...MACHINE, interfaces: null })).to.equal(false);
  });
});
