import { expect } from 'chai';
import { HOME, caseFacts, serverEvidence } from '../../testing/index.ts';
import { diagnosis } from './diagnosis.ts';

const HEARD = {
  service: { name: 'Gullcast', endpoints: [{ protocol: 'tcp', port: 8214 }], audience: 'anyone' },
  client: { address: '198.51.100.23', dials: '203.0.113.50:8214' },
};
const row = (to: string, state = 'on'): string =>
  'Name\tProtocol\tExternal port\tInternal IP\tInternal port\tStatus\n' +
  `gullcast\tTCP\t8214\t${to}\t8214\t${state}\n`;
const files = (table: string, listens = '0.0.0.0:8214') => ({
  ...serverEvidence('192.168.50.20/24', '192.168.50.1', [`tcp ${listens} gullcast`]),
  'gateway/table': table,
});
const found = (table: string, listens?: string, more: object = {}) =>
  diagnosis(caseFacts(HOME, files(table, listens), { ...HEARD, ...more }));

const LOOKED_UP =
  '; <<>> DiG 9.18.28 <<>> radio.gannet.example.net\n;; ANSWER SECTION:\n' +
  'radio.gannet.example.net.\t300\tIN\tA\t203.0.113.50\n\n;; Query time: 11 msec\n';

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
            '2: eth0: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n' +
            '    inet 198.51.100.23/24 scope global eth0\n',
          'client/routes': 'default via 198.51.100.1 dev eth0\n198.51.100.0/24 dev eth0 scope link\n',
        },
        HEARD,
      ),
    );
    expect(d.verdict).to.include({ sure: true, fault: 'fwd-disabled' });
  });

  it('is not sure that a name is fine because a try by the address worked', () => {
    const by = (vantage: string) =>
      diagnosis(
        caseFacts(
          HOME,
          { ...files(row('192.168.50.20')), 'client/name': LOOKED_UP },
          {
            ...HEARD,
            client: { ...HEARD.client, dials: 'radio.gannet.example.net:8214', symptom: 'lost' },
            observations: [{ vantage, to: '203.0.113.50:8214/tcp', outcome: 'answered' }],
          },
        ),
      ).verdict;
    expect(by('client')).to.include({ sure: false, fault: null });
    expect(by('client-by-name')).to.include({ sure: true, fault: null });
  });

  it('names the slip in what is dialled also where the server’s own fault is sure', () => {
    const client = { ...HEARD.client, dials: '203.0.113.50;8214', symptom: 'refused' };
    const d = found(row('192.168.50.20'), '127.0.0.1:8214', { client });
    expect([...d.faults, ...d.alsoBroken].map((f) => f.id)).to.include.members([
      'listen-loopback',
      'dial-syntax',
    ]);
  });

  it('suspects no address that stands in for one that nobody told of', () => {
    const path = ['client', 'gateway', 'host'].map((role) => ({ id: role, role }));
    const mapping = 'Name\tExternal IP\tInternal IP\tState\nserver\t203.0.113.50\t192.168.50.20\ton\n';
    const pages = {
      'gateway/status': 'WAN IP\t203.0.113.49/29\nLAN IP\t192.168.50.1\n',
      'gateway/map': mapping,
    };
    const d = diagnosis(caseFacts(path, pages, HEARD));
    expect(d.faults.filter((f) => f.id.startsWith('fwd-target'))).to.deep.equal([]);
    // What is dialled cannot be read, and the name that it holds was looked up.
    const odd = { ...HEARD.client, dials: 'radio.gannet.example.net:82l4', symptom: 'name-unknown' };
    const looked = caseFacts(path, { ...pages, 'client/name': LOOKED_UP }, { ...HEARD, client: odd });
    expect(diagnosis(looked).faults[0]?.id).to.equal('dial-syntax');
  });

  it('is less sure of a server’s filter where unseen routes lead on to its containers', () => {
    const passing =
      '*filter\n:INPUT ACCEPT [0:0]\n:FORWARD DROP [0:0]\n:OUTPUT ACCEPT [0:0]\n' +
      '-A FORWARD -o br-reef -p tcp -m tcp --dport 8214 -j ACCEPT\nCOMMIT\n' +
      '*nat\n:PREROUTING ACCEPT [0:0]\n:INPUT ACCEPT [0:0]\n:OUTPUT ACCEPT [0:0]\n' +
      ':POSTROUTING ACCEPT [0:0]\n' +
      '-A PREROUTING -p tcp -m tcp --dport 8214 -j DNAT --to-destination 172.18.0.2:8214\nCOMMIT\n';
    const d = diagnosis(
      caseFacts(HOME, { 'gateway/table': row('192.168.50.20'), 'host/rules': passing }, HEARD),
    );
    expect(d.faults[0]?.probability ?? 0).to.be.below(0.9);
  });
});
