import { expect } from 'chai';
import { address } from './address.ts';
import { formatEndpoint, parseEndpoint, parseTarget } from './endpoint.ts';
import { parsePortRange } from './ports.ts';
import { formatPrefix, maskLength, parsePrefix, prefix, prefixContains, prefixInterval } from './prefix.ts';

describe('prefixes', () => {
  it('clears bits beyond the length, and reads netmasks', () => {
    expect(formatPrefix(prefix('192.0.2.77/24'))).to.equal('192.0.2.0/24');
    expect(formatPrefix(prefix('192.0.2.0/255.255.255.192'))).to.equal('192.0.2.0/26');
    expect(maskLength('255.0.255.0')).to.equal(null);
    expect(maskLength('0.0.0.0')).to.equal(0);
    expect(formatPrefix(prefix('198.51.100.23'))).to.equal('198.51.100.23');
    for (const bad of ['192.0.2.0/33', '2001:db8::/129', '192.0.2.0/', '192.0.2.0/-1', 'any'])
      expect(parsePrefix(bad), bad).to.equal(null);
  });

  it('know their first and last address', () => {
    expect(prefixInterval(prefix('203.0.113.48/29'))).to.deep.equal({
      first: address('203.0.113.48').bits,
      last: address('203.0.113.55').bits,
    });
    expect(prefixContains(prefix('203.0.113.48/29'), address('203.0.113.56'))).to.equal(false);
    expect(prefixContains(prefix('::/0'), address('203.0.113.50'))).to.equal(false);
  });
});

describe('endpoints and ports', () => {
  it('need brackets for IPv6', () => {
    expect(formatEndpoint(parseEndpoint('[2001:db8::1]:80')!)).to.equal('[2001:db8::1]:80');
    expect(parseEndpoint('2001:db8::1:80')).to.equal(null);
    expect(parseEndpoint('203.0.113.50', 49152)).to.deep.equal({
      address: address('203.0.113.50'),
      port: 49152,
    });
    expect(parseTarget('203.0.113.50:8211/udp')?.transport).to.equal('udp');
    for (const bad of ['203.0.113.50:8211', '203.0.113.50:70000/tcp', ':80/tcp', '203.0.113.50:80/sctp'])
      expect(parseTarget(bad), bad).to.equal(null);
  });

  it('read port ranges with the dashes that people type', () => {
    expect(parsePortRange('28410–28415')).to.deep.equal({ first: 28410, last: 28415 });
    expect(parsePortRange('8211')).to.deep.equal({ first: 8211, last: 8211 });
    for (const bad of ['28415-28410', '65536', '-5', '80,443', ''])
      expect(parsePortRange(bad), bad).to.equal(null);
  });
});
