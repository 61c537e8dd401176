import { expect } from 'chai';
import { buildSite } from '../model/index.ts';
import { proposing } from '../testing/index.ts';
import { accept, dismiss } from './apply.ts';
import { foundStops } from './foundStops.ts';

const { ADDRESSES, caseOf, factsOf, PATH, path, read, said } = proposing;

describe('stops that the evidence shows', () => {
  it(
    'a private outside address: a second gateway before the first, with the inside address that ' +
      'the first one names',
    () => {
      const [p] = read({
        'gateway/status': 'WAN IP 192.168.1.2\nLAN IP 192.168.50.1\nDefault gateway 192.168.1.1\n',
      });
      expect(said([p!])).to.deep.equal([
        'Second gateway: the outside address of the gateway, 192.168.1.2, is private, so another ' +
          'router stands before it.',
      ]);
      expect(p!.evidence).to.deep.equal([
        { file: 'evidence/gateway/status.txt', line: 1, column: 7, endColumn: 18 },
      ]);
      const taken = accept(caseOf(), p!);
      expect(path(taken)).to.equal('client carrier outer-gateway gateway server');
      expect(taken.path[2]!.typed).to.deep.equal([{ text: 'LAN IP 192.168.1.1' }]);
      expect(
        read({ 'gateway/status': 'WAN IP 192.168.1.2\n' }, taken),
        'once it stands there it is not proposed again',
      ).to.deep.equal([]);
    },
  );

  it('is not proposed once more when the technician has said no, and the path is as before', () => {
    const [p] = read({ 'gateway/status': 'WAN IP 192.168.1.2\n' });
    const refused = dismiss(accept(caseOf(), p!), p!.id);
    expect(path(refused)).to.equal('client carrier gateway server');
    expect(read({ 'gateway/status': 'WAN IP 192.168.1.2\n' }, refused)).to.deep.equal([]);
  });

  it('a public outside address: nothing', () =>
    expect(read({ 'gateway/status': 'WAN IP 203.0.113.50\nLAN IP 192.168.50.1\n' })).to.deep.equal([]));

  it('an address of the shared space: the carrier, where the path has none', () => {
    const [p] = read(
      { 'gateway/status': 'WAN IP 100.72.14.9\n' },
      caseOf({ path: PATH.filter((s) => s.role !== 'carrier') }),
    );
    expect(p).to.include({ kind: 'stop', before: 'gateway' });
    expect(said([p!])[0]).to.contain('shared by a carrier (RFC 6598)');
    expect(read({ 'gateway/status': 'WAN IP 100.72.14.9\n' })).to.deep.equal([]);
  });

  it('a route tracing with two private hops before the first public one', () => {
    const trace = (second: string) =>
      'traceroute to 192.0.2.80 (192.0.2.80), 30 hops max, 60 byte packets\n' +
      ' 1  192.168.50.1  0.4 ms  0.4 ms  0.3 ms\n' +
      ` 2  ${second}  0.9 ms  0.8 ms  0.8 ms\n` +
      ' 3  203.0.113.49  8.1 ms  8.0 ms  7.9 ms\n';
    expect(said(read({ 'server/trace': trace('192.168.1.1') }))).to.deep.equal([
      'Second gateway: on the way out a second private address, 192.168.1.1, answers behind the gateway’s.',
    ]);
    expect(read({ 'server/trace': trace('203.0.113.1') })).to.deep.equal([]);
  });

  it('a default route into a tunnel: its far end; one of a single network is none', () => {
    const wg =
      `${ADDRESSES}3: wg0: <POINTOPOINT,NOARP,UP,LOWER_UP> mtu 1420 state UNKNOWN\n` +
      '    inet 10.8.0.2/32 scope global wg0\n';
    const [p] = read({
      'server/addresses': wg,
      'server/routes': 'default dev wg0 scope link\n192.168.50.0/24 dev eno1 scope link\n',
    });
    expect(p).to.deep.include({ kind: 'stop', before: 'gateway' });
    expect(said([p!])).to.deep.equal([
      'Tunnel’s far end: the server sends everything into wg0, so its answers leave at the tunnel’s far end.',
    ]);
    expect(
      read({
        'server/addresses': wg,
        'server/routes':
          'default via 192.168.50.1 dev eno1\n10.9.0.0/24 dev wg0 scope link\n' +
          '192.168.50.0/24 dev eno1 scope link\n',
      }),
    ).to.deep.equal([]);
  });

  const BRIDGED =
    `${ADDRESSES}3: docker0: <BROADCAST,MULTICAST,UP,LOWER_UP> mtu 1500 state UP\n` +
    '    inet 172.17.0.1/16 scope global docker0\n';
  const published = (port: number) =>
    '*nat\n' +
    ':PREROUTING ACCEPT [0:0]\n' +
    ':DOCKER - [0:0]\n' +
    '-A PREROUTING -m addrtype --dst-type LOCAL -j DOCKER\n' +
    `-A DOCKER ! -i docker0 -p tcp -m tcp --dport ${port} -j DNAT --to-destination ` +
    '172.17.0.2:8000\n' +
    'COMMIT\n' +
    '*filter\n' +
    ':INPUT ACCEPT [0:0]\n' +
    ':FORWARD ACCEPT [0:0]\n' +
    ':OUTPUT ACCEPT [0:0]\n' +
    'COMMIT\n';

  it('a port that the server translates to its own bridge: the container, with its address', () => {
    const files = { 'server/addresses': BRIDGED, 'server/rules': published(8214) };
    const [p] = read(files);
    expect(said([p!])).to.deep.equal([
      'Container: the server translates the port to 172.17.0.2 on its bridge docker0: the program runs ' +
        'in a container.',
    ]);
    const taken = accept(caseOf(), p!);
    expect(path(taken)).to.equal('client carrier gateway server container');
    const site = buildSite(factsOf(taken, files));
    expect(
      site.machines
        .find((m) => m.id === 'container')!
        .interfaces!.flatMap((i) => i.addresses.map((a) => a.prefixLength)),
    ).to.deep.equal([16]);
    expect(read(files, taken)).to.deep.equal([]);
  });

  it('a container that serves another port is not on this way', () =>
    expect(read({ 'server/addresses': BRIDGED, 'server/rules': published(9000) })).to.deep.equal([]));

  it(
    'a rented machine with private addresses only: its provider’s perimeter, which turns the ' +
      'address that the internet sees',
    () => {
      const rented = caseOf({ path: [PATH[0], PATH[3]] });
      const files = {
        'server/addresses': ADDRESSES,
        'server/routes': 'default via 192.168.50.1 dev eno1\n192.168.50.0/24 dev eno1 scope link\n',
        'server/seen': 'seen from outside 203.0.113.50\n',
      };
      const [p] = read(files, rented);
      expect(said([p!])).to.deep.equal([
        'Cloud perimeter: the server has private addresses only, and the internet sees 203.0.113.50: ' +
          'a perimeter of its provider stands before it.',
      ]);
      const taken = accept(rented, p!);
      expect(path(taken)).to.equal('client edge server');
      expect(buildSite(factsOf(taken, files)).fronts!.map((f) => f.machine)).to.deep.equal(['edge']);
      expect(read(files, taken)).to.deep.equal([]);
      expect(
        read({ ...files, 'server/addresses': ADDRESSES.replace('192.168.50.20', '203.0.113.9') }, rented),
      ).to.deep.equal([]);
    },
  );

  it('a default gateway that the gateway is not, on another network: an inside router', () => {
    const server = {
      'server/addresses': ADDRESSES.replace('192.168.50.20', '192.168.77.20'),
      'server/routes': 'default via 192.168.77.1 dev eno1\n192.168.77.0/24 dev eno1 scope link\n',
    };
    const [p] = read({ ...server, 'gateway/status': 'WAN IP 203.0.113.50\nLAN IP 192.168.50.1/24\n' });
    expect(said([p!])).to.deep.equal([
      'Inside router: the default gateway of the server, 192.168.77.1, is not on the network of the ' +
        'gateway, so a router stands between.',
    ]);
    expect(path(accept(caseOf(), p!))).to.equal('client carrier gateway inner-router server');
    expect(
      read({ ...server, 'gateway/status': 'WAN IP 203.0.113.50\n' }),
      'not as long as the gateway’s network is only presumed',
    ).to.deep.equal([]);
  });

  it('two ids for two gateways found one after the other', () => {
    const first = accept(caseOf(), read({ 'gateway/status': 'WAN IP 192.168.1.2\n' })[0]!);
    const facts = factsOf(first, {
      'gateway/status': 'WAN IP 192.168.1.2\n',
      'outer-gateway/status': 'WAN IP 10.20.0.7\nLAN IP 192.168.1.1\n',
    });
    expect(foundStops(facts, buildSite(facts)).map((s) => s.stop.id)).to.deep.equal(['outer-gateway-2']);
  });
});
