import { strToU8, zipSync } from 'fflate';
import { expect } from 'chai';
import { decodeText } from './bytes.ts';
import { CaseError, type CaseDocument } from './document.ts';
import { parseCaseDocument } from './schema.ts';
import { evidenceEntries } from './entries.ts';
import { folderFrom, packCase, unpackCase } from './zip.ts';

const DOCUMENT: CaseDocument = {
  format: 'bright-ferry-case',
  version: 1,
  title: 'T',
  path: [
    { id: 'client', role: 'client' },
    { id: 'host', role: 'host' },
  ],
  evidence: [{ stop: 'host', file: 'evidence/host/a.txt' }],
  ownKey: { kept: true },
};
const problem = (work: () => unknown): string => {
  try {
    work();
  } catch (error) {
    if (error instanceof CaseError) return error.message;
    throw error;
  }
  return 'no problem';
};

describe('case files', () => {
  it('come back byte for byte, unknown keys and all', () => {
    const bytes = Uint8Array.from({ length: 300 }, (_, i) => i % 256);
    const packed = packCase({ document: DOCUMENT, files: new Map([['evidence/host/a.txt', bytes]]) });
    const back = unpackCase(packed, 'x.ferry.zip');
    expect(back.document).to.deep.equal(DOCUMENT);
    expect(back.files.get('evidence/host/a.txt')).to.deep.equal(bytes);
    expect(packCase(back), 'the same case gives the same file').to.deep.equal(packed);
  });

  it('are refused with the file, the line and the problem', () => {
    expect(problem(() => parseCaseDocument('{\n "format": "bright-ferry-case",\n oops\n}'))).to.match(
      /^case\.json:3: not valid JSON/,
    );
    expect(
      problem(() => parseCaseDocument('{"format": "other", "version": 1, "title": "", "path": []}')),
    ).to.contain('this is not a case');
    expect(
      problem(() =>
        parseCaseDocument('{"format": "bright-ferry-case", "version": 2, "title": "", "path": []}'),
      ),
    ).to.contain('newer than this program');
    expect(
      problem(() =>
        parseCaseDocument(
          JSON.stringify(
            { ...DOCUMENT, service: { endpoints: [{ protocol: 'tcp', port: 70000 }] } },
            null,
            1,
          ),
        ),
      ),
    ).to.match(/port/);
    expect(
      problem(() =>
        parseCaseDocument(JSON.stringify({ ...DOCUMENT, client: { address: '198.51.100.300' } })),
      ),
    ).to.contain('not an IP address');
    expect(
      problem(() =>
        parseCaseDocument(
          JSON.stringify({ ...DOCUMENT, evidence: [{ stop: 'host', file: 'evidence/host/../../x' }] }),
        ),
      ),
    ).to.contain('leaves the case folder');
    expect(
      problem(() =>
        parseCaseDocument(
          JSON.stringify({
            ...DOCUMENT,
            path: [
              { id: 'a', role: 'host' },
              { id: 'a', role: 'host' },
            ],
          }),
        ),
      ),
    ).to.contain('same id');
  });

  it('damaged and foreign archives are refused whole', () => {
    const packed = packCase({ document: DOCUMENT, files: new Map([['evidence/host/a.txt', strToU8('x')]]) });
    expect(problem(() => unpackCase(packed.slice(0, packed.length - 30), 'cut.zip'))).to.contain(
      'cut.zip: not a zip file, or a damaged one',
    );
    expect(problem(() => unpackCase(strToU8('hello'), 'hello.zip'))).to.contain('not a zip file');
    expect(problem(() => unpackCase(zipSync({ 'readme.txt': strToU8('x') }), 'other.zip'))).to.contain(
      'holds no case.json',
    );
    expect(
      problem(() => unpackCase(zipSync({ 'case.json': strToU8(JSON.stringify(DOCUMENT)) }), 'thin.zip')),
    ).to.contain('evidence/host/a.txt is named in case.json and is not there');
  });

  it('take in files below evidence/<stop>/ that case.json does not list', () => {
    const { evidence: _, ...plain } = DOCUMENT;
    const folder = folderFrom(
      new Map([
        ['case.json', strToU8(JSON.stringify(plain))],
        ['evidence/host/b.txt', strToU8('b')],
        ['evidence/elsewhere/c.txt', strToU8('c')],
        ['notes.txt', strToU8('n')],
      ]),
      'folder',
    );
    expect(evidenceEntries(folder)).to.deep.equal([{ stop: 'host', file: 'evidence/host/b.txt' }]);
  });
});

describe('text of any encoding', () => {
  const utf16 = (text: string, mark: boolean): Uint8Array =>
    Uint8Array.from([
      ...(mark ? [0xff, 0xfe] : []),
      ...[...text].flatMap((c) => [c.charCodeAt(0) & 255, c.charCodeAt(0) >> 8]),
    ]);
  it('is read, binary is named', () => {
    expect(decodeText(strToU8('\uFEFFWAN IP'))).to.deep.equal({ text: 'WAN IP' });
    expect(decodeText(utf16('WAN IP 203.0.113.50', true))).to.deep.equal({ text: 'WAN IP 203.0.113.50' });
    expect(decodeText(utf16('WAN IP 203.0.113.50', false))).to.deep.equal({ text: 'WAN IP 203.0.113.50' });
    expect(decodeText(Uint8Array.from([0x89, 0x50, 0x4e, 0x47, 1, 2]))).to.deep.equal({
      notText: 'a PNG picture',
    });
    expect(decodeText(Uint8Array.from([1, 2, 0, 3, 4, 5, 6, 7, 8, 9]))).to.deep.equal({
      notText: 'binary data',
    });
  });
});
