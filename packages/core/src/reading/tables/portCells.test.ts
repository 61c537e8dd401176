import { expect } from 'chai';
import { isEvery, portCell } from './portCells.ts';

const ports = (text: string): unknown => {
  const cell = portCell(text);
  if (cell === null) return null;
  return 'is' in cell.ports ? cell.ports.is : 'open';
};
const one = (first: number, last = first) => [{ first, last }];

describe('cells of ports', () => {
  it('a port, a range and a list in their usual writings', () => {
    expect(ports('8214')).to.deep.equal(one(8214));
    for (const range of [
      '8211-8215',
      '8211 – 8215',
      '8211:8215',
      '8211 to 8215',
      '8211 bis 8215',
      '8211..8215',
    ])
      expect(ports(range), range).to.deep.equal(one(8211, 8215));
    for (const list of ['80, 443', '80;443', '80 443', '80 and 443', '80 + 443'])
      expect(ports(list), list).to.deep.equal([...one(80), ...one(443)]);
  });

  it('notes and names of services beside the number', () => {
    expect(ports('80 (HTTP)')).to.deep.equal(one(80));
    expect(ports('HTTPS')).to.deep.equal(one(443));
    expect(portCell('28410/udp')).to.deep.include({ protocol: 'udp' });
    expect(ports('28410/udp')).to.deep.equal(one(28410));
  });

  it('words for the same port as outside', () => {
    for (const word of ['same', 'Identical', '=', 'gleich']) expect(ports(word), word).to.equal('same');
  });

  it('two readings, a range that runs backwards and an empty cell are open, with what they may mean', () => {
    // A thousands separator or a list: 8,214 is port 8214, or the ports 8 and 214.
    expect(ports('8,214')).to.equal('open');
    expect(portCell('8,214')?.within).to.deep.equal([...one(8), ...one(214), ...one(8214)]);
    expect(ports('8215-8211')).to.equal('open');
    expect(portCell('8215-8211')?.within).to.deep.equal(one(8211, 8215));
    expect(ports('')).to.equal('open');
    expect(portCell('—')?.within).to.equal(null);
  });

  it('what is no port is none', () => {
    for (const text of ['192.168.50.20', 'gullcast', 'on the roof']) expect(ports(text), text).to.equal(null);
  });

  it('all ports', () => {
    for (const word of ['any', '*', '1-65535']) expect(isEvery(word), word).to.equal(true);
    expect(isEvery('1-1024')).to.equal(false);
  });
});
