import { expect } from 'chai';
import type { Shell } from '../asks/index.ts';
import { parseAddress } from '../net/index.ts';
import { commandsOf, settingName, type Finding, type Mend } from './index.ts';

const told = (finding: Finding): readonly string[] => {
  const mend: Mend = { fault: 'link-down', stop: 'host', finding, evidence: [], apply: null };
  const { commands, undo } = commandsOf(mend);
  return [...commands, ...undo];
};
const address = (text: string) => {
  const parsed = parseAddress(text);
  if (!parsed) throw new Error(text);
  return parsed;
};

/** Sources: ip-route(8), ip-link(8), sysctl(8); route(8), ifconfig(8) of the BSDs; NetTCPIP, NetAdapter. */
describe('a mend is made in the shell of the very system', () => {
  const route = (system: Shell | null, via: string, device = 'eno1') =>
    told({ found: 'no-default-gateway', via: address(via), device, system });
  const link = (system: Shell | null, isOff = true) =>
    told({ found: 'no-link', interface: "Marta's cable", isOff, system });
  const forwarding = (system: Shell | null, key = 'net.ipv4.ip_forward') =>
    told({ found: 'setting', key, now: '0', mended: '1', dropped: null, system });

  const table: readonly (readonly [string, readonly string[], readonly string[]])[] = [
    [
      'a way out on Linux',
      route('linux', '192.168.50.1', 'eno1; reboot'),
      [
        "ip route add default via 192.168.50.1 dev 'eno1; reboot'",
        "ip route del default via 192.168.50.1 dev 'eno1; reboot'",
      ],
    ],
    [
      'a way out on macOS',
      route('macos', '192.168.50.1'),
      ['route -n add default 192.168.50.1', 'route -n delete default 192.168.50.1'],
    ],
    [
      'the same in IPv6',
      route('macos', '2001:db8:50::1'),
      ['route -n add -inet6 default 2001:db8:50::1', 'route -n delete -inet6 default 2001:db8:50::1'],
    ],
    [
      'a way out on Windows',
      route('windows', '192.168.50.1', 'Ethernet 2'),
      [
        "New-NetRoute -DestinationPrefix 0.0.0.0/0 -InterfaceAlias 'Ethernet 2' -NextHop 192.168.50.1",
        "Remove-NetRoute -DestinationPrefix 0.0.0.0/0 -InterfaceAlias 'Ethernet 2' -NextHop 192.168.50.1 " +
          '-Confirm:$false',
      ],
    ],
    [
      'the same in IPv6',
      route('windows', '2001:db8:50::1', 'Ethernet').slice(0, 1),
      ["New-NetRoute -DestinationPrefix ::/0 -InterfaceAlias 'Ethernet' -NextHop 2001:db8:50::1"],
    ],
    ['a way out where nobody knows the system', route(null, '192.168.50.1'), []],
    [
      'an interface on Linux',
      link('linux'),
      ["ip link set dev 'Marta'\\''s cable' up", "ip link set dev 'Marta'\\''s cable' down"],
    ],
    ['an interface on macOS', link('macos').slice(0, 1), ["ifconfig 'Marta'\\''s cable' up"]],
    [
      'an interface on Windows',
      link('windows'),
      [
        "Enable-NetAdapter -Name 'Marta''s cable'",
        "Disable-NetAdapter -Name 'Marta''s cable' -Confirm:$false",
      ],
    ],
    ['a cable that is out is no command', link('linux', false), []],
    [
      'forwarding on Linux',
      forwarding('linux'),
      ['sysctl -w net.ipv4.ip_forward=1', 'sysctl -w net.ipv4.ip_forward=0'],
    ],
    [
      'forwarding on a BSD',
      forwarding('macos', 'net.ipv6.conf.all.forwarding'),
      ['sysctl net.inet6.ip6.forwarding=1', 'sysctl net.inet6.ip6.forwarding=0'],
    ],
    [
      'forwarding on Windows',
      forwarding('windows'),
      [
        'Set-NetIPInterface -AddressFamily IPv4 -Forwarding Enabled',
        'Set-NetIPInterface -AddressFamily IPv4 -Forwarding Disabled',
      ],
    ],
    [
      'forwarding of IPv6 on Windows',
      forwarding('windows', 'net.ipv6.conf.all.forwarding').slice(1),
      ['Set-NetIPInterface -AddressFamily IPv6 -Forwarding Disabled'],
    ],
    ['a check that only Linux has', forwarding('macos', 'net.ipv4.conf.en0.rp_filter'), []],
    ['and none of Windows', forwarding('windows', 'net.ipv4.conf.en0.rp_filter'), []],
  ];
  for (const [title, made, expected] of table) it(title, () => expect(made).to.deep.equal(expected));

  it('the setting is called what that system calls it', () => {
    const named = (system: Shell | null) =>
      settingName({
        found: 'setting',
        key: 'net.ipv4.ip_forward',
        now: '0',
        mended: '1',
        dropped: null,
        system,
      });
    expect([null, 'linux', 'macos', 'windows'].map((s) => named(s as Shell | null))).to.deep.equal([
      'net.ipv4.ip_forward',
      'net.ipv4.ip_forward',
      'net.inet.ip.forwarding',
      'Forwarding of each interface',
    ]);
  });
});
