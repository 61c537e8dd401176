import { expect } from 'chai';
import { readText } from '../recognise.ts';

const routes = (text: string): string[] =>
  (readText(text)?.facts ?? []).flatMap((f) =>
    f.kind === 'route'
      ? [`${f.to} ${f.type} ${f.hops[0]?.via ?? '-'} ${f.hops[0]?.dev ?? '-'}${f.unmodelled ? ' open' : ''}`]
      : [],
  );

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

  const named: readonly (readonly [string, string, readonly string[]])[] = [
    [
      'Linux',
      'Kernel IP routing table\n' +
        'Destination     Gateway         Genmask         Flags   MSS Window  irtt Iface\n' +
        'default         _gateway        0.0.0.0         UG        0 0          0 eno1\n' +
        '192.168.50.0    *               255.255.255.0   U         0 0          0 eno1\n',
      ['default unicast - eno1 open', '192.168.50.0/24 unicast - eno1'],
    ],
    [
      'Linux, IPv6',
      'Kernel IPv6 routing table\n' +
        'Destination                    Next Hop                   Flag Met Ref Use If\n' +
        '[::]/0                         _gateway                   UG   1024 2   0 eno1\n' +
        '2001:db8:50::/64               [::]                       U    256 1     0 eno1\n',
      ['default unicast - eno1 open', '2001:db8:50::/64 unicast - eno1'],
    ],
    [
      'macOS',
      'Routing tables\n\nInternet:\n' +
        'Destination        Gateway            Flags               Netif Expire\n' +
        'default            gateway.lan        UGScg                 en0\n' +
        '192.168.50         link#11            UCS                   en0      !\n',
      ['default unicast - en0 open', '192.168.50.0/24 unicast - en0'],
    ],
  ];
  for (const [system, text, expected] of named)
    it(`${system}: a next hop that is a name is a hop that nobody knows, and none on the link`, () =>
      expect(routes(text)).to.deep.equal(expected));
});
