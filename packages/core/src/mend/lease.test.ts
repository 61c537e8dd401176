import { expect } from 'chai';
import { mendCases, tunnelledHost } from '../testing/index.ts';
import { mendWords } from '../words/index.ts';

const { CARRIER, CLIENT, GATEWAY, HOST, mendSteps, names, told, values } = mendCases;
type Given = mendCases.Given;
type Row = Record<string, unknown>;

const listening = (sockets: readonly string[]) =>
  tunnelledHost('home', sockets.map((s) => `tcp LISTEN 0 1 ${s} 0.0.0.0:*\n`).join(''));
const LEASE = { protocol: 'tcp', port: 18214, to: '10.66.0.2', toPort: 8214 };
const leased = (leases: readonly Row[], more: Row = {}, sockets = ['0.0.0.0:8214']): Given => ({
  path: [
    CLIENT,
    CARRIER,
    {
      id: 'relay',
      role: 'relay',
      settings: {
        kind: 'relay',
        address: '203.0.113.200',
        tunnelAddress: '10.66.0.1/24',
        leases,
        hidesClient: true,
        at: '2026-11-20T10:00:00Z',
        ...more,
      },
    },
    GATEWAY,
    HOST,
  ],
  to: '203.0.113.200:18214/tcp',
  files: { 'gateway/status': 'WAN IP 100.72.14.9\nLAN IP 192.168.50.1\n', ...listening(sockets) },
});
const one = (change: Row): Given => leased([{ ...LEASE, ...change }]);

interface Told {
  readonly steps: readonly string[];
  readonly values?: readonly string[];
}

describe('a relay’s lease', () => {
  const table: readonly (readonly [string, Given, Told])[] = [
    ['is right', one({}), { steps: ['answered'] }],
    ['is for both protocols', one({ protocol: 'both' }), { steps: ['answered'] }],
    [
      'says another port',
      one({ port: 18215 }),
      { steps: ['fwd-outside-port at relay', 'answered'], values: ['Leased port: 18215 > 18214'] },
    ],
    [
      'says another port, and leads to the same one there',
      leased([{ protocol: 'tcp', port: 8214, to: '10.66.0.2' }]),
      { steps: ['fwd-outside-port at relay', 'answered'], values: ['Leased port: 8214 > 18214'] },
    ],
    [
      'is for the other protocol',
      one({ protocol: 'udp' }),
      { steps: ['fwd-protocol at relay', 'answered'], values: ['Protocol: UDP > TCP and UDP'] },
    ],
    [
      'leads to another customer, one digit off',
      one({ to: '10.66.0.3' }),
      { steps: ['fwd-target-typo at relay', 'answered'], values: ['Leads to: 10.66.0.3 > 10.66.0.2'] },
    ],
    [
      'leads to quite another one',
      one({ to: '10.66.0.117' }),
      { steps: ['fwd-target-stale at relay', 'answered'] },
    ],
    [
      'leads to a port on which the service is not',
      one({ toPort: 8215 }),
      { steps: ['fwd-inside-port at relay', 'answered'], values: ['Port there: 8215 > 8214'] },
    ],
    [
      'leads to a port on which nothing is, nor on the service’s own',
      leased([LEASE], {}, ['0.0.0.0:22']),
      { steps: ['listen-none at host', 'answered'] },
    ],
    [
      'has ended',
      one({ until: '2026-11-20T09:59:59Z' }),
      { steps: ['auto-lapsed at relay', 'answered'], values: ['Ends: 2026-11-20T09:59:59Z > not by itself'] },
    ],
    ['ends later', one({ until: '2026-11-20T10:00:01Z' }), { steps: ['answered'] }],
    [
      'has ended, and another one stands',
      leased([{ ...LEASE, until: '2026-11-20T09:00:00Z' }, LEASE]),
      { steps: ['answered'] },
    ],
    [
      'is missing',
      leased([{ ...LEASE, port: 25565, to: '10.66.0.7' }]),
      {
        steps: ['fwd-none at relay', 'answered'],
        values: [
          'Protocol: - > TCP',
          'Leased port: - > 18214',
          'Leads to: - > 10.66.0.2',
          'Port there: - > 8214',
          'Ends: - > not by itself',
        ],
      },
    ],
    [
      'is right, and the program keeps to itself',
      leased([LEASE], {}, ['127.0.0.1:8214']),
      { steps: ['listen-loopback at host', 'answered'] },
    ],
  ];
  for (const [title, given, expected] of table)
    it(title, () => {
      const steps = mendSteps(given);
      expect({ steps: told(steps), values: steps[0] ? values(steps[0]) : [] }).to.deep.include(expected);
    });

  it('of another port the client may as well be told', () => {
    const mend = mendSteps(one({ port: 18215 }))[0]?.mend;
    expect(mend && mendWords(mend, names)).to.deep.include({
      wrong: 'the lease says 18215, and the client dials 18214',
      also: 'Or let the client dial port 18215. Tell it to everyone who dials.',
    });
  });

  it('where the server has no end in the tunnel nobody is to be blamed for a forward', () => {
    const down = { ...tunnelledHost('home') };
    down['host/addresses'] =
      '2: eno1: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n    inet 192.168.50.20/24 scope global eno1\n';
    const given = one({});
    const [first] = mendSteps({ ...given, files: { ...given.files, ...down } });
    expect(first?.trace.outcome).to.be.oneOf(['lost', 'unknown']);
    expect(first?.mend).to.equal(null);
  });

  const unseen = (given: Given) => {
    const files = { ...given.files };
    delete (files as Record<string, string>)['host/addresses'];
    return mendSteps({ ...given, files })[0]?.mend ?? null;
  };
  it('where nobody has shown the server’s end its port tells the lease', () => {
    expect(unseen(one({ port: 18215 }))?.finding).to.include({ found: 'lease', part: 'port' });
    expect(unseen(one({ until: '2026-11-20T09:00:00Z' }))?.fault).to.equal('auto-lapsed');
  });

  it('and a new one leads to an address that is still to be told', () => {
    const mend = unseen(leased([{ ...LEASE, port: 25565, to: '10.66.0.7', toPort: 25565 }]));
    expect(mend).to.include({ fault: 'fwd-none', apply: null });
    const told = mend && mendWords(mend, names).values.find((v) => v.label === 'Leads to');
    expect(told?.mended).to.equal('the server’s address in the tunnel');
  });
});
