import { shellLine, PLACES, type Shell, shellWord, type AskKind } from '../asks/index.ts';
import type { Role } from '../site/index.ts';

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

export type Command = CheckWords['commands'][number];

/** The words of an ask; `others` are click paths, and what no table of commands can hold. */
export type AskWords = Omit<CheckWords, 'commands'> & { readonly others: readonly Command[] };

export const SHELLS: readonly (readonly [Shell, string])[] = [
  ['linux', 'Linux'],
  ['windows', 'Windows'],
  ['macos', 'macOS'],
];

/** The commands of an ask, each for its system, with the values of the case. */
export function shells(ask: AskKind, { name, port }: About): Command[] {
  return SHELLS.flatMap(([system, label]) => {
    const line = shellLine(ask, system);
    if (line === null) return [];
    const text = line
      .replaceAll(PLACES.port, port)
      .replaceAll(PLACES.name, name === null ? PLACES.name : shellWord(name));
    return [{ system, label, text }];
  });
}

export const linux = (text: string): Command => ({ system: 'linux', label: 'Linux', text });

export const windows = (text: string): Command => ({ system: 'windows', label: 'Windows', text });

export const page = (text: string): Command => ({ system: 'page', label: 'Web page', text });

export const cloud = (text: string): Command => ({ system: 'cloud', label: 'Cloud console', text });

export const please = (where: string): string =>
  `Could you please run this on ${where} and send me everything that it prints:`;

/** What the words are about: the stop's name, the dialled name, and the service's first port. */

export interface About {
  readonly where: string;
  readonly role: Role | null;
  readonly name: string | null;
  readonly port: string;
}

export const forwardTable = (where: string): AskWords => ({
  title: `Forward table of ${where}`,
  message:
    `On the web page of ${where}, please open the list of port forwards, select the whole table ` +
    'with the mouse, copy it and paste it to me. If the page can show who holds which address ' +
    '(leases, connected devices), that list too.',
  minutes: 4,
  others: [page('Port forwards: select the whole table, copy')],
});

export const portalList = (where: string): AskWords => ({
  title: `The list in the portal of ${where}`,
  message:
    'Please log in to your provider’s portal (not to the router’s page), open your connection and ' +
    'its rules or port forwards, select the whole list with the mouse, copy it and paste it to me.',
  minutes: 4,
  others: [page('In the portal, “My connection” and its rules: select the whole list, copy')],
});

