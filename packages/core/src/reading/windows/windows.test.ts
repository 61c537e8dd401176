import { expect } from 'chai';
import type { Fact } from '../../facts/index.ts';
import { readText } from '../recognise.ts';

const facts = (text: string, format: string): readonly Fact[] => {
  const reading = readText(text)!;
  expect(reading.format).to.equal(format);
  return reading.facts;
};
const addresses = (list: readonly Fact[]): string[] =>
  list.flatMap((f) => {
    if (f.kind === 'address') return [`${f.interface} ${f.address}/${f.prefix}`];
    return f.kind === 'route' ? [`${f.to} via ${f.hops[0]!.via}`] : [];
  });

describe('the other systems: the structure is read, not the words', () => {
  const IPCONFIG: readonly (readonly [string, string])[] = [
    [
      'English',
      'Windows IP Configuration\n' +
        '\n' +
        '\n' +
        'Ethernet adapter Ethernet:\n' +
        '\n' +
        '   Connection-specific DNS Suffix  . : \n' +
        '   Link-local IPv6 Address . . . . . : fe80::1c2d:3e4f:5a6b:7c8d%12\n' +
        '   IPv4 Address. . . . . . . . . . . : 192.168.50.20\n' +
        '   Subnet Mask . . . . . . . . . . . : 255.255.255.0\n' +
        '   Default Gateway . . . . . . . . . : 192.168.50.1\n',
    ],
    [
      'German',
      'Windows-IP-Konfiguration\n' +
        '\n' +
        '\n' +
        'Ethernet-Adapter Ethernet:\n' +
        '\n' +
        '   Verbindungsspezifisches DNS-Suffix: \n' +
        '   Verbindungslokale IPv6-Adresse  . : fe80::1c2d:3e4f:5a6b:7c8d%12\n' +
        '   IPv4-Adresse  . . . . . . . . . . : 192.168.50.20(Bevorzugt)\n' +
        '   Subnetzmaske  . . . . . . . . . . : 255.255.255.0\n' +
        '   Standardgateway . . . . . . . . . : 192.168.50.1\n',
    ],
    [
      'French',
      'Configuration IP de Windows\n' +
        '\n' +
        '\n' +
        'Carte Ethernet Ethernet :\n' +
        '\n' +
        '   Adresse IPv6 de liaison locale. . . . .: fe80::1c2d:3e4f:5a6b:7c8d%12\n' +
        '   Adresse IPv4. . . . . . . . . . . . . .: 192.168.50.20(préféré)\n' +
        '   Masque de sous-réseau. . . . . . . . . : 255.255.255.0\n' +
        '   Passerelle par défaut. . . . . . . . . : 192.168.50.1\n',
    ],
    [
      'Spanish',
      'Configuración IP de Windows\n' +
        '\n' +
        '\n' +
        'Adaptador de Ethernet Ethernet:\n' +
        '\n' +
        '   Vínculo: dirección IPv6 local. . . : fe80::1c2d:3e4f:5a6b:7c8d%12\n' +
        '   Dirección IPv4. . . . . . . . . . . . . . : 192.168.50.20(Preferido)\n' +
        '   Máscara de subred . . . . . . . . . . . . : 255.255.255.0\n' +
        '   Puerta de enlace predeterminada . . . . . : 192.168.50.1\n',
    ],
    [
      'Portuguese',
      'Configuração de IP do Windows\n' +
        '\n' +
        '\n' +
        'Adaptador Ethernet Ethernet:\n' +
        '\n' +
        '   Endereço IPv6 de link local . . . . : fe80::1c2d:3e4f:5a6b:7c8d%12\n' +
        '   Endereço IPv4. . . . . . . .  . . . . . . : 192.168.50.20(Preferencial)\n' +
        '   Máscara de Sub-rede . . . . . . . . . . . : 255.255.255.0\n' +
        '   Gateway Padrão. . . . . . . . . . . . . . : 192.168.50.1\n',
    ],
  ];
  for (const [language, text] of IPCONFIG) {
    it(`ipconfig in ${language}`, () =>
      expect(
        addresses(facts(text, 'ipconfig')).map((a) => a.replace(/^.*?((?:fe80|192|default))/, '$1')),
      ).to.include.members(['192.168.50.20/24', 'default via 192.168.50.1']));
  }

  it('ipconfig /all: lease dates between mask and gateway, no gateway at all, link address', () => {
    const text =
      'Ethernet adapter Ethernet:\n' +
      '\n' +
      '   Physical Address. . . . . . . . . : 02-48-4E-00-00-20\n' +
      '   DHCP Enabled. . . . . . . . . . . : Yes\n' +
      '   IPv4 Address. . . . . . . . . . . : 192.168.50.20(Preferred) \n' +
      '   Subnet Mask . . . . . . . . . . . : 255.255.255.0\n' +
      '   Lease Obtained. . . . . . . . . . : Tuesday, 24 November 2026 08:00:00\n' +
      '   Lease Expires . . . . . . . . . . : Wednesday, 25 November 2026 08:00:00\n' +
      '   Default Gateway . . . . . . . . . : \n' +
      '   DHCP Server . . . . . . . . . . . : 192.168.50.1\n' +
      '   DNS Servers . . . . . . . . . . . : 192.168.50.1\n';
    const list = facts(text, 'ipconfig');
    expect(addresses(list)).to.deep.equal(['Ethernet 192.168.50.20/24']);
    expect(list.find((f) => f.kind === 'interface')).to.include({ mac: '02:48:4e:00:00:20' });
  });

  it('route print names interfaces by their address', () => {
    const text =
      'IPv4-Routentabelle\n' +
      '===========================================================================\n' +
      'Aktive Routen:\n' +
      '     Netzwerkziel    Netzwerkmaske          Gateway    Schnittstelle Metrik\n' +
      '          0.0.0.0          0.0.0.0     192.168.50.1    192.168.50.20     25\n' +
      '        127.0.0.0        255.0.0.0   Auf Verbindung         127.0.0.1    331\n' +
      '     192.168.50.0    255.255.255.0   Auf Verbindung     192.168.50.20    281\n' +
      '    192.168.50.20  255.255.255.255   Auf Verbindung     192.168.50.20    281\n';
    expect(
      facts(text, 'route-print').flatMap((f) =>
        f.kind === 'route' ? [`${f.to} via ${f.hops[0]!.via} dev ${f.hops[0]!.dev} metric ${f.metric}`] : [],
      ),
    ).to.deep.equal([
      'default via 192.168.50.1 dev 192.168.50.20 metric 25',
      '192.168.50.0/24 via null dev 192.168.50.20 metric 281',
    ]);
  });

  for (const [language, listening, established] of [
    ['English', 'LISTENING', 'ESTABLISHED'],
    ['German', 'ABHÖREN', 'HERGESTELLT'],
    ['Spanish', 'LISTENING', 'ESTABLISHED'],
  ] as const) {
    it(`netstat -ano in ${language}`, () => {
      const text =
        '  Proto  Lokale Adresse         Remoteadresse          Status           PID\n' +
        `  TCP    0.0.0.0:8214           0.0.0.0:0              ${listening}       1234\n` +
        `  TCP    192.168.50.20:49700    198.51.100.23:443      ${established}     42\n` +
        `  TCP    [::]:8214              [::]:0                 ${listening}       1234\n` +
        '  UDP    0.0.0.0:28410          *:*                                    99\n';
      expect(
        facts(text, 'netstat').flatMap((f) =>
          f.kind === 'socket' ? [`${f.protocol} ${f.address}:${f.port} ${f.state}`] : [],
        ),
      ).to.deep.equal([
        'tcp 0.0.0.0:8214 LISTEN',
        'tcp 192.168.50.20:49700 ESTAB',
        'tcp :::8214 LISTEN',
        'udp 0.0.0.0:28410 UNCONN',
      ]);
    });
  }

  it('objects of the shell as list, table and JSON', () => {
    const list =
      'LocalAddress  : 0.0.0.0\n' +
      'LocalPort     : 8214\n' +
      'RemoteAddress : 0.0.0.0\n' +
      'RemotePort    : 0\n' +
      'State         : Listen\n' +
      'OwningProcess : 1234\n';
    const table =
      'LocalAddress LocalPort RemoteAddress RemotePort State\n' +
      '------------ --------- ------------- ---------- -----\n' +
      '0.0.0.0      8214      0.0.0.0       0          Listen\n';
    const json =
      '[{"LocalAddress":"0.0.0.0","LocalPort":8214,"RemoteAddress":"0.0.0.0","RemotePort":0,' +
      '"State":2,"OwningProcess":1234}]';
    for (const text of [list, table, json])
      expect(
        facts(text, 'cmdlet-objects').flatMap((f) =>
          f.kind === 'socket' ? [`${f.protocol} ${f.address}:${f.port} ${f.state}`] : [],
        ),
      ).to.deep.equal(['tcp 0.0.0.0:8214 LISTEN']);
    expect(
      facts(
        'Name             : hall\nInterfaceAlias   : Ethernet\nNetworkCategory  : Public\n',
        'cmdlet-objects',
      )[0],
    ).to.deep.include({ kind: 'active-profile', value: { profile: 'public', interface: 'Ethernet' } });
  });

  it('macOS: ifconfig, netstat -rn and netstat -anv', () => {
    const ifconfig =
      'en0: flags=8863<UP,BROADCAST,SMART,RUNNING,SIMPLEX,MULTICAST> mtu 1500\n' +
      '\tether 02:48:4e:00:00:20\n' +
      '\tinet6 fe80::1c2d%en0 prefixlen 64 secured scopeid 0x6\n' +
      '\tinet 192.168.50.20 netmask 0xffffff00 broadcast 192.168.50.255\n' +
      '\tstatus: active\n';
    expect(addresses(facts(ifconfig, 'ifconfig'))).to.deep.equal([
      'en0 fe80::1c2d/64',
      'en0 192.168.50.20/24',
    ]);
    const routes =
      'Routing tables\n' +
      '\n' +
      'Internet:\n' +
      'Destination        Gateway            Flags               Netif Expire\n' +
      'default            192.168.50.1       UGScg                 en0\n' +
      '127                127.0.0.1          UCS                   lo0\n' +
      '192.168.50         link#6             UCS                   en0      !\n';
    expect(
      facts(routes, 'route-table').flatMap((f) =>
        f.kind === 'route' ? [`${f.to} via ${f.hops[0]!.via} dev ${f.hops[0]!.dev}`] : [],
      ),
    ).to.deep.equal([
      'default via 192.168.50.1 dev en0',
      '127.0.0.0/8 via null dev lo0',
      '192.168.50.0/24 via null dev en0',
    ]);
    const sockets =
      'Active Internet connections (including servers)\n' +
      'Proto Recv-Q Send-Q  Local Address          Foreign Address        (state)\n' +
      'tcp46      0      0  *.8214                 *.*                    LISTEN\n' +
      'tcp4       0      0  192.168.50.20.49700    198.51.100.23.443      ESTABLISHED\n' +
      'udp4       0      0  *.28410                *.*\n';
    expect(
      facts(sockets, 'netstat').flatMap((f) =>
        f.kind === 'socket' ? [`${f.protocol} ${f.family} ${f.address}:${f.port} ${f.state}`] : [],
      ),
    ).to.deep.equal(['tcp 0 *:8214 LISTEN', 'tcp 4 192.168.50.20:49700 ESTAB', 'udp 4 0.0.0.0:28410 UNCONN']);
  });
});
