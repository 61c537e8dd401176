import { expect } from 'chai';
import { caseFacts, serverEvidence } from '../../testing/index.ts';
import { benchView } from '../bench/view.ts';
import { diagnosis } from './diagnosis.ts';
import { recognised } from './recognised.ts';

const PATH = [
  { id: 'client', role: 'client' },
  { id: 'carrier', role: 'carrier' },
  { id: 'gateway', role: 'gateway' },
  { id: 'host', role: 'host' },
];
const UDP = [{ protocol: 'udp', port: 28410 }];
const TCP = [{ protocol: 'tcp', port: 8214 }];
type Try = readonly [vantage: string, to: string, outcome: string, greeting?: string];

interface Given {
  readonly says?: string;
  readonly dials?: string;
  readonly endpoints?: readonly object[];
  readonly tries?: readonly Try[];
  readonly files?: Readonly<Record<string, string>>;
}

const facts = ({
  says = 'times out',
  dials = '203.0.113.50:8214',
  endpoints = TCP,
  tries = [],
  files = {},
}: Given) =>
  caseFacts(PATH, files, {
    service: { name: 'Gullcast', endpoints },
    client: { address: '198.51.100.23', dials, symptom: 'lost', says },
    observations: tries.map(([vantage, to, outcome, greeting]) => ({
      vantage,
      to,
      outcome,
      ...(greeting === undefined ? {} : { greeting }),
    })),
  });

const OUTSIDE_WORKS: Try = ['outside', '203.0.113.50:8214/tcp', 'answered'];
const CLIENT_FAILS: Try = ['client', '203.0.113.50:8214/tcp', 'lost'];
const dig = (name: string, address: string, type = 'A', server = '192.0.2.1'): string =>
  `; <<>> DiG 9.18.24 <<>> @${server} ${name} ${type}\n` +
  ';; ->>HEADER<<- opcode: QUERY, status: NOERROR, id: 4711\n' +
  '\n' +
  ';; QUESTION SECTION:\n' +
  `;${name}.\tIN\t${type}\n` +
  '\n' +
  ';; ANSWER SECTION:\n' +
  `${name}.\t300\tIN\t${type}\t${address}\n` +
  '\n' +
  `;; SERVER: ${server}#53(${server})\n`;

/** As `tcpdump -ni any` prints a question that comes by one interface and its answer by another. */
const OTHER_WAY = ['01', '02', '04']
  .flatMap((second) => [
    [`${second}.1`, 'eno1  In  IP 198.51.100.23.40006 > 192.168.50.20.8214: Flags [S], seq 2884942783'],
    [
      `${second}.2`,
      'eno2  Out IP 192.168.50.20.8214 > 198.51.100.23.40006: Flags [S.], seq 1, ack 2884942784',
    ],
  ])
  .map(([at, says]) => `17:02:${at} ${says}, win 64240, length 0\n`)
  .join('');

/** What a record, a try or the caller's own words show by themselves. */
const cases: readonly (readonly [fault: string, given: Given])[] = [
  ['host-asymmetric', { files: { 'host/capture': OTHER_WAY } }],
  ['dial-syntax', { dials: '203.0.113.50;8214' }],
  ['dial-private', { dials: '192.168.50.20:8214' }],
  ['test-ping', { says: 'a ping to it gets no answer' }],
  ['test-from-inside', { says: 'I tried from my laptop in the house', tries: [OUTSIDE_WORKS] }],
  [
    'test-while-down',
    { says: 'I had stopped the server then', tries: [['client', '203.0.113.50:8214/tcp', 'answered']] },
  ],
  ['test-wrong-protocol', { says: 'the port checker says closed', endpoints: UDP }],
  [
    'test-udp-silence',
    {
      says: 'nc -u shows nothing',
      endpoints: UDP,
      tries: [['client', '203.0.113.50:28410/udp', 'answered']],
    },
  ],
  ['listen-acl', { says: 'FATAL: no pg_hba.conf entry for host "198.51.100.23"' }],
  ['listen-full', { says: 'sorry, too many clients already' }],
  ['listen-tls', { says: 'SSL error: wrong version number' }],
  [
    'gateway-port',
    { tries: [['client', '203.0.113.50:8214/tcp', 'answered', '<title>Gateway sign in</title>']] },
  ],
  ['client-egress', { tries: [CLIENT_FAILS, OUTSIDE_WORKS] }],
  [
    'carrier-port-block',
    {
      tries: [
        CLIENT_FAILS,
        ['client', '203.0.113.50:18214/tcp', 'answered'],
        ['outside', '203.0.113.50:8214/tcp', 'lost'],
      ],
    },
  ],
  ['wan-down', { files: { 'gateway/status': 'Internet\n  Connection:\tdown, no link\n' } }],
  [
    'carrier-portal',
    {
      files: {
        'gateway/page':
          'Port forwarding\n\nForwards are kept in the operator’s customer portal; none can ' +
          'be entered here.\n',
      },
    },
  ],
  [
    'name-cached',
    {
      dials: 'play.gannet.example.net:8214',
      files: {
        'client/one': dig('play.gannet.example.net', '203.0.113.38'),
        'client/two': dig('play.gannet.example.net', '203.0.113.50', 'A', '203.0.113.200'),
      },
    },
  ],
  [
    'session-stale',
    {
      tries: [CLIENT_FAILS, OUTSIDE_WORKS, ['lan', '192.168.50.20:8214/tcp', 'answered']],
      files: {
        'gateway/sessions':
          'udp      17 26 src=198.51.100.23 dst=203.0.113.50 sport=40077 dport=8214 [UNREPLIED] ' +
          'src=192.168.50.31 dst=198.51.100.23 sport=8214 dport=40077 mark=0 use=1\n',
      },
    },
  ],
  ['announces-inside', { says: 'the sign-in works, then the listing hangs' }],
];

