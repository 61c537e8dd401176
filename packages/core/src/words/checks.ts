import { SETTINGS_SHELL } from '../asks/index.ts';
/** Where a command or click path is for. */
export type System = 'linux' | 'windows' | 'macos' | 'page' | 'cloud';

export interface CheckWords {
  readonly title: string;
  /** To paste into a chat with the owner. */
  readonly message: string;
  readonly commands: readonly { readonly system: System; readonly label: string; readonly text: string }[];
  /** Rough cost for the owner, minutes. */
  readonly minutes: number;
}

/** Every kind of evidence that can be asked for. */
export const YIELDS = [
  'dial',
  'configuration',
  'name',
  'seen-address',
  'status',
  'forwards',
  'leases',
  'mappings',
  'addresses',
  'routes',
  'neighbours',
  'sockets',
  'rules',
  'allow-list',
  'sessions',
  'counters',
  'drop-log',
  'capture',
] as const;
export type Yields = (typeof YIELDS)[number];

type Command = CheckWords['commands'][number];
const linux = (text: string): Command => ({ system: 'linux', label: 'Linux', text });
const windows = (text: string): Command => ({ system: 'windows', label: 'Windows', text });
const macos = (text: string): Command => ({ system: 'macos', label: 'macOS', text });
const page = (text: string): Command => ({ system: 'page', label: 'Web page', text });
const cloud = (text: string): Command => ({ system: 'cloud', label: 'Cloud console', text });

const please = (where: string): string =>
  `Could you please run this on ${where} and send me everything that it prints:`;

/** What the words are about: the stop's name, the dialled name, and the service's first port. */
interface About {
  readonly where: string;
  readonly role: string | null;
  readonly name: string | null;
  readonly port: string;
}

