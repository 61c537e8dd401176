import { expect } from 'chai';
import fc from 'fast-check';
import { address } from './address.ts';
import {
  addressComplement,
  addressDifference,
  addressIntersection,
  addressRange,
  addressSet,
  addressUnion,
  ALL_ADDRESSES,
  hasAddress,
  NO_ADDRESSES,
  sameAddressSet,
  toPrefixes,
} from './addressSet.ts';
import { formatPrefix, prefix, prefixContains, type Prefix } from './prefix.ts';

/** Prefixes inside one small block, so that they meet often and every address can be tried. */
const small = fc
  .tuple(fc.integer({ min: 0, max: 63 }), fc.integer({ min: 26, max: 32 }))
  .map(([host, length]): Prefix => prefix(`192.0.2.${host}/${length}`));
const everyAddress = Array.from({ length: 64 }, (_, i) => address(`192.0.2.${i}`));

describe('address sets against single addresses', () => {
  it('agree with the prefixes that they were made from', () => {
    fc.assert(
      fc.property(fc.array(small, { maxLength: 5 }), fc.array(small, { maxLength: 5 }), (x, y) => {
        const [a, b] = [addressSet(...x), addressSet(...y)];
        for (const at of everyAddress) {
          const [inA, inB] = [x.some((p) => prefixContains(p, at)), y.some((p) => prefixContains(p, at))];
          expect(hasAddress(addressUnion(a, b), at)).to.equal(inA || inB);
          expect(hasAddress(addressIntersection(a, b), at)).to.equal(inA && inB);
          expect(hasAddress(addressDifference(a, b), at)).to.equal(inA && !inB);
          expect(hasAddress(addressComplement(a), at)).to.equal(!inA);
        }
      }),
    );
  });

  it('fall apart into the smallest list of prefixes, and that list makes the same set again', () => {
    expect(
      toPrefixes(addressRange(address('192.0.2.1'), address('192.0.2.6'))).map(formatPrefix),
    ).to.deep.equal(['192.0.2.1', '192.0.2.2/31', '192.0.2.4/31', '192.0.2.6']);
    expect(toPrefixes(ALL_ADDRESSES).map(formatPrefix)).to.deep.equal(['0.0.0.0/0', '::/0']);
    fc.assert(
      fc.property(fc.array(small, { maxLength: 6 }), (list) => {
        const set = addressSet(...list);
        const back = toPrefixes(set);
        expect(sameAddressSet(addressSet(...back), set)).to.equal(true);
        // Smallest: no two neighbours of the list could be one prefix.
        back.forEach((p, i) => {
          const next = back[i + 1];
          if (next && p.length === next.length)
            expect(
              sameAddressSet(
                addressSet(prefix(`${formatPrefix(p).split('/')[0]!}/${p.length - 1}`)),
                addressSet(p, next),
              ),
            ).to.equal(false);
        });
      }),
    );
  });

  it('keep the families apart', () => {
    expect(hasAddress(addressSet(prefix('0.0.0.0/0')), address('::1'))).to.equal(false);
    expect(sameAddressSet(addressComplement(ALL_ADDRESSES), NO_ADDRESSES)).to.equal(true);
  });
});
