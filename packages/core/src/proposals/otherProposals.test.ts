import { expect } from 'chai';
import { proposing } from '../testing/index.ts';
import { accept } from './apply.ts';

const { ADDRESSES, caseOf, PATH, path, read, said } = proposing;

describe('endpoints that configurations name', () => {
  const HBA = "listen_addresses = 'localhost, 192.168.50.20'\nport = 5433\nmax_connections = 100\n";
  const empty = () => caseOf({ service: { name: 'Ebbtide' } });

  it('a database’s port, added to a service without endpoints', () => {
    const [p] = read({ 'server/conf': HBA }, empty());
    expect(said([p!])).to.deep.equal([
      'PostgreSQL’s configuration says TCP 5433, which the service of this case lacks.',
    ]);
    expect(accept(empty(), p!).service!.endpoints).to.deep.equal([{ protocol: 'tcp', port: 5433 }]);
  });

  it('instead of the one port that the case has', () => {
    const document = caseOf({ service: { name: 'Ebbtide', endpoints: [{ protocol: 'tcp', port: 5432 }] } });
    const [p] = read({ 'server/conf': HBA }, document);
    expect(said([p!])[0]).to.contain('TCP 5433, and the case has TCP 5432');
    expect(accept(document, p!).service!.endpoints).to.deep.equal([{ protocol: 'tcp', port: 5433 }]);
  });

  it('nothing where the service has it, within a range too', () =>
    expect(
      read(
        { 'server/conf': HBA },
        caseOf({ service: { endpoints: [{ protocol: 'tcp', port: 5430, portEnd: 5440 }] } }),
      ),
    ).to.deep.equal([]));

  it(
    'a game’s settings: the protocol from what listens, else both; ports of its console and of ' +
      'databases are left',
    () => {
      const settings =
        'server-port=28410\nrcon.port=25575\ndatabase.port=3306\nmax-players=20\nmotd=Lantern Reef\n';
      expect(said(read({ 'server/settings': settings }, empty()))).to.deep.equal([
        'The program’s settings (server-port) says TCP 28410 and UDP 28410 (not which of the two), ' +
          'which the service of this case lacks.',
      ]);
      expect(
        said(
          read(
            {
              'server/settings': settings,
              'server/sockets': 'udp UNCONN 0 0 0.0.0.0:28410 0.0.0.0:* users:(("reef",pid=7,fd=3))\n',
            },
            empty(),
          ),
        ),
      ).to.deep.equal([
        'The program’s settings (server-port) says UDP 28410, which the service of this case lacks.',
      ]);
    },
  );

  it('what nginx offers on loopback only is nobody’s service', () => {
    expect(
      said(
        read(
          {
            'server/nginx':
              'server {\n  listen 127.0.0.1:9000;\n  listen 8443 ssl;\n  server_name radio.example.net;\n}\n',
          },
          empty(),
        ),
      ),
    ).to.deep.equal(['nginx’s configuration says TCP 8443, which the service of this case lacks.']);
  });
});

describe('addresses that were misread', () => {
  const log = (from: string) =>
    `DENY IN=eth0 OUT= MAC= SRC=${from} DST=203.0.113.50 LEN=60 PROTO=TCP SPT=40112 DPT=8214 SYN\n`;

  it('the client is one digit off from who came', () => {
    const [p] = read({ 'gateway/log': log('198.51.100.28') });
    expect(said([p!])).to.deep.equal([
      '198.51.100.28 came to the service’s port; the case says that the client is ' +
        '198.51.100.23 (one digit off).',
    ]);
    expect(accept(caseOf(), p!).client!.address).to.equal('198.51.100.28');
  });

  it('a stranger is no slip, and nothing is said where the client itself came', () => {
    expect(read({ 'gateway/log': log('192.0.2.77') })).to.deep.equal([]);
    expect(read({ 'gateway/log': log('198.51.100.28') + log('198.51.100.23') })).to.deep.equal([]);
  });

  it('a typed outside address against the printed one: taking it removes the typed line alone', () => {
    const document = caseOf({
      path: PATH.map((s) =>
        s.id === 'gateway'
          ? { ...s, typed: [{ text: 'LAN IP 192.168.50.1' }, { text: 'WAN IP 203.0.113.55' }] }
          : s,
      ),
    });
    const [p] = read({ 'gateway/status': 'WAN IP 203.0.113.50\n' }, document);
    expect(said([p!])).to.deep.equal([
      'Gateway: 203.0.113.55 was typed, and 203.0.113.50 is what was printed (one digit off).',
    ]);
    expect(accept(document, p!).path[2]!.typed).to.deep.equal([{ text: 'LAN IP 192.168.50.1' }]);
  });
});

describe('one machine under two names', () => {
  const two = () =>
    caseOf({
      path: [...PATH, { id: 'nas', role: 'host', name: 'Storage', typed: [{ text: 'a note' }] }],
      evidence: [
        { stop: 'server', file: 'evidence/server/addresses.txt' },
        { stop: 'nas', file: 'evidence/nas/addresses.txt' },
      ],
    });
  const other = ADDRESSES.replace('192.168.50.20', '192.168.50.31');

  it('is known by its link address; joining moves what is known', () => {
    const [p] = read({ 'server/addresses': ADDRESSES, 'nas/addresses': other }, two());
    expect(p).to.deep.include({
      kind: 'same-machine',
      stop: 'server',
      other: 'nas',
      by: { mac: '02:48:4e:00:00:20' },
    });
    const joined = accept(two(), p!);
    expect(path(joined)).to.equal('client carrier gateway server');
    expect(joined.evidence!.map((e) => e.stop)).to.deep.equal(['server', 'server']);
    expect(joined.path[3]!.typed).to.deep.equal([{ text: 'a note' }]);
  });

  it('or by an address of its own; bridges that every machine has tell nothing', () => {
    const mac = (text: string, last: string) => text.replace(':20 brd', `:${last} brd`);
    expect(
      read({ 'server/addresses': ADDRESSES, 'nas/addresses': mac(ADDRESSES, '31') }, two())[0],
    ).to.deep.include({ by: { address: '192.168.50.20' } });
    const bridge =
      '3: docker0: <BROADCAST,MULTICAST,UP,LOWER_UP> mtu 1500 state UP\n' +
      '    inet 172.17.0.1/16 scope global docker0\n';
    expect(
      read({ 'server/addresses': ADDRESSES + bridge, 'nas/addresses': mac(other, '31') + bridge }, two()),
    ).to.deep.equal([]);
  });
});
