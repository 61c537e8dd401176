import { expect } from 'chai';
import { readText } from '../reading/index.ts';
import { caseSite, HOME, outcome, run, serverEvidence } from '../testing/index.ts';
import { formatAddress } from '../net/index.ts';

const ALL_TABLES =
  'default via 192.168.50.1 dev eno1\n' +
  '192.168.50.0/24 dev eno1 proto kernel scope link src 192.168.50.20\n' +
  'local 127.0.0.0/8 dev lo table local proto kernel scope host src 127.0.0.1\n' +
  'local 127.0.0.1 dev lo table local proto kernel scope host src 127.0.0.1\n' +
  'local 192.168.50.20 dev eno1 table local proto kernel scope host src 192.168.50.20\n' +
  'local 192.168.50.21 dev eno1 table local proto kernel scope host src 192.168.50.20\n';
const MAIN = 'default via 192.168.50.1 dev eno1\n192.168.50.0/24 dev eno1 scope link src 192.168.50.20\n';

const host = (routes: string) =>
  caseSite(HOME, { 'host/routes': routes }).machines.find((m) => m.id === 'host')!;
const held = (routes: string): string[] | undefined =>
  host(routes).interfaces?.flatMap((i) =>
    i.addresses.map((a) => `${formatAddress(a.address)}/${a.prefixLength} ${i.name}`),
  );

describe('a server’s addresses as its routes show them', () => {
  it('are what its kernel routes to itself (ip-route(8): type local), in the length of their network', () =>
    expect(held(ALL_TABLES)).to.have.members([
      '127.0.0.1/32 lo',
      '192.168.50.20/24 eno1',
      '192.168.50.21/24 eno1',
    ]));

  it('are those that it sends from, where its local table is not shown', () =>
    expect(held(MAIN)).to.deep.equal(['192.168.50.20/24 eno1']));

  it('are the interfaces of a system that names them by their addresses', () => {
    const text =
      'IPv4 Route Table\n===\nActive Routes:\n' +
      'Network Destination        Netmask          Gateway       Interface  Metric\n' +
      '          0.0.0.0          0.0.0.0     192.168.50.1    192.168.50.30     25\n' +
      '     192.168.50.0    255.255.255.0         On-link     192.168.50.30    281\n';
    expect(readText(text)?.format).to.equal('route-print');
    expect(held(text)).to.deep.equal(['192.168.50.30/24 192.168.50.30']);
  });

  it('are not shown by routes without a source', () =>
    expect(
      host('default via 192.168.50.1 dev eno1\n192.168.50.0/24 dev eno1 scope link\n').interfaces,
    ).to.equal(null));

  it('a link that is down stands in the routes', () =>
    expect(host(MAIN.replaceAll('\n', ' linkdown\n')).interfaces?.[0]).to.include({
      name: 'eno1',
      carrier: false,
    }));

  it('are perhaps not all of them, unless the local tables of both families are shown (law 1)', () => {
    const six = 'local fe80::20 dev eno1 table local proto kernel metric 0 pref medium\n';
    expect([MAIN, ALL_TABLES, ALL_TABLES + six].map((text) => host(text).mayHoldMore ?? false)).to.deep.equal(
      [true, true, false],
    );
    const direct = ['client', 'host'].map((role) => ({ id: role, role }));
    const wan = 'default via 203.0.113.1 dev eno1\n203.0.113.0/24 dev eno1 scope link src 203.0.113.62\n';
    const evidence = serverEvidence('203.0.113.62/24', '203.0.113.1', ['tcp 0.0.0.0:8214 gullcast']);
    const { 'host/addresses': listed, ...others } = evidence as Record<string, string>;
    const end = (to: string, files: Record<string, string | undefined>): string =>
      outcome(run(caseSite(direct, { ...others, ...files } as Record<string, string>), '198.51.100.23', to));
    expect(end('203.0.113.62:8214/tcp', { 'host/routes': wan })).to.equal('answered at host');
    expect(end('203.0.113.99:8214/tcp', { 'host/routes': wan })).to.equal('unknown');
    expect(end('203.0.113.99:8214/tcp', { 'host/routes': wan, 'host/addresses': listed })).to.not.equal(
      'answered at host',
    );
  });

  it('are enough for an answer, and give way to a listing', () => {
    const GATEWAY = {
      'gateway/status': 'WAN IP\t203.0.113.50\nLAN IP\t192.168.50.1\n',
      'gateway/table':
        'Name\tProtocol\tExternal port\tInternal IP\tInternal port\tStatus\n' +
        'gullcast\tTCP\t8214\t192.168.50.20\t8214\ton\n',
    };
    const evidence = serverEvidence('192.168.50.20/24', '192.168.50.1', ['tcp 0.0.0.0:8214 gullcast']);
    const others = Object.fromEntries(
      Object.entries(evidence).filter(([at]) => !/addresses|routes/.test(at)),
    );
    const end = (files: Record<string, string>): string =>
      outcome(run(caseSite(HOME, { ...GATEWAY, ...files }), '198.51.100.23', '203.0.113.50:8214/tcp'));
    expect(end(others)).to.equal('unknown');
    expect(end({ ...others, 'host/routes': MAIN })).to.equal('answered at host');
    const moved =
      '2: eno1: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n    inet 192.168.50.44/24 scope global eno1\n';
    expect(end({ ...others, 'host/routes': MAIN, 'host/addresses': moved })).to.not.contain('answered');
  });

  it('are held against what somebody said: another address stays open', () => {
    const said = HOME.map((s) => (s.id === 'host' ? { ...s, typed: [{ text: 'server 192.168.50.44' }] } : s));
    const forward = (to: string): Record<string, string> => ({
      'gateway/table':
        'Name\tProtocol\tExternal port\tInternal IP\tInternal port\tStatus\n' +
        `x\tTCP\t8214\t${to}\t8214\ton\n`,
    });
    const evidence = serverEvidence('192.168.50.20/24', '192.168.50.1', ['tcp 0.0.0.0:8214 gullcast']);
    const { 'host/addresses': _listed, ...others } = evidence as Record<string, string>;
    const site = caseSite(said, { ...others, 'host/routes': MAIN, ...forward('192.168.50.44') } as Record<
      string,
      string
    >);
    expect(outcome(run(site, '198.51.100.23', '203.0.113.50:8214/tcp'))).to.equal('unknown');
  });
});
