import { expect } from 'chai';
import { corrected, lookAlikes } from './lookAlike.ts';
import { readText } from './recognise.ts';

const said = (text: string): string[] =>
  lookAlikes(text).map((l) => `${l.line}: ${l.from} → ${l.to} (${l.why})`);

describe('characters that look like others', () => {
  it('letters in addresses, with what stands for what', () => {
    expect(said('WAN IP l00.72.14.9\nLAN IP 192.168.5O.I\n')).to.deep.equal([
      '1: l00.72.14.9 → 100.72.14.9 (“l” for 1)',
      '2: 192.168.5O.I → 192.168.50.1 (“O” for 0, “I” for 1)',
    ]);
    expect(said('server 192.16B.S0.2O')).to.deep.equal([
      '1: 192.16B.S0.2O → 192.168.50.20 (“B” for 8, “S” for 5, “O” for 0)',
    ]);
  });

  it('a comma for a dot', () =>
    expect(said('WAN 203.0.113,50')).to.deep.equal(['1: 203.0.113,50 → 203.0.113.50 (“,” for a dot)']));

  it('ports behind an address or a protocol', () => {
    expect(said('203.0.113.50:82l4')).to.deep.equal(['1: 82l4 → 8214 (“l” for 1)']);
    expect(said('forward udp 284lO to 192.168.50.20')).to.deep.equal([
      '1: 284lO → 28410 (“l” for 1, “O” for 0)',
    ]);
  });

  for (const text of [
    'ports 80,25,22,53',
    'WAN IP 203.0.113.50',
    'fe80::1%lo',
    '2: lo: <LOOPBACK>',
    'udp UNCONN 0 0 0.0.0.0:68',
    'v1.2.3.4-beta',
    'tcp LISTEN 0 511 *:80',
    'IOS 15.B.S.O',
    '999.168.5O.20',
    'tcp dport 8214 accept',
    'docker-proxy 0.0.0.0:8214->8214/tcp',
    'tcp SO_KEEPALIVE',
  ]) {
    it(`finds none in ${JSON.stringify(text)}`, () => expect(said(text)).to.deep.equal([]));
  }

  it('a correction changes its line alone, and nothing moves', () => {
    const text = 'WAN IP l00.72.14.9\nnote l00.72.14.9\n';
    const mended = corrected(text, [{ line: 1, from: 'l00.72.14.9', to: '100.72.14.9' }]);
    expect(mended).to.equal('WAN IP 100.72.14.9\nnote l00.72.14.9\n');
    expect(mended).to.have.length(text.length);
    expect(readText(mended)!.facts[0]).to.deep.include({ kind: 'labelled', value: '100.72.14.9' });
  });

  it('is named among the problems of a text, and not assumed', () => {
    const reading = readText('WAN IP 203.0.113.50\nLAN IP 192.168.5O.1\n')!;
    expect(reading.facts.map((f) => (f.kind === 'labelled' ? f.value : ''))).to.deep.equal(['203.0.113.50']);
    expect(reading.problems).to.deep.include({
      line: 2,
      text: 'LAN IP 192.168.5O.1',
      why: { is: 'looks-like', from: '192.168.5O.1', to: '192.168.50.1', detail: '“O” for 0' },
    });
  });
});
