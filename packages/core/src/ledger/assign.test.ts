import { expect } from 'chai';
import { assignStop } from './assign.ts';
import { readText } from '../reading/index.ts';
import { caseFacts, placing } from '../testing/index.ts';

const { more, path, stopOf } = placing;

describe('which stop a piece of evidence is from', () => {
  const table: readonly (readonly [string, string, string, Record<string, string>?])[] = [
    [
      'a forward table is the gateway’s',
      'tcp 8214 192.168.50.20 8214\nudp 28410 192.168.50.20 28410\n',
      'gateway',
    ],
    ['a status page is the gateway’s', 'WAN IP 203.0.113.50\n', 'gateway'],
    ['leases are the gateway’s', '1767225600 02:48:4e:00:00:20 192.168.50.20 server *\n', 'gateway'],
    ['a name is looked up by the client', 'radio.example.net has address 203.0.113.50\n', 'client'],
    [
      'what holds the client’s address is the client',
      '2: enp3s0: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n    inet 198.51.100.23/24 scope global enp3s0\n',
      'client',
    ],
    [
      'what listens on the service’s port is the server',
      'Netid State Recv-Q Send-Q Local Address:Port Peer Address:PortProcess\n' +
        'tcp LISTEN 0 16 0.0.0.0:8214 0.0.0.0:* users:(("gullcast",pid=7,fd=3))\n',
      'server',
    ],
    [
      'rules that translate are the gateway’s',
      'table ip n {\n' +
        ' chain p {\n' +
        '  type nat hook prerouting priority dstnat; policy accept;\n' +
        '  tcp dport 8214 dnat to 192.168.50.20\n' +
        ' }\n' +
        '}\n',
      'gateway',
    ],
    [
      'rules that only guard are the server’s',
      'table inet f {\n' +
        ' chain i {\n' +
        '  type filter hook input priority filter; policy drop;\n' +
        '  tcp dport 8214 accept\n' +
        ' }\n' +
        '}\n',
      'server',
    ],
    [
      'what a forward sends to is the server',
      '2: eno1: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n    inet 10.7.0.9/24 scope global eno1\n',
      'server',
      { 'gateway/table': 'tcp 8214 10.7.0.9 8214\nudp 28410 10.7.0.9 28410\n' },
    ],
    [
      'what is another stop’s default gateway is the gateway',
      '2: lan0: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n    inet 192.168.50.1/24 scope global lan0\n',
      'gateway',
      { 'server/routes': 'default via 192.168.50.1 dev eno1\n192.168.50.0/24 dev eno1 scope link\n' },
    ],
    ['what the internet sees is the gateway’s', 'seen from outside 203.0.113.50\n', 'gateway'],
    ['a default gateway that is public is the gateway’s own', 'default via 203.0.113.1 dev wan\n', 'gateway'],
    ['a default gateway inside is the server’s', 'default via 192.168.50.1 dev eno1\n', 'server'],
    [
      'a default gateway that is the gateway’s inside address is the server’s',
      'default via 10.7.0.1 dev eno1\n',
      'server',
      { 'gateway/status': 'WAN IP 203.0.113.50\nLAN IP 10.7.0.1\n' },
    ],
    ['a machine that forwards is the gateway', 'net.ipv4.ip_forward = 1\n', 'gateway'],
    ['mappings are kept by the gateway', 'UDP:28410:192.168.50.20:28410:0:tide\n', 'gateway'],
    ['how a program is set is the server’s', "listen_addresses = '*'\nport = 5432\n", 'server'],
    ['a test from outside is the client’s', 'Port 8214 is closed on 203.0.113.50\n', 'client'],
    [
      'a machine’s own firewall is the server’s',
      'pass in quick on em0 inet proto tcp from any to any port = 8214 flags S/SA keep state\n' +
        'block drop in all\n',
      'server',
    ],
    [
      'what holds the gateway’s address is the gateway',
      '2: x0: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n    inet 203.0.113.50/24 scope global x0\n',
      'gateway',
      { 'gateway/status': 'WAN IP 203.0.113.50\n' },
    ],
    [
      'what a name resolves to is the gateway’s',
      '2: x0: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n    inet 203.0.113.77/24 scope global x0\n',
      'gateway',
      { 'client/name': 'radio.example.net has address 203.0.113.77\n' },
    ],
    [
      'a log of packets to the server is the server’s',
      'Nov 25 10:00:00 h kernel: DENY IN=eno1 OUT= MAC= SRC=198.51.100.23 DST=10.7.0.9 LEN=60 ' +
        'TOS=0x00 PREC=0x00 TTL=62 ID=1 DF PROTO=TCP SPT=40112 DPT=8214 WINDOW=64240 RES=0x00 SYN URGP=0\n',
      'server',
      { 'gateway/table': 'tcp 8214 10.7.0.9 8214\nudp 28410 10.7.0.9 28410\n' },
    ],
    [
      'rules of iptables that translate are the gateway’s',
      '*nat\n' +
        ':PREROUTING ACCEPT [0:0]\n' +
        '-A PREROUTING -p tcp -m tcp --dport 8214 -j DNAT --to-destination 192.168.50.20\n' +
        'COMMIT\n',
      'gateway',
    ],
  ];
  for (const [title, text, stop, known] of table)
    it(title, () => expect(stopOf(text, known).stop).to.equal(stop));

  it('of a way without a gateway everything of a machine is the server’s', () => {
    const rented = [path[0]!, path[1]!, { id: 'edge', role: 'edge' as const }, path[3]!];
    const at = (text: string): string => assignStop(readText(text)!, caseFacts(rented, {}, more)).stop;
    expect(
      at(
        'table inet f {\n' +
          ' chain i {\n' +
          '  type filter hook input priority filter; policy drop;\n' +
          '  tcp dport 8214 accept\n' +
          ' }\n' +
          '}\n',
      ),
    ).to.equal('server');
    expect(at('[{"protocol":"tcp","ports":"5432","source":"198.51.100.0/24"}]')).to.equal('edge');
  });

  it('asks where nothing tells, the likeliest first', () => {
    const found = stopOf('net.ipv4.conf.all.rp_filter = 1\n');
    expect(found.sure).to.equal(false);
    expect(found.candidates).to.include.members(['server', 'gateway', 'client']);
  });

  describe('with two gateways in a row', () => {
    const two = [
      path[0]!,
      path[1]!,
      { id: 'outer', role: 'gateway' as const, typed: [{ text: 'LAN IP 192.168.1.1' }] },
      path[2]!,
      path[3]!,
    ];
    const known = { 'gateway/status': 'WAN IP 192.168.1.2\nLAN IP 192.168.50.1\n' };
    const of = (text: string, files: Record<string, string> = known) =>
      assignStop(readText(text)!, caseFacts(two, files, more));

    it('a table belongs to the one on whose inside network it sends', () => {
      expect(of('tcp 8214 192.168.1.2 8214\nudp 28410 192.168.1.2 28410\n')).to.include({
        stop: 'outer',
        sure: true,
      });
      expect(of('tcp 8214 192.168.50.20 8214\nudp 28410 192.168.50.20 28410\n')).to.include({
        stop: 'gateway',
        sure: true,
      });
      expect(of('tcp 8214 10.9.9.9 8214\nudp 28410 10.9.9.9 28410\n').sure).to.equal(false);
    });

    it('a public outside address is the outer one’s, a private one the inner one’s', () => {
      expect(of('WAN IP 203.0.113.50\n')).to.include({ stop: 'outer', sure: true });
      expect(of('WAN IP 192.168.1.7\n', {})).to.include({ stop: 'gateway', sure: true });
      expect(of('WAN IP 192.168.1.2\n')).to.include({ stop: 'gateway', sure: true });
    });
  });

  it('what holds an address that a stop already holds is that stop', () => {
    expect(
      stopOf('2: eno1: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n    inet 10.7.0.9/24 scope global eno1\n', {
        'gateway/addresses':
          '3: lan1: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n    inet 10.7.0.9/24 scope global lan1\n',
      }),
    ).to.include({ stop: 'gateway', sure: true });
  });

  it('a container’s machine is not taken for the container', () => {
    const stops = [
      ...path,
      {
        id: 'container',
        role: 'host' as const,
        found: { id: 'container/server', reason: { by: 'container' }, evidence: [] },
      },
    ];
    expect(
      assignStop(readText('tcp LISTEN 0 16 0.0.0.0:8214 0.0.0.0:*\n')!, caseFacts(stops, {}, more)).stop,
    ).to.equal('server');
  });
});

