import { expect } from 'chai';
import { caseFacts, HOME } from '../testing/index.ts';
import { pointedAt } from './pointed.ts';

const offered = (line: string): string[] => pointedAt(line).map((p) => p.typed);

describe('what can be pointed at in a line that nobody reads', () => {
  it('an outside address: a gateway’s, a client’s, or what the internet sees', () => {
    expect(offered('Öffentliche Anschrift … 203.0.113.50 (seit gestern)')).to.deep.equal([
      'WAN IP 203.0.113.50',
      'client 203.0.113.50',
      'seen from outside 203.0.113.50',
    ]);
  });

  it('an inside address: the server’s, the router’s inside or outside one', () => {
    expect(offered('Kiste: 192.168.50.20')).to.deep.equal([
      'server 192.168.50.20',
      'LAN IP 192.168.50.20',
      'WAN IP 192.168.50.20',
    ]);
  });

  it('a protocol, a port and an inside address: a forward, first of all', () => {
    expect(offered('Spiel | UDP | 28410 | 192.168.50.20 | 28411')[0]).to.equal(
      'udp 28410 192.168.50.20 28411',
    );
    expect(offered('Radio TCP 8214 nach 192.168.50.20')[0]).to.equal('tcp 8214 192.168.50.20 8214');
  });

  it('a port alone, by either protocol where none is named', () => {
    expect(offered('der Port ist 28410')).to.deep.equal(['tcp 28410', 'udp 28410']);
    expect(offered('udp/28410')).to.deep.equal(['udp 28410']);
  });

  it('nothing where there is nothing, and never a machine’s own loopback', () => {
    expect(offered('guten Tag, 99999 Grüße von 127.0.0.1')).to.deep.equal([]);
  });

  it('what it writes is understood when it is typed', () => {
    for (const typed of [
      ...offered('203.0.113.50 udp 28410 192.168.50.20'),
      ...offered('203.0.113.50'),
      ...offered('192.168.50.20'),
    ]) {
      if (/^(tcp|udp) \d+$/.test(typed)) continue;
      const path = HOME.map((s) => (s.id === 'gateway' ? { ...s, typed: [{ text: typed }] } : s));
      const file = caseFacts(path).files.find((f) => f.facts.length > 0);
      expect(file?.facts.length, typed).to.be.greaterThan(0);
    }
  });
});
