import { expect } from 'chai';
import { caseFacts, outcome, run, caseSite, serverEvidence } from '../testing/index.ts';
import { parseEndpoint, parseTarget } from '../net/index.ts';
import { commandsOf, mendChain, sceneFrom } from '../mend/index.ts';
import { mendWords } from '../words/index.ts';
import { diagnosis } from '../views/index.ts';
import { readText } from '../reading/index.ts';

/** A rented machine with macOS that the client dials. */
const PATH = [
  { id: 'client', role: 'client' },
  { id: 'carrier', role: 'carrier' },
  { id: 'host', role: 'host' },
];
const MAC = {
  'host/addresses':
    'lo0: flags=8049<UP,LOOPBACK,RUNNING,MULTICAST> mtu 16384\n\tinet 127.0.0.1 netmask 0xff000000\n' +
    'en0: flags=8863<UP,BROADCAST,RUNNING,MULTICAST> mtu 1500\n' +
    '\tinet 203.0.113.80 netmask 0xffffff00 broadcast 203.0.113.255\n\tstatus: active\n',
  'host/routes':
    'Routing tables\n\nInternet:\nDestination        Gateway            Flags               Netif Expire\n' +
    'default            203.0.113.1        UGScg                 en0\n' +
    '203.0.113/24       link#6             UCS                   en0      !\n' +
    '127                127.0.0.1          UCS                   lo0\n',
  'host/rules': 'Status: Disabled for 0 days 00:12:01           Debug: Urgent\n',
};
const listening = (program: string): string =>
  'COMMAND     PID USER   FD   TYPE             DEVICE SIZE/OFF NODE NAME\n' +
  `${program}   501 root   21u  IPv4 0x1a2b3c4d5e6f7a8b      0t0  TCP *:8214 (LISTEN)\n`;
const ON = 'Firewall is enabled. (State = 1)\n';
const rows = (...list: readonly (readonly [string, 'Allow' | 'Block'])[]): string =>
  `ALF: total number of apps = ${list.length} \n\n` +
  list
    .map(([app, verdict], i) => `${i + 1} :  ${app} \n \t ( ${verdict} incoming connections ) \n\n`)
    .join('');
const GULLCAST = '/Applications/Gullcast.app';

const tried = (firewall: string, sockets = listening('Gullcast')): string =>
  outcome(
    run(
      caseSite(PATH, { ...MAC, 'host/sockets': sockets, 'host/configuration': firewall }),
      '198.51.100.23',
      '203.0.113.80:8214/tcp',
    ),
  );

describe('the firewall for programs of macOS', () => {
  const table: readonly (readonly [string, string, string])[] = [
    ['it is off', 'Firewall is disabled. (State = 0)\n', 'answered at host'],
    [
      'it blocks all',
      'Firewall is blocking all non-essential incoming connections. (State = 2)\n',
      'lost at host',
    ],
    [
      'it is on, and its own switch blocks all',
      'Firewall is enabled.\nFirewall has block all state set to enabled.\n',
      'lost at host',
    ],
    ['the switch of older releases', 'Firewall is enabled.\nBlock all ENABLED! \n', 'lost at host'],
    [
      'the switch alone: whether the firewall is on is not known',
      'Firewall is set to block all non-essential incoming connections\n',
      'unknown',
    ],
    [
      'no row for the program: its signature may let it in',
      ON + rows(['/usr/sbin/smbd', 'Block']),
      'unknown',
    ],
    ['a row for a file of that name, which may be another one', ON + rows([GULLCAST, 'Block']), 'unknown'],
    ['it may block all', 'Firewall is enabled.\n' + rows([GULLCAST, 'Allow']), 'unknown'],
  ];
  for (const [title, firewall, expected] of table)
    it(`${title}: ${expected}`, () => expect(tried(firewall)).to.equal(expected));

  it('it blocks all, and the system’s own ports are open still', () => {
    const site = caseSite(PATH, {
      ...MAC,
      'host/sockets': listening('mDNSRespo').replace('TCP *:8214 (LISTEN)', 'UDP *:5353'),
      'host/configuration': 'Firewall is blocking all non-essential incoming connections. (State = 2)\n',
    });
    expect(outcome(run(site, '198.51.100.23', '203.0.113.80:5353/udp'))).to.equal('unknown');
  });

  it('counts where nothing else tells that the system has one', () => {
    const site = caseSite(PATH, {
      ...serverEvidence('203.0.113.80/24', '203.0.113.1', ['tcp 0.0.0.0:8214 gullcast'], ''),
      'host/rules': MAC['host/rules'],
      'host/configuration': 'Firewall is set to block all non-essential incoming connections\n',
    });
    expect(outcome(run(site, '198.51.100.23', '203.0.113.80:8214/tcp'))).to.equal('unknown');
  });

  it('its listings say what they say', () => {
    const text = `${ON}Firewall has block all state set to disabled.\n${rows([GULLCAST, 'Block'])}`;
    const read = readText(text);
    expect(read?.problems).to.deep.equal([]);
    expect(read?.facts.map((f) => [f.kind, 'value' in f ? f.value : null])).to.deep.equal([
      ['application-firewall', true],
      ['application-blocks-all', false],
      ['application-blocks-all', false],
      ['application', { app: GULLCAST, allow: false }],
    ]);
  });

  it('a row that blocks the listener’s name is what the diagnosis suspects', () => {
    const facts = caseFacts(
      PATH,
      { ...MAC, 'host/sockets': listening('Gullcast'), 'host/configuration': ON + rows([GULLCAST, 'Block']) },
      {
        service: { name: 'Gullcast', endpoints: [{ protocol: 'tcp', port: 8214 }] },
        client: { address: '198.51.100.23', dials: '203.0.113.80:8214', symptom: 'lost' },
      },
    );
    const [first] = diagnosis(facts).faults;
    expect(first).to.deep.include({ id: 'host-block-wins', stop: 'host' });
    expect(first?.probability).to.be.within(0.5, 0.95);
  });

  it('what blocks all is switched off, and the program’s row decides', () => {
    const facts = caseFacts(
      PATH,
      {
        ...MAC,
        'host/sockets': listening('Gullcast'),
        'host/configuration': 'Firewall is blocking all non-essential incoming connections. (State = 2)\n',
      },
      { service: { name: 'Gullcast', endpoints: [{ protocol: 'tcp', port: 8214 }] } },
    );
    const [target, source] = [parseTarget('203.0.113.80:8214/tcp'), parseEndpoint('198.51.100.23:40000')];
    if (!target || !source) throw new Error('no packet');
    const destination = { address: target.address, port: target.port };
    const [first] = mendChain(facts, sceneFrom(facts, { transport: 'tcp', source, destination }));
    expect(first?.mend?.fault).to.equal('host-block-wins');
    const mend = first?.mend;
    if (!mend) return;
    const tool = '/usr/libexec/ApplicationFirewall/socketfilterfw';
    expect(commandsOf(mend)).to.deep.equal({
      commands: [`${tool} --setblockall off`],
      undo: [`${tool} --setblockall on`],
    });
    expect(mendWords(mend, (id) => id ?? '').where).to.match(/System Settings, Network, Firewall/);
  });
});