const ASKED: Readonly<Record<Yields, (about: About) => CheckWords>> = {
  addresses: ({ where }) => ({
    title: `Addresses of ${where}`,
    message: please(where),
    minutes: 2,
    commands: [
      linux('ip addr; ip route'),
      windows('ipconfig /all'),
      macos('ifconfig; netstat -rn'),
      page('Network or LAN settings: select the page, copy'),
      cloud('The machine’s details: network interfaces, private and public addresses; copy the panel'),
    ],
  }),
  routes: ({ where }) => ({
    title: `Routes and settings of ${where}`,
    message: please(where),
    minutes: 2,
    commands: [
      linux(`ip route show table all; ip rule; ${SETTINGS_SHELL}`),
      windows('route print'),
      macos('netstat -rn'),
      page('Routing or static routes: select the whole table, copy'),
      cloud('The route table of the machine’s network: select the rows, copy'),
    ],
  }),
  neighbours: ({ where }) => ({
    title: `Neighbours of ${where}`,
    message: please(where),
    minutes: 2,
    commands: [
      linux('ip neigh'),
      windows('arp -a'),
      macos('arp -an'),
      page('ARP or neighbour table, often under diagnostics: select it, copy'),
    ],
  }),
  sockets: ({ where }) => ({
    title: `What listens on ${where}`,
    message: please(where),
    minutes: 2,
    commands: [
      linux('sudo ss -tulpn'),
      windows('netstat -abno'),
      macos('sudo lsof -nP -i'),
      page('Running services with their ports, where the machine has a page of its own: select, copy'),
    ],
  }),
  rules: ({ where }) => ({
    title: `Firewall rules of ${where}`,
    message: please(where),
    minutes: 3,
    commands: [
      linux('sudo nft -j list ruleset || { sudo iptables-save; sudo ip6tables-save; }'),
      windows(
        'netsh advfirewall show allprofiles; netsh advfirewall firewall show rule name=all verbose; Get-NetConnectionProfile',
      ),
      macos('sudo pfctl -si; sudo pfctl -sr'),
      page('Firewall or access rules: select the whole table, copy'),
      cloud(
        'Every inbound list that is attached to the machine or its network: export as JSON or CSV, or select the rows and copy',
      ),
    ],
  }),
  forwards: ({ where }) => ({
    title: `Forward table of ${where}`,
    message: `On the web page of ${where}, please open the list of port forwards, select the whole table with the mouse, copy it and paste it to me. If the page can show who holds which address (leases, connected devices), that list too.`,
    minutes: 4,
    commands: [
      page('Port forwards: select the whole table, copy'),
      linux('sudo nft -j list ruleset || sudo iptables-save'),
    ],
  }),
  leases: ({ where }) => ({
    title: `Who has which address at ${where}`,
    message: `On the web page of ${where}, please open the list of connected devices or leases, select all of it, copy it and paste it to me.`,
    minutes: 3,
    commands: [
      page('Connected devices or leases: select the whole list, copy'),
      linux('cat /var/lib/misc/dnsmasq.leases'),
    ],
  }),
  status: ({ where }) => ({
    title: `Outside address of ${where}`,
    message: `On the web page of ${where}, please open the status page. There is an address called WAN, internet or outside. Send me that line, for example “WAN IP 203.0.113.50”.`,
    minutes: 3,
    commands: [page('Status or overview: the line with the WAN address'), linux('ip addr; ip route')],
  }),
  'seen-address': () => ({
    title: 'The address that the internet sees',
    message:
      'Please open any page that shows “your address” in a browser on that network (not on a phone with mobile data) and send me the address, for example “seen from outside 203.0.113.50”.',
    minutes: 1,
    commands: [
      page('Any “what is my address” page'),
      linux('a “what is my address” service that you trust, with curl'),
    ],
  }),
  name: ({ name }) => ({
    title: `What ${name ?? 'the name'} resolves to`,
    message: 'Please run this and send me what it prints:',
    minutes: 1,
    commands: [
      linux(`dig ${name ?? 'NAME'}`),
      windows(`nslookup ${name ?? 'NAME'}`),
      macos(`host ${name ?? 'NAME'}`),
    ],
  }),
  configuration: ({ where, role }) =>
    role === 'client' || role === null
      ? {
          title: 'What exactly the client types',
          message:
            'Please copy exactly what you type into the program to connect, character by character, and the message that you get.',
          minutes: 1,
          commands: [page('What stands in the address field of the program: select it, copy')],
        }
      : {
          title: `What the program on ${where} is set to`,
          message: `Please send me the lines of the program’s own settings on ${where} that name its port, the address that it binds to, and whom it lets in.`,
          minutes: 3,
          commands: [
            linux(
              'the settings file: for a database also who may connect (pg_hba.conf, bind-address, protected-mode)',
            ),
            page('The program’s own settings page: port and address; select, copy'),
          ],
        },
  mappings: ({ where }) => ({
    title: `Mappings that programs asked ${where} for`,
    message: `${please('a machine on that network')} Or on the web page of ${where}: the list of automatic mappings.`,
    minutes: 3,
    commands: [linux('upnpc -l; natpmpc'), page('Automatic port mappings: select the whole list, copy')],
  }),
  'allow-list': ({ where }) => ({
    title: `What ${where} lets in`,
    message: `In the console of the rented machine, please open every inbound list that belongs to it, and send me the rows with port, protocol and source.`,
    minutes: 4,
    commands: [
      cloud(
        'What is let in to the machine and to its network: export as JSON or CSV, or select the rows and copy',
      ),
    ],
  }),
  sessions: ({ where }) => ({
    title: `Sessions through ${where}`,
    message: `${please(where)} Best while the client is trying.`,
    minutes: 4,
    commands: [
      linux('sudo conntrack -L'),
      windows('netstat -ano'),
      macos('sudo pfctl -ss'),
      page('Session or connection table: filter for the port, select, copy'),
    ],
  }),
  counters: ({ where }) => ({
    title: `Rule counters of ${where}`,
    message: `${please(where)} Then let the client try once, and run it again.`,
    minutes: 5,
    commands: [
      linux('sudo nft list ruleset || { sudo iptables -L -n -v; sudo iptables -t nat -L -n -v; }'),
      macos('sudo pfctl -vsr'),
      page('Firewall rules with their hit counts: select, copy; let the client try; copy once more'),
    ],
  }),
  'drop-log': ({ where, port }) => ({
    title: `What ${where} refused`,
    message: `Please switch on the log of refused packets on ${where}, let the client try once, and send me the new lines. Switch it off again afterwards.`,
    minutes: 8,
    commands: [
      linux(`sudo journalctl -k --since "-5 min" | grep "DPT=${port}"`),
      windows(
        'netsh advfirewall set allprofiles logging droppedconnections enable; then the file that “netsh advfirewall show allprofiles” names',
      ),
      page('Firewall log: switch on dropped packets, let the client try, select the lines, copy'),
      cloud('Flow log of the machine’s network: the rows for this port, as CSV'),
    ],
  }),
  capture: ({ where, port }) => ({
    title: `Packets at ${where}`,
    message: `${please(where)} Start it, let the client try once, stop it with Ctrl+C.`,
    minutes: 8,
    commands: [
      linux(`sudo tcpdump -ni any port ${port}`),
      macos(`sudo tcpdump -ni any port ${port}`),
      page('Packet capture, often under diagnostics: port and both directions; send the file'),
    ],
  }),
  dial: ({ where, port }) => ({
    title: `A try from ${where}`,
    message: 'Please try this and tell me what it says, and whether it says so at once or after a long wait:',
    minutes: 2,
    commands: [
      linux(`nc -vz -w 5 ADDRESS ${port}`),
      windows(`Test-NetConnection ADDRESS -Port ${port}`),
      macos(`nc -vz -w 5 ADDRESS ${port}`),
    ],
  }),
};

/** What a stop of that role can be asked for, in the order in which practitioners ask. */
const OF_ROLE: Readonly<Record<string, readonly Yields[]>> = {
  client: ['configuration', 'name', 'dial', 'addresses', 'routes', 'capture'],
  carrier: ['status'],
  edge: ['allow-list', 'addresses', 'drop-log'],
  gateway: [
    'status',
    'forwards',
    'leases',
    'seen-address',
    'mappings',
    'rules',
    'addresses',
    'routes',
    'neighbours',
    'sockets',
    'sessions',
    'counters',
    'drop-log',
    'capture',
  ],
  relay: ['forwards', 'rules', 'addresses', 'routes', 'sessions', 'capture'],
  host: [
    'addresses',
    'sockets',
    'rules',
    'routes',
    'configuration',
    'dial',
    'neighbours',
    'allow-list',
    'counters',
    'drop-log',
    'capture',
  ],
};

export const asksOf = (role: string): readonly Yields[] => OF_ROLE[role] ?? [];

/** Words and commands for each kind of evidence that can be asked for. `where` is the stop's name, `name` the dialled name. */
export function checkWords(
  yields: string,
  where: string,
  name: string | null = null,
  port: number | null = null,
  role: string | null = null,
): CheckWords {
  const asked = ASKED[yields as Yields];
  return asked
    ? asked({ where, role, name, port: port === null ? 'PORT' : String(port) })
    : {
        title: `More about ${where}`,
        message: please(where),
        minutes: 3,
        commands: [linux('ip addr; ip route; sudo ss -tulpn')],
      };
}
