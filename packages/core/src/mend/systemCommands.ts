import { shellWord, type Shell } from '../asks/index.ts';
import { powerShellWord, type Commands } from '../devices/index.ts';
import { formatAddress } from '../net/index.ts';
import type { Finding } from './finding.ts';

type Of<K extends Finding['found']> = Extract<Finding, { found: K }>;

/** null: nobody knows whose shell it is. */
const by = (system: Shell | null, all: Readonly<Record<Shell, () => Commands>>): Commands | null =>
  system === null ? null : all[system]();

const pair = (commands: string, undo: string): Commands => ({ commands: [commands], undo: [undo] });

/** A way out: ip-route(8), route(8) of the BSDs, New-NetRoute of the NetTCPIP module. */
export function defaultRoute({ via, device, system }: Of<'no-default-gateway'>): Commands | null {
  const gateway = formatAddress(via);
  return by(system, {
    linux: () => {
      const route = `default via ${gateway} dev ${shellWord(device)}`;
      return pair(`ip route add ${route}`, `ip route del ${route}`);
    },
    macos: () => {
      const family = via.family === 6 ? '-inet6 ' : '';
      return pair(`route -n add ${family}default ${gateway}`, `route -n delete ${family}default ${gateway}`);
    },
    windows: () => {
      const all = via.family === 6 ? '::/0' : '0.0.0.0/0';
      const route =
        `-DestinationPrefix ${all} -InterfaceAlias ${powerShellWord(device)} ` + `-NextHop ${gateway}`;
      return pair(`New-NetRoute ${route}`, `Remove-NetRoute ${route} -Confirm:$false`);
    },
  });
}

/** An interface that somebody has switched off. */
export function linkUp({ interface: name, system }: Of<'no-link'>): Commands | null {
  return by(system, {
    linux: () => {
      const device = `ip link set dev ${shellWord(name)}`;
      return pair(`${device} up`, `${device} down`);
    },
    macos: () => pair(`ifconfig ${shellWord(name)} up`, `ifconfig ${shellWord(name)} down`),
    windows: () =>
      pair(
        `Enable-NetAdapter -Name ${powerShellWord(name)}`,
        `Disable-NetAdapter -Name ${powerShellWord(name)} -Confirm:$false`,
      ),
  });
}

/** What the setting is called on that system. */
export function settingName({ key, system }: Of<'setting'>): string {
  if (system === 'macos') return BSD_KEYS[key] ?? key;
  return system === 'windows' && BSD_KEYS[key] !== undefined ? 'Forwarding of each interface' : key;
}

const BSD_KEYS: Readonly<Record<string, string>> = {
  'net.ipv4.ip_forward': 'net.inet.ip.forwarding',
  'net.ipv6.conf.all.forwarding': 'net.inet6.ip6.forwarding',
};

/** A setting of the kernel; other systems than Linux have that of forwarding alone. */
export function settingCommands(finding: Of<'setting'>): Commands | null {
  const { key, now, mended, system } = finding;
  const isForwarding = BSD_KEYS[key] !== undefined;
  const onOff = (value: string): string => (value === '1' ? 'Enabled' : 'Disabled');
  return by(system, {
    linux: () => pair(`sysctl -w ${shellWord(key)}=${mended}`, `sysctl -w ${shellWord(key)}=${now}`),
    macos: () => {
      const own = settingName(finding);
      return isForwarding ? pair(`sysctl ${own}=${mended}`, `sysctl ${own}=${now}`) : NONE;
    },
    windows: () => {
      const set = `Set-NetIPInterface -AddressFamily ${key.includes('ipv6') ? 'IPv6' : 'IPv4'} -Forwarding`;
      return isForwarding ? pair(`${set} ${onOff(mended)}`, `${set} ${onOff(now)}`) : NONE;
    },
  });
}

const NONE: Commands = { commands: [], undo: [] };
