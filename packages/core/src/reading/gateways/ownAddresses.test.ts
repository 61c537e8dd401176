import { expect } from 'chai';
import { readText } from '../index.ts';

const list = (own: object): string =>
  JSON.stringify(
    { ...own, in: [{ protocol: 'tcp', fromPort: 5432, toPort: 5432, source: '198.51.100.0/24' }] },
    null,
    1,
  );
const said = (own: object): string[] =>
  (readText(list(own))?.facts ?? []).flatMap((f) => (f.kind === 'labelled' ? [`${f.what} ${f.value}`] : []));

describe('the machine’s addresses in an export of what its perimeter lets in', () => {
  it('are told by their keys, however those are written', () => {
    const both = ['own-address 10.0.1.21', 'wan-address 192.0.2.80'];
    expect(said({ privateAddress: '10.0.1.21', publicAddress: '192.0.2.80' })).to.deep.equal(both);
    expect(said({ private_ip: '10.0.1.21', public_ip: '192.0.2.80' })).to.deep.equal(both);
    expect(said({ 'Internal IP': '10.0.1.21', 'External IP': '192.0.2.80' })).to.deep.equal(both);
  });

  it('is none where the export says so', () => {
    expect(said({ publicAddress: 'none' })).to.deep.equal(['no-public-address none']);
    expect(said({ publicIp: null })).to.deep.equal(['no-public-address none']);
  });

  it('are no keys of something else', () =>
    expect(
      said({ machine: 'harbour-1', publicName: 'db', addressGroup: 'own', ip: '10.0.1.21' }),
    ).to.deep.equal([]));

  it('stand where they are written', () => {
    const text = list({ privateAddress: '10.0.1.21' });
    const [fact] = (readText(text)?.facts ?? []).filter((f) => f.kind === 'labelled');
    const line = text.split('\n')[fact!.at.line - 1]!;
    expect(line.slice(fact!.at.column, fact!.at.endColumn)).to.equal('10.0.1.21');
  });
});
