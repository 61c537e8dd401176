import { expect } from 'chai';
import { caseFacts, HOME } from '../../testing/index.ts';
import { benchView } from '../bench/view.ts';
import { deskLine } from './desk.ts';

const SERVICE = {
  service: { name: 'Gullcast', endpoints: [{ protocol: 'tcp', port: 8214 }] },
  client: { address: '198.51.100.23', dials: '203.0.113.50:8214' },
};

describe('a case in one line of the desk', () => {
  const line = (files: Record<string, string>, more: object = SERVICE) =>
    deskLine(benchView(caseFacts(HOME, files, more as Record<string, unknown>)));

  it('nothing is known: the owner is asked', () => {
    const { lamp, place, turn } = line({});
    expect({ lamp, place, turn }).to.deep.equal({ lamp: 'fogged', place: null, turn: 'owner' });
  });

  it('a name that nobody has looked up, and no more to be had of the owner: the client is asked', () => {
    const client = { address: '198.51.100.23', dials: 'radio.gannet.example.net:8214' };
    const declined = ['gateway/forwards', 'gateway/status', 'host/addresses'];
    expect(line({}, { ...SERVICE, client, declined }).turn).to.equal('client');
  });

  it('a change is found: it is ours to pass on', () => {
    const shared = line({
      'gateway/status': 'WAN IP\t203.0.113.50\nLAN IP\t192.168.50.1\n',
      'gateway/forwards':
        'Name\tProtocol\tOutside port\tInside address\tInside port\nweb\tTCP\t80\t192.168.50.20\t80\n',
    });
    expect(shared).to.deep.include({ lamp: 'shut', turn: 'ours' });
    expect(shared.place).to.match(/gateway/i);
    expect(shared.waits).to.match(/8214/);
  });
});