describe('which stop stands for the server, the gateway and the client', () => {
  const host = (id: string, more: object = {}) => ({ id, role: 'host' as const, ...more });
  const inContainer = { found: { id: 'container/x', reason: { by: 'container' }, evidence: [] } };
  const LISTENS = 'tcp LISTEN 0 16 0.0.0.0:8214 0.0.0.0:*\n';
  const [client, carrier, gateway] = [path[0]!, path[1]!, path[2]!];
  const table: readonly (readonly [string, string, Parameters<typeof caseFacts>[0], string])[] = [
    ['the last of two machines', LISTENS, [client, gateway, host('proxy'), host('app')], 'app'],
    [
      'the machine before its container',
      LISTENS,
      [client, gateway, host('proxy'), host('app', inContainer)],
      'proxy',
    ],
    ['a container, where that is all', LISTENS, [client, gateway, host('app', inContainer)], 'app'],
    ['not what stands behind it', LISTENS, [client, host('app'), gateway], 'app'],
    ['the end of a way without a machine', LISTENS, [client, carrier], 'carrier'],
    ['the server, where no gateway is', 'net.ipv4.ip_forward = 1\n', [client, host('app')], 'app'],
    [
      'the client, wherever it stands',
      'Port 8214 is closed on 203.0.113.50\n',
      [gateway, client, host('app')],
      'client',
    ],
    [
      'the first stop, where no client is',
      'Port 8214 is closed on 203.0.113.50\n',
      [carrier, gateway, host('app')],
      'carrier',
    ],
  ];
  for (const [title, text, stops, expected] of table)
    it(title, () =>
      expect(assignStop(readText(text)!, caseFacts(stops, {}, { service: more.service })).stop).to.equal(
        expected,
      ),
    );
});
