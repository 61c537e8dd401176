import { expect } from 'chai';
import { strFromU8, strToU8, zipSync } from 'fflate';
import { CaseError, unpackCase } from './index.ts';

const CASE = JSON.stringify({
  format: 'bright-ferry-case',
  version: 1,
  title: 'Gullcast',
  path: [
    { id: 'client', role: 'client' },
    { id: 'server', role: 'host' },
  ],
  evidence: [{ stop: 'server', file: 'evidence/server/a.txt' }],
});

/** A case whose evidence is stored as it is, so that a byte of it can be changed in the file. */
const stored = (names: Record<string, string>): Uint8Array =>
  zipSync(Object.fromEntries(Object.entries(names).map(([n, t]) => [n, strToU8(t)])), { level: 0 });

const good = (): Uint8Array =>
  stored({ 'case.json': CASE, 'evidence/server/a.txt': 'WAN IP 203.0.113.50\n' });

/** The same bytes with one piece of text in another, as long. */
function changed(bytes: Uint8Array, from: string, to: string): Uint8Array {
  const text = strFromU8(bytes, true);
  expect(text).to.contain(from);
  return strToU8(text.split(from).join(to), true);
}

describe('case files that were damaged on their way', () => {
  it('one that is in order is taken in', () =>
    expect(strFromU8(unpackCase(good(), 'a.ferry.zip').files.get('evidence/server/a.txt')!)).to.equal(
      'WAN IP 203.0.113.50\n',
    ));

  it('an address with another digit is refused by its checksum, and named', () =>
    expect(() => unpackCase(changed(good(), '203.0.113.50', '203.0.113.51'), 'a.ferry.zip')).to.throw(
      CaseError,
      'a.ferry.zip: evidence/server/a.txt is damaged in it; export the case again, or send it anew',
    ));

  it('a size that is not the real one is refused', () => {
    const bytes = good();
    const view = new DataView(bytes.buffer, bytes.byteOffset);
    for (let i = 0; i + 4 < bytes.length; i++)
      if (view.getUint32(i, true) === 0x02014b50) view.setUint32(i + 24, 10, true);
    expect(() => unpackCase(bytes, 'a.ferry.zip')).to.throw(CaseError, 'damaged');
  });

  it('two entries of one name are refused: which of them counts is not known', () =>
    expect(() =>
      unpackCase(
        changed(stored({ 'case.json': CASE, 'casf.json': CASE }), 'casf.json', 'case.json'),
        'a.ferry.zip',
      ),
    ).to.throw(CaseError, 'holds case.json twice'));

  it('names with backslashes are refused', () =>
    expect(() =>
      unpackCase(stored({ 'case.json': CASE, 'evidence/server/..\\..\\x.txt': 'x' }), 'a.ferry.zip'),
    ).to.throw(CaseError, 'has a backslash'));
});
