import { expect } from 'chai';
import { inSentence, named } from './named.ts';

const NAMES: Readonly<Record<string, string>> = {
  gateway: 'Gateway',
  'outer-gateway': 'Second gateway',
  host: 'heron',
  server: 'Server',
};
const of = (text: string): string => named(text, Object.keys(NAMES), (id) => NAMES[id ?? ''] ?? '');

describe('stops in sentences', () => {
  it('by their names instead of their ids', () => {
    expect(of('which outside address outer-gateway has')).to.equal(
      'which outside address the second gateway has',
    );
    expect(of('the firewall rules of gateway (IPv4)')).to.equal('the firewall rules of the gateway (IPv4)');
    expect(of('what listens on host (tcp 8214)')).to.equal('what listens on heron (tcp 8214)');
  });

  it('words that already stand in a sentence stay', () => {
    expect(of('the server is 192.168.50.20, server’s own')).to.equal(
      'the server is 192.168.50.20, server’s own',
    );
    expect(of('gateway.example.net')).to.equal('gateway.example.net');
  });

  it('names of people’s machines keep their letters', () =>
    expect([inSentence('Tunnel’s far end'), inSentence('NAS 2'), inSentence('Server')]).to.deep.equal([
      'Tunnel’s far end',
      'NAS 2',
      'the server',
    ]));
});
