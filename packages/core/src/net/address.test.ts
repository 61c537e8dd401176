import { expect } from 'chai';
import fc from 'fast-check';
import { formatAddress, parseAddress, unmapped, address } from './address.ts';

describe('addresses', () => {
  it('reads the four-part form only, never octal, hexadecimal or short ones', () => {
    expect(parseAddress('192.0.2.1')).to.deep.equal({ family: 4, bits: 0xc0000201n });
    for (const text of [
      '192.0.2',
      '192.0.2.01',
      '0xc0.0.2.1',
      '192.0.2.256',
      '192.0.2.1.',
      '',
      ' 192.0.2.1',
      '3221225985',
    ])
      expect(parseAddress(text), text).to.equal(null);
  });

  it('reads IPv6 in all its notations and writes RFC 5952', () => {
    for (const text of ['2001:db8:0:0:0:0:0:1', '2001:DB8::1', '2001:0db8::0001'])
      expect(formatAddress(address(text))).to.equal('2001:db8::1');
    // RFC 5952 §4.2.2 and §4.2.3: one 16-bit zero is not shortened, the longest run is, the first of equal
    // ones.
    expect(formatAddress(address('2001:db8:0:1:1:1:1:1'))).to.equal('2001:db8:0:1:1:1:1:1');
    expect(formatAddress(address('2001:db8:0:0:1:0:0:1'))).to.equal('2001:db8::1:0:0:1');
  });

  it('refuses zone indexes and anything around an address', () => {
    for (const text of ['fe80::1%eth0', '[2001:db8::1]', '2001:db8::1::', 'g::1', '2001:db8::/32'])
      expect(parseAddress(text), text).to.equal(null);
  });

  it('finds the IPv4 address in a mapped one', () => {
    expect(unmapped(address('::ffff:192.0.2.9'))).to.deep.equal(address('192.0.2.9'));
    expect(unmapped(address('2001:db8::1'))).to.deep.equal(address('2001:db8::1'));
  });

  it('survives a round trip', () => {
    fc.assert(fc.property(fc.ipV4(), (text) => formatAddress(address(text)) === text));
    fc.assert(
      fc.property(
        fc.bigInt(0n, (1n << 128n) - 1n),
        (bits) => parseAddress(formatAddress({ family: 6, bits }))?.bits === bits,
      ),
    );
  });
});
