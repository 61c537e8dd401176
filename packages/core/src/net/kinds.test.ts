import { expect } from 'chai';
import { address } from './address.ts';
import { addressKind, isReachable } from './kinds.ts';
import { KIND_TABLE } from './kindTable.ts';

describe('address kinds', () => {
  // Rows of the IANA registries, with the edges of each block.
  const rows: readonly (readonly [string, string, boolean])[] = [
    ['10.255.255.255', 'private', false],
    ['11.0.0.0', 'public', true],
    ['172.15.255.255', 'public', true],
    ['172.16.0.0', 'private', false],
    ['172.31.255.255', 'private', false],
    ['172.32.0.0', 'public', true],
    ['192.168.0.1', 'private', false],
    ['100.63.255.255', 'public', true],
    ['100.64.0.0', 'shared', false],
    ['100.127.255.255', 'shared', false],
    ['100.128.0.0', 'public', true],
    ['169.254.1.1', 'link-local', false],
    ['127.0.0.53', 'loopback', false],
    ['192.0.0.2', 'ds-lite', false],
    ['192.0.0.8', 'dummy', false],
    ['192.0.0.9', 'protocol', true],
    ['203.0.113.50', 'documentation', true],
    ['224.0.0.251', 'multicast', false],
    ['255.255.255.255', 'broadcast', false],
    ['8.8.8.8', 'public', true],
    ['0.0.0.0', 'unspecified', false],
    ['0.1.2.3', 'this-network', false],
    ['::1', 'loopback', false],
    ['::', 'unspecified', false],
    ['64:ff9b::c000:201', 'nat64', true],
    ['2002:c000:201::1', '6to4', false],
    ['fd12:3456::1', 'unique-local', false],
    ['fe80::1', 'link-local', false],
    ['2001:db8::1', 'documentation', true],
    ['2001:0:1::1', 'teredo', false],
    ['2a01:4f8::1', 'public', true],
    ['ff02::1', 'multicast', false],
    ['::ffff:192.0.2.1', 'mapped', false],
  ];
  for (const [text, kind, reachable] of rows) {
    it(`${text} is ${kind}`, () => {
      expect(addressKind(address(text)).kind).to.equal(kind);
      expect(isReachable(address(text))).to.equal(reachable);
    });
  }

  it('names a source for every block', () => {
    for (const row of KIND_TABLE) expect(row.rfc).to.match(/^RFC \d+/);
  });
});
