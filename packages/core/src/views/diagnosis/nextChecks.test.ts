import { expect } from 'chai';
import { caseFacts, HOME, serverEvidence, type TestStop } from '../../testing/index.ts';
import { diagnosis } from './diagnosis.ts';

const HEARD = {
  service: { name: 'Gullcast', endpoints: [{ protocol: 'tcp', port: 8214 }], audience: 'anyone' },
  client: { address: '198.51.100.23', dials: '203.0.113.50:8214', symptom: 'lost' },
};
const OFF =
  'Name\tProtocol\tExternal port\tInternal IP\tInternal port\tStatus\n' +
  'gullcast\tTCP\t8214\t192.168.50.20\t8214\toff\n';
const SERVER = serverEvidence('192.168.50.20/24', '192.168.50.1', ['tcp 0.0.0.0:8214 gullcast']);
const DEAF = serverEvidence('192.168.50.20/24', '192.168.50.1', ['tcp 127.0.0.1:8214 gullcast']);

const of = (files: Record<string, string>, more: object = {}, path: readonly TestStop[] = HOME) =>
  diagnosis(caseFacts(path, files, { ...HEARD, ...more }));
const ids = (d: ReturnType<typeof of>): string[] => d.nextChecks.map((c) => c.id);
const lan = (outcome: string) => ({
  observations: [{ vantage: 'lan', to: '192.168.50.20:8214/tcp', outcome, at: '2026-11-20T10:00:00Z' }],
});

describe('what is asked next', () => {
  it('a fault before a server that nobody looked at: its listings tell whether it is alone', () => {
    const d = of({ 'gateway/table': OFF });
    expect(d.faults[0]).to.include({ id: 'fwd-disabled', stop: 'gateway' });
    expect(d.verdict.sure).to.equal(false);
    expect(d.faults[0]!.probability).to.be.below(0.95);
    expect(ids(d)).to.deep.equal(['host/rules', 'host/sockets', 'host/routes']);
  });

  it('which listens cannot be had: a try from near the server tells it', () => {
    const d = of({ 'gateway/table': OFF }, { declined: ['host/sockets'] });
    expect(ids(d)).to.deep.equal(['host/rules', 'host/routes', 'host/dial/lan']);
  });

  it('is answered there: whom the server lets in from afar, and its way back, are not shown by it', () => {
    const d = of({ 'gateway/table': OFF }, lan('answered'));
    expect(d.faults[0]?.probability).to.be.below(0.95);
    expect(ids(d)).to.deep.equal(['host/rules', 'host/routes']);
    const declined = { declined: ['host/rules', 'host/routes'] };
    const alone = of({ 'gateway/table': OFF }, { ...lan('answered'), ...declined });
    expect(alone.faults[0]?.probability).to.be.at.least(0.95);
  });

  it('is answered there, and the server lets in its own network only: both are named', () => {
    const near =
      'table inet own {\n' +
      '\tchain in {\n' +
      '\t\ttype filter hook input priority filter; policy drop;\n' +
      '\t\tct state established,related accept\n' +
      '\t\tip saddr 192.168.50.0/24 tcp dport 8214 accept\n' +
      '\t}\n' +
      '}\n';
    const d = of({ 'gateway/table': OFF, ...SERVER, 'host/rules': near }, lan('answered'));
    expect([...d.faults, ...d.alsoBroken].map((f) => f.id)).to.include.members([
      'fwd-disabled',
      'host-scope',
    ]);
  });

  it('is not answered there: the server is asked until its fault is found', () => {
    const d = of({ 'gateway/table': OFF }, lan('lost'));
    expect(ids(d)).to.deep.equal(['host/rules', 'host/sockets', 'host/routes', 'host/addresses']);
    const both = of({ 'gateway/table': OFF, ...DEAF }, lan('lost'));
    expect(both.alsoBroken.map((f) => f.id)).to.include('listen-loopback');
    expect(both.verdict.sure).to.equal(true);
    expect(both.nextChecks).to.deep.equal([]);
  });

  it('all that the server shows is in order: nothing more is asked', () => {
    const d = of({ 'gateway/table': OFF, ...SERVER });
    expect(d.verdict).to.include({ sure: true, fault: 'fwd-disabled' });
    expect(d.nextChecks).to.deep.equal([]);
  });

  it('where a server is tells whether a forward leads to it: that is asked before what it lets in', () => {
    const forwards = OFF.replace('off', 'on');
    const own = ids(of({ 'gateway/table': forwards })).filter(
      (id) => id.startsWith('host/') && !/dial/.test(id),
    );
    // The routes show it as well as the way out.
    expect(own.slice(0, 2)).to.deep.equal(['host/routes', 'host/addresses']);
    const shown =
      'default via 192.168.50.1 dev eno1\n192.168.50.0/24 dev eno1 scope link src 192.168.50.20\n';
    const then = ids(of({ 'gateway/table': forwards, 'host/routes': shown }));
    expect(then.filter((id) => id.startsWith('host/') && !/dial/.test(id)).slice(0, 2)).to.have.members([
      'host/rules',
      'host/sockets',
    ]);
  });

  it('a server that cannot answer was found first: what stands before it is asked all the same', () => {
    const files = {
      'gateway/table': OFF.replace('off', 'on'),
      'host/routes': '192.168.50.0/24 dev eno1 scope link src 192.168.50.20\n',
    };
    const path = HOME.map(({ id, role }) => ({ id, role }));
    const d = of(files, {}, path);
    expect(d.faults[0]).to.include({ id: 'host-no-gateway', stop: 'host' });
    expect(d.faults[0]!.probability).to.be.below(0.95);
    expect(ids(d)).to.deep.equal(['gateway/status']);
  });

  it('what the owner cannot give is asked for in another way', () => {
    const declined = ['gateway/forwards'];
    expect(ids(of({}, { declined })))
      .to.include('gateway/rules')
      .and.not.include('gateway/forwards');
  });

  it('of a rented machine what its perimeter lets in is asked first', () => {
    const path = [
      { id: 'client', role: 'client' },
      { id: 'edge', role: 'edge' },
      { id: 'host', role: 'host' },
    ];
    expect(ids(of({}, {}, path))[0]).to.equal('edge/allow-list');
  });

  it('what comes and goes is asked of those who keep account of time', () => {
    const client = { ...HEARD.client, symptom: 'sometimes' };
    const asked = ids(of({}, { client }));
    expect(asked.indexOf('carrier/status')).to.be.within(0, 3);
    expect(asked.indexOf('gateway/mappings')).to.be.lessThan(asked.indexOf('host/rules'));
  });

  it('a client inside is told from one outside by tries from both', () => {
    const client = { ...HEARD.client, address: '192.168.50.77' };
    const tries = of({}, { client }).nextChecks.flatMap((c) => c.vantage ?? []);
    expect(tries).to.include.members(['outside', 'lan-by-outside-address']);
  });

  it('of a server that shows nothing its router is asked whether it is there', () => {
    const declined = ['rules', 'sockets', 'routes', 'addresses'].map((y) => `host/${y}`);
    expect(ids(of({ 'gateway/table': OFF.replace('off', 'on') }, { declined }))).to.include(
      'gateway/neighbours',
    );
  });
});
