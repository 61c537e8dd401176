import { expect } from 'chai';
import { parseAddress, type Address } from '../../net/index.ts';
import { outcome, run, testSite } from '../../testing/index.ts';
import type { Site } from '../../site/index.ts';
import { compileForwardTable } from './compile.ts';
import type { ForwardManner } from './manner.ts';
import type { ForwardRow } from './row.ts';

const LINES = { wan: ['wan'], lan: ['lan'] };
const at = (text: string): Address => {
  const found = parseAddress(text);
  if (!found) throw new Error(text);
  return found;
};
const row = (more: Partial<ForwardRow> = {}): ForwardRow => ({
  name: 'Gullcast',
  protocol: 'tcp',
  outside: { first: 80, last: 80 },
  insideAddress: at('192.168.50.20'),
  insideFirst: 80,
  enabled: true,
  applied: null,
  sources: null,
  doubts: [],
  source: null,
  ...more,
});

function site(rows: readonly ForwardRow[], manner: ForwardManner): Site {
  const plain = testSite({
    client: {
      role: 'client',
      interfaces: { eth0: ['198.51.100.23/24'] },
      routes: ['default via 198.51.100.1 dev eth0'],
    },
    gateway: {
      role: 'gateway',
      interfaces: { wan: ['198.51.100.1/24'], lan: ['192.168.50.1/24'] },
      sockets: ['tcp 0.0.0.0:80', 'tcp 0.0.0.0:8443'],
    },
    host: {
      interfaces: { eno1: ['192.168.50.20/24'] },
      routes: ['default via 192.168.50.1 dev eno1'],
      sockets: ['tcp 0.0.0.0:80', 'udp 0.0.0.0:53', 'tcp 0.0.0.0:8080'],
    },
    inside: {
      role: 'client',
      interfaces: { eno1: ['192.168.50.77/24'] },
      routes: ['default via 192.168.50.1 dev eno1'],
    },
  });
  const program = compileForwardTable(rows, LINES, manner);
  return {
    ...plain,
    machines: plain.machines.map((m) =>
      m.id === 'gateway' ? { ...m, program: { 4: program, 6: program } } : m,
    ),
  };
}

/** What becomes of a packet to the gateway, and what is asked about it first. */
function told(rows: readonly ForwardRow[], manner: ForwardManner, to = '80/tcp', from = '198.51.100.23') {
  const result = run(site(rows, manner), `${from}:40000`, `198.51.100.1:${to}`);
  const doubts = result.needs.map(({ need }) =>
    'doubt' in need && need.doubt ? need.doubt.doubt : need.need,
  );
  return [outcome(result), ...doubts.slice(0, 1)].join(', ');
}

describe('a plain router’s program, from what its pages leave open', () => {
  const rows: readonly (readonly [string, readonly ForwardRow[], ForwardManner, string, string?])[] = [
    ['a row', [row()], {}, 'answered at host'],
    ['a row that is off', [row({ enabled: false })], {}, 'lost at gateway'],
    ['a row that is not applied', [row({ applied: false })], {}, 'lost at gateway'],
    ['a row for UDP', [row({ protocol: 'udp' })], {}, 'lost at gateway'],
    ['a row for both, TCP', [row({ protocol: 'both' })], {}, 'answered at host'],
    [
      'a row for both, UDP',
      [row({ protocol: 'both', outside: { first: 53, last: 53 }, insideFirst: 53 })],
      {},
      'answered at host',
      '53/udp',
    ],
    ['another port inside', [row({ insideFirst: 8080 })], {}, 'answered at host'],
    [
      'a range keeps its distance',
      [row({ outside: { first: 9000, last: 9090 }, insideFirst: 8000 })],
      {},
      'answered at host',
      '9080/tcp',
    ],
    ['for the sender', [row({ sources: [{ ...at('198.51.100.0'), length: 24 }] })], {}, 'answered at host'],
    ['for others', [row({ sources: [{ ...at('192.0.2.0'), length: 24 }] })], {}, 'lost at gateway'],
    ['bound to its address', [row({ outsideAddress: at('198.51.100.1') })], {}, 'answered at host'],
    ['bound to another address', [row({ outsideAddress: at('198.51.100.2') })], {}, 'lost at gateway'],
    ['bound to its line', [row({ line: 'wan' })], {}, 'answered at host'],
    [
      'perhaps limited',
      [row({ doubts: [{ doubt: 'narrowed', text: 'evenings' }] })],
      {},
      'unknown, narrowed',
    ],
    ['nobody knows where it leads', [row({ insideAddress: null })], {}, 'unknown, not-shown'],
    [
      'nobody knows where it leads, with the reason',
      [row({ unsure: { doubt: 'word', field: 'addresses', text: 'attic' } })],
      {},
      'unknown, word',
    ],
    [
      'further rows, of which none would be above',
      [row()],
      { further: { doubt: 'exposed-host' } },
      'answered at host',
    ],
    ['further rows', [], { further: { doubt: 'exposed-host' } }, 'unknown, exposed-host'],
    ['an exposed host', [], { exposedHost: '192.168.50.20' }, 'answered at host'],
    ['an exposed host that nobody has named', [], { perhapsExposed: true }, 'unknown, exposed-host'],
    ['its own page', [], { ownPorts: [{ protocol: 'tcp', ports: 80 }] }, 'answered at gateway'],
    ['its own page for UDP', [], { ownPorts: [{ protocol: 'udp', ports: 80 }] }, 'lost at gateway'],
    [
      'its own page before an exposed host',
      [],
      { exposedHost: '192.168.50.20', ownPorts: [{ protocol: 'tcp', ports: 80 }] },
      'answered at gateway',
    ],
    [
      'its own page for UDP beside an exposed host',
      [],
      { exposedHost: '192.168.50.20', ownPorts: [{ protocol: 'udp', ports: 80 }] },
      'answered at host',
    ],
    ['its own ports are not known', [], { ownPortsOpen: true }, 'unknown, firewall-answers'],
    [
      'a port that it perhaps has',
      [],
      { perhapsOwn: [{ first: 80, last: 80 }] },
      'unknown, firewall-answers',
    ],
    ['another port that it perhaps has', [], { perhapsOwn: [{ first: 81, last: 81 }] }, 'lost at gateway'],
    ['no port that it perhaps has', [], { perhapsOwn: [] }, 'lost at gateway'],
  ];
  for (const [title, list, manner, expected, to] of rows)
    it(title, () => expect(told(list, manner, to)).to.equal(expected));

  const INSIDE = '192.168.50.77';
  const within: readonly (readonly [string, ForwardManner, string])[] = [
    ['turned round', { hairpin: true }, 'answered at host'],
    // What no row takes from inside is the router's own.
    ['not turned round', { hairpin: false }, 'answered at gateway'],
    ['nobody knows', {}, 'unknown, hairpin'],
  ];
  for (const [title, manner, expected] of within)
    it(`an inside machine dials the outside address: ${title}`, () =>
      expect(told([row()], manner, '80/tcp', INSIDE)).to.equal(expected));

  it('rows that nobody has seen concern inside machines as well, where they are turned round', () => {
    const further = { doubt: 'exposed-host' } as const;
    expect(told([], { further, hairpin: true }, '80/tcp', INSIDE)).to.equal('unknown, exposed-host');
    expect(told([], { further, hairpin: false }, '80/tcp', INSIDE)).to.equal('answered at gateway');
  });
});
