import { expect } from 'chai';
import { caseFacts, serverEvidence } from '../testing/index.ts';
import { parseEndpoint, parseTarget } from '../net/index.ts';
import { mendWords } from '../words/index.ts';
import { mendChain, sceneFrom, type MendStep } from './index.ts';

const PATH = [
  { id: 'client', role: 'client' },
  { id: 'carrier', role: 'carrier' },
  { id: 'gateway', role: 'gateway' },
  { id: 'host', role: 'host' },
];
const SERVER = serverEvidence('192.168.50.20/24', '192.168.50.1', ['tcp 0.0.0.0:8214 gullcast']);
const LINES =
  'Interface\tZone\tAddress\n' +
  'wan0\toutside\t203.0.113.50/29\n' +
  'lan0\tinside\t192.168.50.1/24\n' +
  'lan1\tguests\t192.168.60.1/24\n';
const RULES = 'Name\tFrom zone\tTo zone\tSource\tDestination\tService\tAction\n';
const MAPPINGS = 'Name\tOutside address\tInside address\n';
const FORWARDS = 'Name\tProtocol\tOutside port\tInside address\tInside port\n';
const AFTER = 'Rules see address and zone of the destination after translation.\n';
const BEFORE = 'Rules see address and zone of the destination before translation.\n';
const RIGHT = 'cast\toutside\tinside\tany\t192.168.50.20\ttcp 8214\tallow\n';
const FORWARD = 'cast\tTCP\t8214\t192.168.50.20\t8214\n';

const page = (forwards: string, rules: string, order = AFTER): string =>
  `Translations\n${FORWARDS}${forwards === '' ? 'No entries\n' : forwards}\nRules\n${order}${RULES}${rules}`;
const mapped = (mapping: string, rules: string): string =>
  `${MAPPINGS}${mapping}\n\nRules\n${AFTER}${RULES}${rules}`;

interface Given {
  readonly page: string;
  readonly to?: string;
  readonly from?: string;
  readonly more?: Readonly<Record<string, string>>;
  /** What is wrong behind it. */
  readonly then?: readonly string[];
}

function chain({ page: text, to = '203.0.113.50:8214/tcp', from = '198.51.100.23:40000', more }: Given) {
  const facts = caseFacts(
    PATH,
    { ...SERVER, 'gateway/lines': LINES, 'gateway/page': text, ...more },
    { service: { name: 'Gullcast', audience: 'anyone', endpoints: [{ protocol: 'tcp', port: 8214 }] } },
  );
  const target = parseTarget(to);
  const source = parseEndpoint(from);
  if (!target || !source) throw new Error('the test names no packet');
  const destination = { address: target.address, port: target.port };
  return mendChain(facts, sceneFrom(facts, { transport: target.transport, source, destination }));
}

const told = (steps: readonly MendStep[]): string[] =>
  steps.map(({ trace, mend }) => (mend ? `${mend.fault} at ${mend.stop}` : trace.outcome));
const wrong = (steps: readonly MendStep[]): string | undefined =>
  steps[0]?.mend ? mendWords(steps[0].mend, (id) => id ?? 'network').wrong : undefined;

/** What a technician sees, and that the mend on a copy of the device lets the client in. */
const cases: readonly (readonly [string, Given, string, RegExp])[] = [
  [
    'translated and not allowed',
    { page: page(FORWARD, 'other\toutside\tinside\tany\tany\ttcp 80\tallow\n') },
    'filter-missing',
    /no rule lets TCP 8214 through from zone outside to zone inside/,
  ],
  [
    'allowed and not translated',
    { page: page('', RIGHT) },
    'translate-missing',
    /TCP 8214 is allowed by rule “cast”, and nothing translates it/,
  ],
  [
    'neither',
    { page: page('', 'other\toutside\tinside\tany\tany\ttcp 80\tallow\n'), then: ['filter-missing'] },
    'fwd-none',
    /nothing translates TCP 8214 on 203\.0\.113\.50/,
  ],
  [
    'the outside address, where the firewall sees the inside one',
    { page: page(FORWARD, 'cast\toutside\tinside\tany\t203.0.113.50\ttcp 8214\tallow\n') },
    'filter-side',
    /rule “cast” names 203\.0\.113\.50, and this firewall sees 192\.168\.50\.20 there/,
  ],
  [
    'the inside address, where the firewall sees the outside one',
    { page: page(FORWARD, 'cast\toutside\toutside\tany\t192.168.50.20\ttcp 8214\tallow\n', BEFORE) },
    'filter-side',
    /rule “cast” names 192\.168\.50\.20, and this firewall sees 203\.0\.113\.50 there/,
  ],
  [
    'the zone of the other side',
    { page: page(FORWARD, 'cast\toutside\tinside\tany\t203.0.113.50\ttcp 8214\tallow\n', BEFORE) },
    'filter-zone',
    /rule “cast” names zone inside, and this firewall sees outside there/,
  ],
  [
    'a mapping inside out',
    {
      page: mapped('cast\t192.168.50.20\t203.0.113.52', RIGHT),
      to: '203.0.113.52:8214/tcp',
    },
    'static-inside-out',
    /cast has an inside address, 192\.168\.50\.20, as its outside one/,
  ],
  [
    'a mapping to another machine than the rule is for',
    { page: mapped('cast\t203.0.113.52\t192.168.50.21', RIGHT), to: '203.0.113.52:8214/tcp' },
    'fwd-target-typo',
    /mapping “cast” leads to 192\.168\.50\.21, one digit off, and the server is 192\.168\.50\.20/,
  ],
  [
    'an inside client, and nothing turns it round',
    {
      page: `${page(FORWARD, RIGHT)}\nHairpin: off\n`,
      from: '192.168.60.15:40000',
      then: ['filter-missing'],
    },
    'hairpin-missing',
    /is forwarded for callers from outside, and what comes from inside is not turned round/,
  ],
];

