import { nth } from '../place/index.ts';
import type { AskKind } from './kinds.ts';
import { SETTINGS_SHELL } from './settings.ts';

/** The systems whose shell a command is for. */
export type Shell = 'linux' | 'windows' | 'macos';

/** A command that only reads. */
export interface Command {
  readonly text: string;
  /** Whether an administrator has to run it, or it hides things. */
  readonly root?: true;
  /** What to run where the first is not on the machine. */
  readonly orElse?: readonly Command[];
}

/** What stands in a command for a value of the case. */
export const PLACES = { port: 'PORT', name: 'NAME', address: 'ADDRESS' } as const;

/** The firewall for programs that stands beside the packet filter of macOS. */
const PROGRAM_FIREWALL = '/usr/libexec/ApplicationFirewall/socketfilterfw';

const root = (text: string, orElse?: readonly Command[]): Command => ({
  text,
  root: true,
  ...(orElse ? { orElse } : {}),
});

/**
 * The commands that answer each kind of ask: the one table from which owners are asked, the collect scripts
 * are written, and the kernel lab gathers. An empty table is for what only a page, a console or a person can
 * tell.
 */
export const COMMANDS: Readonly<Record<AskKind, Readonly<Partial<Record<Shell, readonly Command[]>>>>> = {
  addresses: {
    linux: [{ text: 'ip addr' }, { text: 'ip route' }],
    windows: [{ text: 'ipconfig /all' }],
    macos: [{ text: 'ifconfig' }, { text: 'netstat -rn' }],
  },
  routes: {
    linux: [
      { text: 'ip route show table all' },
      { text: 'ip -6 route show table all' },
      { text: 'ip rule' },
      { text: SETTINGS_SHELL },
    ],
    windows: [{ text: 'route print' }],
    macos: [{ text: 'netstat -rn' }],
  },
  neighbours: {
    linux: [{ text: 'ip neigh' }],
    windows: [{ text: 'arp -a' }],
    macos: [{ text: 'arp -an' }],
  },
  sockets: {
    linux: [root('ss -tulpn')],
    // Without an administrator's rights the first prints nothing at all.
    windows: [root('netstat -abno', [{ text: 'netstat -ano' }])],
    macos: [root('lsof -nP -i')],
  },
  rules: {
    // As JSON an empty rule set says that it is empty; as text it prints nothing.
    linux: [root('nft -j list ruleset', [root('iptables-save'), root('ip6tables-save')])],
    windows: [
      { text: 'netsh advfirewall show allprofiles' },
      { text: 'netsh advfirewall firewall show rule name=all verbose' },
      { text: 'Get-NetConnectionProfile' },
    ],
    macos: [
      root('pfctl -si'),
      root('pfctl -sr'),
      ...['--getglobalstate', '--getblockall', '--listapps'].map((list) => ({
        text: `${PROGRAM_FIREWALL} ${list}`,
      })),
    ],
  },
  forwards: { linux: [root('nft -j list ruleset', [root('iptables-save')])] },
  leases: { linux: [{ text: 'cat /var/lib/misc/dnsmasq.leases' }] },
  status: { linux: [{ text: 'ip addr' }, { text: 'ip route' }] },
  'seen-address': {},
  name: {
    linux: [{ text: `dig ${PLACES.name}` }],
    windows: [{ text: `nslookup ${PLACES.name}` }],
    macos: [{ text: `host ${PLACES.name}` }],
  },
  configuration: {},
  mappings: { linux: [{ text: 'upnpc -l' }, { text: 'natpmpc' }] },
  'allow-list': {},
  sessions: {
    linux: [root('conntrack -L')],
    windows: [{ text: 'netstat -ano' }],
    macos: [root('pfctl -ss')],
  },
  counters: {
    linux: [root('nft list ruleset', [root('iptables -L -n -v'), root('iptables -t nat -L -n -v')])],
    macos: [root('pfctl -vsr')],
  },
  'drop-log': { linux: [root(`journalctl -k --since "-5 min" | grep "DPT=${PLACES.port}"`)] },
  capture: {
    linux: [root(`tcpdump -ni any port ${PLACES.port}`)],
    macos: [root(`tcpdump -ni any port ${PLACES.port}`)],
  },
  dial: {
    linux: [{ text: `nc -vz -w 5 ${PLACES.address} ${PLACES.port}` }],
    windows: [{ text: `Test-NetConnection ${PLACES.address} -Port ${PLACES.port}` }],
    macos: [{ text: `nc -vz -w 5 ${PLACES.address} ${PLACES.port}` }],
  },
};

/** One line for a shell of that system; null where no command answers the ask there. */
export function shellLine(ask: AskKind, shell: Shell): string | null {
  const commands = COMMANDS[ask][shell];
  if (!commands || commands.length === 0) return null;
  const sudo = shell === 'windows' ? '' : 'sudo ';
  const one = ({ text, root: asRoot, orElse }: Command): string => {
    const own = asRoot ? `${sudo}${text}` : text;
    if (!orElse || shell === 'windows') return own;
    const others = orElse.map(one);
    return `${own} || ${others.length === 1 ? nth(others, 0) : `{ ${others.join('; ')}; }`}`;
  };
  return commands.map(one).join('; ');
}