export const ASKED: Readonly<Record<AskKind, (about: About) => AskWords>> = {
  addresses: ({ where }) => ({
    title: `Addresses of ${where}`,
    message: please(where),
    minutes: 2,
    others: [
      page('Network or LAN settings: select the page, copy'),
      cloud('The machine’s details: network interfaces, private and public addresses; copy the panel'),
    ],
  }),
  routes: ({ where }) => ({
    title: `Routes and settings of ${where}`,
    message: please(where),
    minutes: 2,
    others: [
      page('Routing or static routes: select the whole table, copy'),
      cloud('The route table of the machine’s network: select the rows, copy'),
    ],
  }),
  neighbours: ({ where }) => ({
    title: `Neighbours of ${where}`,
    message: please(where),
    minutes: 2,
    others: [page('ARP or neighbour table, often under diagnostics: select it, copy')],
  }),
  sockets: ({ where }) => ({
    title: `What listens on ${where}`,
    message: please(where),
    minutes: 2,
    others: [
      page('Running services with their ports, where the machine has a page of its own: select, copy'),
    ],
  }),
  rules: ({ where }) => ({
    title: `Firewall rules of ${where}`,
    message: please(where),
    minutes: 3,
    others: [
      page('Firewall or access rules: select the whole table, copy'),
      cloud(
        'Every inbound list that is attached to the machine or its network: export as JSON or CSV, or ' +
          'select the rows and copy',
      ),
    ],
  }),
  forwards: ({ where, role }) => (role === 'carrier' ? portalList(where) : forwardTable(where)),

  leases: ({ where }) => ({
    title: `Who has which address at ${where}`,
    message:
      `On the web page of ${where}, please open the list of connected devices or leases, select all ` +
      'of it, copy it and paste it to me.',
    minutes: 3,
    others: [page('Connected devices or leases: select the whole list, copy')],
  }),
  status: ({ where }) => ({
    title: `Outside address of ${where}`,
    message:
      `On the web page of ${where}, please open the status page. There is an address called WAN, ` +
      'internet or outside. Send me that line, for example “WAN IP 203.0.113.50”.',
    minutes: 3,
    others: [page('Status or overview: the line with the WAN address')],
  }),
  'seen-address': () => ({
    title: 'The address that the internet sees',
    message:
      'Please open any page that shows “your address” in a browser on that network (not on a phone ' +
      'with mobile data) and send me the address, for example “seen from outside 203.0.113.50”.',
    minutes: 1,
    others: [
      page('Any “what is my address” page'),
      linux('a “what is my address” service that you trust, with curl'),
    ],
  }),
  name: ({ name }) => ({
    title: `What ${name ?? 'the name'} resolves to`,
    message: 'Please run this and send me what it prints:',
    minutes: 1,
    others: [],
  }),
  configuration: ({ where, role }) =>
    role === 'client' || role === null
      ? {
          title: 'What exactly the client types',
          message:
            'Please copy exactly what you type into the program to connect, character by character, and ' +
            'the message that you get.',
          minutes: 1,
          others: [page('What stands in the address field of the program: select it, copy')],
        }
      : {
          title: `What the program on ${where} is set to`,
          message:
            `Please send me the lines of the program’s own settings on ${where} that name its port, the ` +
            'address that it binds to, and whom it lets in.',
          minutes: 3,
          others: [
            linux(
              'the settings file: for a database also who may connect (pg_hba.conf, bind-address, ' +
                'protected-mode)',
            ),
            page('The program’s own settings page: port and address; select, copy'),
          ],
        },
  mappings: ({ where }) => ({
    title: `Mappings that programs asked ${where} for`,
    message:
      `${please('a machine on that network')} Or on the web page of ${where}: the list of ` +
      'automatic mappings.',
    minutes: 3,
    others: [page('Automatic port mappings: select the whole list, copy')],
  }),
  'allow-list': ({ where }) => ({
    title: `What ${where} lets in`,
    message:
      'In the console of the rented machine, please open every inbound list that belongs to it, and ' +
      'send me the rows with port, protocol and source.',
    minutes: 4,
    others: [
      cloud(
        'What is let in to the machine and to its network: export as JSON or CSV, or ' +
          'select the rows and copy',
      ),
    ],
  }),
  sessions: ({ where }) => ({
    title: `Sessions through ${where}`,
    message: `${please(where)} Best while the client is trying.`,
    minutes: 4,
    others: [page('Session or connection table: filter for the port, select, copy')],
  }),
  counters: ({ where }) => ({
    title: `Rule counters of ${where}`,
    message: `${please(where)} Then let the client try once, and run it again.`,
    minutes: 5,
    others: [page('Firewall rules with their hit counts: select, copy; let the client try; copy once more')],
  }),
  'drop-log': ({ where }) => ({
    title: `What ${where} refused`,
    message:
      `Please switch on the log of refused packets on ${where}, let the client try once, and send ` +
      'me the new lines. Switch it off again afterwards.',
    minutes: 8,
    others: [
      windows(
        "Set-NetFirewallProfile -All -LogBlocked True; Read-Host 'Let the client try once, then press " +
          `Enter'; Get-Content "$env:SystemRoot\\System32\\LogFiles\\Firewall\\pfirewall.log" -Tail ` +
          '400; Set-NetFirewallProfile -All -LogBlocked False',
      ),
      page('Firewall log: switch on dropped packets, let the client try, select the lines, copy'),
      cloud('Flow log of the machine’s network: the rows for this port, as CSV'),
    ],
  }),
  capture: ({ where }) => ({
    title: `Packets at ${where}`,
    message: `${please(where)} Start it, let the client try once, stop it with Ctrl+C.`,
    minutes: 8,
    others: [page('Packet capture, often under diagnostics: port and both directions; send the file')],
  }),
  dial: ({ where }) => ({
    title: `A try from ${where}`,
    message: 'Please try this and tell me what it says, and whether it says so at once or after a long wait:',
    minutes: 2,
    others: [],
  }),
};