describe('rules and translations of a firewall with zones: what is wrong, mended on a copy', () => {
  for (const [title, given, fault, text] of cases)
    it(title, () => {
      const steps = chain(given);
      const faults = [fault, ...(given.then ?? [])].map((f) => `${f} at gateway`);
      expect(told(steps)).to.deep.equal([...faults, 'answered']);
      expect(wrong(steps)).to.match(text);
    });

  it('a rule that names the mapping is right', () =>
    expect(
      told(
        chain({
          page: mapped(
            'cast\t203.0.113.52\t192.168.50.20',
            'cast\toutside\tinside\tany\tcast\ttcp 8214\tallow\n',
          ),
          to: '203.0.113.52:8214/tcp',
        }),
      ),
    ).to.deep.equal(['answered']));
});

describe('a firewall with zones of which something is open is never sure of it', () => {
  const open: readonly (readonly [string, Given])[] = [
    [
      'its rules are not there',
      { page: `${MAPPINGS}cast\t203.0.113.52\t192.168.50.20\n`, to: '203.0.113.52:8214/tcp' },
    ],
    ['its translations are not there', { page: `${RULES}${RIGHT}` }],
    [
      'rules see one side of the translation, and which is not said',
      { page: page(FORWARD, 'cast\toutside\tinside\tany\t203.0.113.50\ttcp 8214\tallow\n', '') },
    ],
    ['a zone that is none of its own', { page: page(FORWARD, RIGHT.replace('inside', 'servers')) }],
    ['a name for a destination', { page: page(FORWARD, RIGHT.replace('192.168.50.20', 'cast-server')) }],
    ['a word for an action', { page: page(FORWARD, RIGHT.replace('allow', 'inspect')) }],
    ['a service by a name that nobody knows', { page: page(FORWARD, RIGHT.replace('tcp 8214', 'cast-in')) }],
    [
      'hours',
      {
        page: page(FORWARD, RIGHT.replace('allow', 'allow\tweekdays')).replace(
          'Action\n',
          'Action\tSchedule\n',
        ),
      },
    ],
  ];
  for (const [title, given] of open)
    it(title, () => expect(chain(given)[0]?.trace.outcome).to.equal('unknown'));

  it('a rule about other protocols, and one that is off, decide nothing', () => {
    const icmp = 'no ping\toutside\tinside\tany\tany\ticmp\tdeny\n';
    expect(told(chain({ page: page(FORWARD, `${icmp}${RIGHT}`) }))).to.deep.equal(['answered']);
    const mixed = 'more\toutside\tinside\tany\tany\ticmp, tcp 8214\tdeny\n';
    expect(chain({ page: page(FORWARD, `${mixed}${RIGHT}`) })[0]?.trace.outcome).to.equal('lost');
  });

  it('a client of the server’s own network is turned round with the firewall’s address', () => {
    const rules = `${RIGHT}home\tinside\tinside\tany\tany\tany\tallow\n`;
    const own = { page: `${page(FORWARD, rules)}\nHairpin: on\n`, from: '192.168.50.77:40000' };
    expect(told(chain(own))).to.deep.equal(['answered']);
  });

  it('names and hours that limit nothing leave it sure', () => {
    const rules = RIGHT.replace('192.168.50.20', 'cast-server').replace('allow', 'allow\talways');
    const named =
      `${page(FORWARD, rules).replace('Action\n', 'Action\tSchedule\n')}\n` +
      '\n' +
      'Name\tAddress\n' +
      'cast-server\t192.168.50.20\n';
    expect(told(chain({ page: named }))).to.deep.equal(['answered']);
  });
});
