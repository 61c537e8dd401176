import { expect } from 'chai';
import { strToU8, zipSync } from 'fflate';
import { CaseError, MAX_UNPACKED, unpackCase } from './index.ts';

/** A zip file whose directory claims another size for its only entry (PKWARE APPNOTE 4.3.12, offset 24). */
function claiming(size: number): Uint8Array {
  const bytes = zipSync({ 'case.json': strToU8('{}') });
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  for (let i = 0; i + 4 < bytes.length; i++)
    if (view.getUint32(i, true) === 0x02014b50) view.setUint32(i + 24, size, true);
  return bytes;
}

describe('case files that unpack to too much', () => {
  it('are refused in one line, before they are unpacked', () =>
    expect(() => unpackCase(claiming(MAX_UNPACKED + 1), 'big.ferry.zip')).to.throw(
      CaseError,
      'unpacks to more than 128 MiB',
    ));

  it('up to the limit the size is no reason', () =>
    expect(() => unpackCase(claiming(MAX_UNPACKED), 'big.ferry.zip')).to.not.throw(
      CaseError,
      'unpacks to more than',
    ));
});