describe('faults that records, tries and words show by themselves', () => {
  for (const [fault, given] of cases)
    it(fault, () => expect(recognised(facts(given)).map((r) => r.id)).to.include(fault));

  it('nothing of it where nothing was said', () => expect(recognised(facts({}))).to.deep.equal([]));
});

describe('a diagnosis of what is half known', () => {
  it('is not sure of what only fits, and asks on', () => {
    const found = diagnosis(facts({ tries: [CLIENT_FAILS, OUTSIDE_WORKS] }));
    expect(found.verdict.sure).to.equal(false);
    expect(found.faults.map((f) => f.id)).to.include('client-egress');
    expect(found.nextChecks.length).to.be.greaterThan(0);
  });

  it('finds the row that is off, though nobody knows the server yet', () => {
    const found = diagnosis(
      facts({
        files: {
          'gateway/status': 'WAN IP 203.0.113.50\nLAN IP 192.168.50.1\n',
          'gateway/table':
            'Name\tProtocol\tOutside port\tInside address\tInside port\tState\n' +
            'cast\tTCP\t8214\t192.168.50.20\t8214\toff\n',
        },
      }),
    );
    expect(found.faults[0]).to.include({ id: 'fwd-disabled', stop: 'gateway' });
  });

  it('together the suspects are no likelier than certainty', () => {
    for (const [, given] of cases) {
      const sum = diagnosis(facts(given)).faults.reduce((n, f) => n + f.probability, 0);
      expect(sum).to.be.at.most(1.0001);
    }
  });

  it('asks for each try once, and not for what was declined', () => {
    const asked = diagnosis(facts({ tries: [CLIENT_FAILS] })).nextChecks;
    expect(asked.map((c) => c.vantage))
      .to.include('outside')
      .and.not.include('client');
    expect(new Set(asked.map((c) => c.id)).size).to.equal(asked.length);
  });
});

it('a range is tried at both of its ends', () => {
  const row = (ports: string): string =>
    'Name\tProtocol\tOutside port\tInside address\tInside port\n' +
    `reef\tUDP\t${ports}\t192.168.50.20\t${ports}\n`;
  const lampOf = (ports: string): string =>
    benchView(
      caseFacts(
        PATH,
        {
          ...serverEvidence('192.168.50.20/24', '192.168.50.1', [
            'udp 0.0.0.0:28410 reef',
            'udp 0.0.0.0:28412 reef',
          ]),
          'gateway/status': 'WAN IP 203.0.113.50\nLAN IP 192.168.50.1\n',
          'gateway/table': row(ports),
        },
        {
          service: { name: 'Lantern Reef', endpoints: [{ protocol: 'udp', port: 28410, portEnd: 28412 }] },
          client: { address: '198.51.100.23', dials: '203.0.113.50:28410' },
        },
      ),
    ).verdict.lamp;
  expect(lampOf('28410-28412')).to.equal('lit');
  expect(lampOf('28410-28411')).to.equal('shut');
});

it('an answer that leaves by the interface of its question, or that is taken, is no other way', () => {
  const named = (text: string): boolean =>
    recognised(facts({ files: { 'host/capture': text } })).some((f) => f.id === 'host-asymmetric');
  expect(named(OTHER_WAY)).to.equal(true);
  expect(named(OTHER_WAY.replaceAll('eno2', 'eno1'))).to.equal(false);
  const taken =
    '17:02:01.3 eno1  In  IP 198.51.100.23.40006 > 192.168.50.20.8214: Flags [.], ack 1, ' +
    'win 64240, length 0\n';
  expect(named(OTHER_WAY + taken)).to.equal(false);
});
