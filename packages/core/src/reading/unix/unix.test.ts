import { expect } from 'chai';
import type { Fact } from '../../facts/index.ts';
import { readText } from '../recognise.ts';

const facts = (text: string): readonly Fact[] => readText(text)?.facts ?? [];
const addresses = (text: string): string[] =>
  facts(text).flatMap((f) =>
    f.kind === 'address'
      ? [
          `${f.interface} ${f.address}/${f.prefix} ` +
            `${f.scope}${f.peer ? ` to ${f.peer}` : ''}${f.unusable ? ' unusable' : ''}`,
        ]
      : [],
  );
const links = (text: string): string[] =>
  facts(text).flatMap((f) =>
    f.kind === 'interface'
      ? [`${f.name} ${f.adminUp ? 'on' : 'off'} ${f.carrier === false ? 'no link' : 'link'} ${f.mac ?? '-'}`]
      : [],
  );
const sockets = (text: string): string[] =>
  facts(text).flatMap((f) =>
    f.kind === 'socket'
      ? [
          `${f.protocol} ${f.address}:${f.port} ` +
            `${f.state}${f.peer ? ` to ${f.peer}:${f.peerPort}` : ''}` +
            `${f.processes.map((p) => ` ${p.name}/${p.pid}`).join('')}`,
        ]
      : [],
  );
const routes = (text: string): string[] =>
  facts(text).flatMap((f) =>
    f.kind === 'route'
      ? [`${f.to} ${f.type} ${f.hops[0]?.via ?? '-'} ${f.hops[0]?.dev ?? '-'}${f.unmodelled ? ' open' : ''}`]
      : [],
  );

describe('ifconfig of every system', () => {
  it('macOS: masks in hex, link state by itself, an address that is held twice', () => {
    const text = `lo0: flags=8049<UP,LOOPBACK,RUNNING,MULTICAST> mtu 16384
	inet 127.0.0.1 netmask 0xff000000
	inet6 ::1 prefixlen 128
	inet6 fe80::1%lo0 prefixlen 64 scopeid 0x1
en0: flags=8863<UP,BROADCAST,SMART,RUNNING,SIMPLEX,MULTICAST> mtu 1500
	ether 02:00:5e:00:00:20
	inet6 fe80::c2:5eff:fe00:20%en0 prefixlen 64 secured scopeid 0xb
	inet 192.168.50.20 netmask 0xffffff00 broadcast 192.168.50.255
	inet6 2001:db8:50::20 prefixlen 64 duplicated
	status: active
en1: flags=8863<UP,BROADCAST,SMART,RUNNING,SIMPLEX,MULTICAST> mtu 1500
	ether 02:00:5e:00:00:21
	status: inactive
utun0: flags=8051<UP,POINTOPOINT,RUNNING,MULTICAST> mtu 1380
	inet 10.8.0.2 --> 10.8.0.1 netmask 0xffffffff
`;
    expect(addresses(text)).to.deep.equal([
      'lo0 127.0.0.1/8 host',
      'lo0 ::1/128 host',
      'lo0 fe80::1/64 link',
      'en0 fe80::c2:5eff:fe00:20/64 link',
      'en0 192.168.50.20/24 global',
      'en0 2001:db8:50::20/64 global unusable',
      'utun0 10.8.0.2/32 global to 10.8.0.1',
    ]);
    expect(links(text)).to.deep.equal([
      'lo0 on link 00:00:00:00:00:00',
      'en0 on link 02:00:5e:00:00:20',
      'en1 on no link 02:00:5e:00:00:21',
      'utun0 on link -',
    ]);
  });

  it('FreeBSD: status without a carrier, a tentative address', () => {
    const text = `em0: flags=1008843<UP,BROADCAST,RUNNING,SIMPLEX,MULTICAST,LOWER_UP> metric 0 mtu 1500
	ether 02:00:5e:00:00:01
	inet 203.0.113.50 netmask 0xffffff00 broadcast 203.0.113.255
	inet6 2001:db8:1::50 prefixlen 64 tentative
	status: no carrier
`;
    expect(addresses(text)).to.deep.equal([
      'em0 203.0.113.50/24 global',
      'em0 2001:db8:1::50/64 global unusable',
    ]);
    expect(links(text)).to.deep.equal(['em0 on no link 02:00:5e:00:00:01']);
  });

  it('the older form of Linux: flags on a line of their own, an alias, scopes in words', () => {
    const text = `eth0      Link encap:Ethernet  HWaddr 02:00:5E:00:00:20
          inet addr:192.168.50.20  Bcast:192.168.50.255  Mask:255.255.255.0
          inet6 addr: fe80::5eff:fe00:20/64 Scope:Link
          inet6 addr: 2001:db8:50::20/64 Scope:Global
          UP BROADCAST RUNNING MULTICAST  MTU:1500  Metric:1

eth0:1    Link encap:Ethernet  HWaddr 02:00:5E:00:00:20
          inet addr:192.168.50.21  Bcast:192.168.50.255  Mask:255.255.255.0
          UP BROADCAST RUNNING MULTICAST  MTU:1500  Metric:1

eth1      Link encap:Ethernet  HWaddr 02:00:5E:00:00:22
          BROADCAST MULTICAST  MTU:1500  Metric:1

lo        Link encap:Local Loopback
          inet addr:127.0.0.1  Mask:255.0.0.0
          inet6 addr: ::1/128 Scope:Host
          UP LOOPBACK RUNNING  MTU:65536  Metric:1

ppp0      Link encap:Point-to-Point Protocol
          inet addr:203.0.113.50  P-t-P:203.0.113.1  Mask:255.255.255.255
          UP POINTOPOINT RUNNING NOARP MULTICAST  MTU:1492  Metric:1
`;
    expect(addresses(text)).to.deep.equal([
      'eth0 192.168.50.20/24 global',
      'eth0 fe80::5eff:fe00:20/64 link',
      'eth0 2001:db8:50::20/64 global',
      'eth0 192.168.50.21/24 global',
      'lo 127.0.0.1/8 host',
      'lo ::1/128 host',
      'ppp0 203.0.113.50/32 global to 203.0.113.1',
    ]);
    expect(links(text).map((l) => l.split(' ').slice(0, 2).join(' '))).to.deep.equal([
      'eth0 on',
      'eth1 off',
      'lo on',
      'ppp0 on',
    ]);
  });
});

