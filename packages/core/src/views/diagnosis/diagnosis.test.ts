import { expect } from 'chai';
import { HOME, caseFacts, serverEvidence } from '../../testing/index.ts';
import { diagnosis } from './diagnosis.ts';

const HEARD = {
  service: { name: 'Gullcast', endpoints: [{ protocol: 'tcp', port: 8214 }], audience: 'anyone' },
  client: { address: '198.51.100.23', dials: '203.0.113.50:8214' },
};
const row = (to: string, state = 'on'): string =>
  `Name\tProtocol\tExternal port\tInternal IP\tInternal port\tStatus\ngullcast\tTCP\t8214\t${to}\t8214\t${state}\n`;
const files = (table: string, listens = '0.0.0.0:8214') => ({
  ...serverEvidence('192.168.50.20/24', '192.168.50.1', [`tcp ${listens} gullcast`]),
  'gateway/table': table,
});
const found = (table: string, listens?: string, more: object = {}) =>
  diagnosis(caseFacts(HOME, files(table, listens), { ...HEARD, ...more }));

describe('a diagnosis from the evidence alone', () => {
  it('is sure of a fault that the evidence decides, and carries its mend', () => {
    const d = found(row('192.168.50.20', 'off'));
    expect(d.verdict).to.include({ sure: true, fault: 'fwd-disabled' });
    expect(d.faults.map((f) => [f.id, f.stop])).to.deep.equal([['fwd-disabled', 'gateway']]);
    expect(d.faults[0]?.probability).to.be.within(0.95, 1);
    expect(d.nextChecks).to.deep.equal([]);
    expect(d.mends[0]?.words.values).to.deep.equal([{ label: 'Enabled', now: 'off', mended: 'on' }]);
    expect(d.mends[0]?.opens.map((e) => [e.stop, e.outsidePorts])).to.deep.equal([
      ['host', [{ first: 8214, last: 8214 }]],
    ]);
    expect(d.mends[0]?.closes).to.deep.equal([]);
  });

  it('names what would end it next', () => {
    const d = found(row('192.168.50.20', 'off'), '127.0.0.1:8214');
    expect(d.alsoBroken.map((f) => [f.id, f.stop])).to.deep.equal([['listen-loopback', 'host']]);
    expect(d.mends.map((m) => m.fault)).to.deep.equal(['fwd-disabled', 'listen-loopback']);
  });

  it('asks where the evidence leaves it open, and names no fault', () => {
    const d = diagnosis(caseFacts(HOME, {}, HEARD));
    expect(d.verdict).to.include({ sure: false, fault: null });
    expect(d.faults).to.deep.equal([]);
    expect(d.nextChecks[0]).to.include({ id: 'gateway/forwards', stop: 'gateway', yields: 'forwards' });
  });

  it('is sure that nothing is wrong only where nobody sees it fail', () => {
    const table = row('192.168.50.20');
    expect(found(table).verdict).to.include({ sure: true, fault: null });
    const fails = { client: { ...HEARD.client, symptom: 'lost' } };
    expect(found(table, undefined, fails).verdict.sure).to.equal(false);
    const observations = [{ vantage: 'client', to: '203.0.113.50:8214/tcp', outcome: 'answered' }];
    expect(found(table, undefined, { ...fails, observations }).verdict.sure).to.equal(true);
    const breaks = { client: { ...HEARD.client, symptom: 'connects-then-fails' }, observations };
    expect(found(table, undefined, breaks).verdict.sure).to.equal(false);
  });

  it('is not sure that nothing is wrong with what cannot be dialled as it is written', () => {
    const client = { ...HEARD.client, dials: '203.0.113.50;8214' };
    expect(found(row('192.168.50.20'), undefined, { client }).verdict.sure).to.equal(false);
  });

  it('asks nothing of the client’s own machine (law 8)', () => {
    const d = diagnosis(
      caseFacts(
        HOME,
        {
          ...files(row('192.168.50.20', 'off')),
          'client/addresses':
            '2: eth0: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n    inet 198.51.100.23/24 scope global eth0\n',
          'client/routes': 'default via 198.51.100.1 dev eth0\n198.51.100.0/24 dev eth0 scope link\n',
        },
        HEARD,
      ),
    );
    expect(d.verdict).to.include({ sure: true, fault: 'fwd-disabled' });
  });
});
