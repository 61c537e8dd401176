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