describe('netstat of every system', () => {
  const table: readonly (readonly [string, string, readonly string[]])[] = [
    [
      'Linux, with programs',
      'Active Internet connections (servers and established)\n' +
        'Proto Recv-Q Send-Q Local Address           Foreign Address         State       PID/Program ' +
        'name\n' +
        'tcp        0      0 0.0.0.0:8211            0.0.0.0:*               LISTEN      812/moorhen: ' +
        'main\n' +
        'tcp        0      0 192.168.50.20:8211      198.51.100.23:50123     ESTABLISHED 812/moorhen: ' +
        'main\n' +
        'tcp6       0      0 ::1:5432                :::*                    LISTEN      733/postgres\n' +
        'udp        0      0 0.0.0.0:8214            0.0.0.0:*                           812/moorhen\n' +
        'Active UNIX domain sockets (servers and established)\n' +
        'Proto RefCnt Flags       Type       State         I-Node   PID/Program name     Path\n' +
        'unix  2      [ ACC ]     STREAM     LISTENING     18923    1/init               /run/x\n',
      [
        'tcp 0.0.0.0:8211 LISTEN moorhen/812',
        'tcp 192.168.50.20:8211 ESTAB to 198.51.100.23:50123 moorhen/812',
        'tcp ::1:5432 LISTEN postgres/733',
        'udp 0.0.0.0:8214 UNCONN moorhen/812',
      ],
    ],
    [
      'macOS: address and port joined by a dot, the program with its number',
      'Active Internet connections (including servers)\n' +
        'Proto Recv-Q Send-Q  Local Address          Foreign Address        (state)     rhiwat shiwat ' +
        '   pid   epid  state    options\n' +
        'tcp4       0      0  *.8211                 *.*                    LISTEN      131072 131072 ' +
        '  moorhen:812      0 0x0100 0x00000106\n' +
        'tcp46      0      0  *.8212                 *.*                    LISTEN      131072 131072 ' +
        '  moorhen:812      0 0x0100 0x00000106\n' +
        'tcp4       0      0  192.168.50.20.8211     198.51.100.23.50123    ESTABLISHED 131072 131072 ' +
        '  moorhen:812      0 0x0100 0x00000106\n' +
        'udp4       0      0  *.8214                 *.*                                786896   9216 ' +
        '  moorhen:812      0 0x0100 0x00000106\n',
      [
        'tcp 0.0.0.0:8211 LISTEN moorhen/812',
        'tcp *:8212 LISTEN moorhen/812',
        'tcp 192.168.50.20:8211 ESTAB to 198.51.100.23:50123 moorhen/812',
        'udp 0.0.0.0:8214 UNCONN moorhen/812',
      ],
    ],
    [
      'Windows, in another language: who is at the far end tells the state',
      '\n' +
        'Aktive Verbindungen\n' +
        '\n' +
        '  Proto  Lokale Adresse         Remoteadresse          Status           PID\n' +
        '  TCP    0.0.0.0:8211           0.0.0.0:0              ABHÖREN          4120\n' +
        '  TCP    192.168.50.20:8211     198.51.100.23:50123    HERGESTELLT      4120\n' +
        '  TCP    [::]:8211              [::]:0                 ABHÖREN          4120\n' +
        '  UDP    0.0.0.0:8214           *:*                                     4120\n',
      [
        'tcp 0.0.0.0:8211 LISTEN undefined/4120',
        'tcp 192.168.50.20:8211 ESTAB to 198.51.100.23:50123 undefined/4120',
        'tcp :::8211 LISTEN undefined/4120',
        'udp 0.0.0.0:8214 UNCONN undefined/4120',
      ],
    ],
    [
      'Windows, with the program on a line of its own',
      'Active Connections\n' +
        '\n' +
        '  Proto  Local Address          Foreign Address        State           PID\n' +
        '  TCP    0.0.0.0:8211           0.0.0.0:0              LISTENING       4120\n' +
        ' [moorhen.exe]\n',
      ['tcp 0.0.0.0:8211 LISTEN moorhen.exe/4120'],
    ],
  ];
  for (const [title, text, expected] of table)
    it(title, () =>
      expect(sockets(text).map((s) => s.replace(' undefined/4120', ''))).to.deep.equal(
        expected.map((s) => s.replace(' undefined/4120', '')),
      ),
    );

  it('a row that cannot be a socket is said', () =>
    expect(
      (
        readText(
          'Proto Recv-Q Send-Q Local Address           Foreign Address         State\n' +
            'tcp        0      0 0.0.0.0:99999           0.0.0.0:*               LISTEN\n' +
            'tcp        0      0 0.0.0.0:8211            0.0.0.0:*               LISTEN\n',
        )?.problems ?? []
      ).map((p) => `${p.line} ${String(p.why)}`),
    ).to.deep.equal(['2 socket-unreadable']));

  it('a listing that ends inside a word is not whole', () => {
    const head =
      '  Proto  Local Address          Foreign Address        State           PID\n' +
      '  TCP    0.0.0.0:135            0.0.0.0:0              LISTENING\n';
    const gaps = (text: string): readonly string[] => readText(text)?.gaps ?? [];
    expect(gaps(`${head}  TCP    0.0.0.0:8211           0.0.0.0:0              LISTEN`)).to.include('cut');
    expect(gaps(`${head}  TCP    0.0.0.0:8211           0.0.0.0:0              LISTENING`)).to.not.include(
      'cut',
    );
    expect(gaps(`${head} [moorhen.e`)).to.include('cut');
    expect(gaps(`${head}  TCP    0.0.0.0:8211           0.0.0.0:0`)).to.include('cut');
  });
});

describe('tables of routes', () => {
  it('macOS: short prefixes, own addresses and groups left out, ways of one interface only', () => {
    const text = `Routing tables

Internet:
Destination        Gateway            Flags               Netif Expire
default            192.168.50.1       UGScg                 en0
default            192.168.60.1       UGScIg                en1
default            link#18            UCSIg               utun0
10/8               192.168.50.2       UGSc                  en0
10.66              127.0.0.1          UGSB                  lo0
10.67              127.0.0.1          UGSR                  lo0
127                127.0.0.1          UCS                   lo0
192.168.50         link#11            UCS                   en0      !
192.168.50.20/32   link#11            UCS                   en0      !
224.0.0/4          link#11            UmCS                  en0      !

Internet6:
${'Destination'.padEnd(40)}${'Gateway'.padEnd(40)}Flags               Netif Expire
default                                 fe80::1%en0                             UGcg                  en0
::1                                     ::1                                     UHL                   lo0
2001:db8:50::/64                        link#11                                 UC                    en0
ff00::/8                                ::1                                     UmCI                  lo0
`;
    expect(routes(text)).to.deep.equal([
      'default unicast 192.168.50.1 en0',
      'default unicast 192.168.60.1 en1 open',
      '10.0.0.0/8 unicast 192.168.50.2 en0',
      '10.66.0.0/16 blackhole 127.0.0.1 lo0',
      '10.67.0.0/16 unreachable 127.0.0.1 lo0',
      '127.0.0.0/8 unicast - lo0',
      '192.168.50.0/24 unicast - en0',
      '192.168.50.20/32 unicast - en0',
      'default unicast fe80::1 en0',
      '2001:db8:50::/64 unicast - en0',
    ]);
  });

  it('Linux, IPv6: own addresses and groups are no ways', () => {
    const text = `Kernel IPv6 routing table
Destination                    Next Hop                   Flag Met Ref Use If
::1/128                        ::                         U    256 1     0 lo
2001:db8:50::/64               ::                         U    256 1     0 lan0
2001:db8:66::/48               ::                         !n   1024 1    0 lo
::/0                           ::                         !n   -1  1     0 lo
::/0                           fe80::1                    UG   1024 1    0 wan0
::1/128                        ::                         Un   0   2     0 lo
ff00::/8                       ::                         U    256 1     0 wan0
`;
    expect(routes(text)).to.deep.equal([
      '::1/128 unicast - lo',
      '2001:db8:50::/64 unicast - lan0',
      '2001:db8:66::/48 unreachable - -',
      'default unicast fe80::1 wan0',
    ]);
  });
});
