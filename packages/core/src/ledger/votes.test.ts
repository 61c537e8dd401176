import { expect } from 'chai';
import { known, type Fact } from '../facts/index.ts';
import { caseFacts, singleFacts } from '../testing/index.ts';
import { votesOf } from './votes.ts';
import type { Whose } from './whose.ts';

const {
  at,
  PATH,
  DOUBLE,
  RENTED,
  MORE,
  STOPS,
  fact,
  label,
  address,
  route,
  socket,
  forward,
  STATUS,
  listed,
} = singleFacts;

type Files = Readonly<Record<string, string>>;

/** Whom a fact is of, each with whether that decides without asking, and why: `server! names`. */
function told(fact: Fact, files: Files = {}, path: readonly (typeof PATH)[number][] | typeof DOUBLE = PATH) {
  const why = (w: Whose): string =>
    Object.values(w)
      .filter((v) => v !== null)
      .join(' ');
  return votesOf(fact, caseFacts([...path], files, MORE), STOPS).map(
    (v) => `${v.stop}${v.weight >= 3 ? '!' : '?'} ${why(v.why)}`,
  );
}

describe('whose a fact is, and why', () => {
  const rows: readonly (readonly [string, Fact, readonly string[], Files?])[] = [
    ['a line for the server', label('server-address', '192.168.50.20'), ['server! names server']],
    ['a line for the client', label('client-address', '198.51.100.9'), ['client! names client']],
    ['a machine’s own setting', label('own-address', '192.168.50.1'), ['server! own-settings'], STATUS],
    [
      'a machine’s own setting that the client holds',
      label('own-address', '198.51.100.23'),
      ['client! address-of client 198.51.100.23'],
    ],
    ['a status page', label('wan-address', '203.0.113.50'), ['gateway! page Line']],
    ['the kind of a connection', label('connection-kind', 'PPPoE'), ['gateway! page Line']],
    ['what a page says besides', label('uptime', '4 days'), ['gateway? status-page']],

    ['loopback is on every machine', address('127.0.0.1'), []],
    ['so is a link-local address', address('169.254.7.7'), []],
    ['the client’s own', address('198.51.100.23'), ['client! address-of client 198.51.100.23']],
    ['the gateway’s outside', address('203.0.113.50'), ['gateway! address-of gateway 203.0.113.50'], STATUS],
    ['the gateway’s inside', address('192.168.50.1'), ['gateway! address-of gateway 192.168.50.1'], STATUS],
    [
      'an address that a stop holds',
      address('10.7.0.9'),
      ['carrier! same-address 10.7.0.9 carrier'],
      { 'carrier/a': listed('10.7.0.9/24') },
    ],
    [
      'an address that a stop leads its packets to',
      address('10.7.0.1'),
      ['gateway! default-gateway-of-other 10.7.0.1'],
      { 'server/routes': 'default via 10.7.0.1 dev eno1\n' },
    ],
    [
      'the target of a forward',
      address('10.7.0.9'),
      ['server! forward-target 10.7.0.9'],
      { 'gateway/table': 'tcp 8214 10.7.0.9 8214\nudp 28410 10.7.0.9 28410\n' },
    ],
    ['an outside address that is dialled', address('203.0.113.77'), ['gateway! dialled 203.0.113.77']],
    ['an inside address that is dialled', address('192.168.50.31'), ['server! dialled 192.168.50.31']],
    [
      'an address that a name has',
      address('203.0.113.78'),
      ['gateway! dialled 203.0.113.78'],
      { 'client/name': 'radio.example.net has address 203.0.113.78\n' },
    ],
    ['any outside address', address('203.0.113.99'), ['gateway? address-kind 203.0.113.99 true']],
    ['any inside address', address('192.168.50.99'), ['server? address-kind 192.168.50.99 false']],

    ['a listener on the service’s port', socket('0.0.0.0', 8214), ['server! listener 8214']],
    ['other listeners', socket('0.0.0.0', 53), ['server! listeners']],
    [
      'a listener on an address that the gateway has',
      socket('192.168.50.1', 53),
      ['server! listeners', 'gateway! address-of gateway 192.168.50.1'],
      STATUS,
    ],

    ['a way to an inside router', route('192.168.50.1'), ['server! gateway-kind false']],
    ['a way to an outside router', route('203.0.113.1'), ['gateway! gateway-kind true']],
    ['a route of a link', route(null), []],
    [
      'a way to the gateway’s inside address',
      route('192.168.50.1'),
      ['server! gateway-is-inside-address 192.168.50.1'],
      STATUS,
    ],
    [
      'a way to a router on a stop’s network',
      route('10.7.0.1'),
      ['gateway! gateway-in-network gateway'],
      { 'gateway/a': listed('10.7.0.9/24') },
    ],
    [
      'a way to an address that another stop holds',
      route('10.7.0.1'),
      ['server! gateway-is-inside-address 10.7.0.1'],
      { 'gateway/a': listed('10.7.0.1/24') },
    ],
    [
      'the address that a machine sends from',
      route(null, '198.51.100.23'),
      ['client! address-of client 198.51.100.23'],
    ],

    ['a forward', forward('192.168.50.20'), ['gateway! forward-table']],
    [
      'a lease',
      { kind: 'lease', at, address: '192.168.50.20', mac: null, name: null, expires: 0 },
      ['gateway! leases'],
    ],
    [
      'a name',
      { kind: 'name', at, name: 'radio.example.net', type: 'A', status: 'NOERROR', answers: [] },
      ['client! lookup'],
    ],
    [
      'forwarding that is on',
      { kind: 'setting', at, key: 'net.ipv4.ip_forward', value: '1' },
      ['gateway! forwarding true'],
    ],
    [
      'forwarding that is off',
      { kind: 'setting', at, key: 'net.ipv4.ip_forward', value: '0' },
      ['server? forwarding false'],
    ],
    ['any other setting', { kind: 'setting', at, key: 'net.ipv4.tcp_ecn', value: '1' }, []],

    [
      'rules that translate',
      fact(
        'nft',
        'table ip n {\n chain p {\n  type nat hook prerouting priority dstnat; policy accept;\n }\n}\n',
      ),
      ['gateway! translates', 'server? nothing'],
    ],
    [
      'rules for what is passed on',
      fact('nft', 'table ip n {\n chain p {\n  type filter hook forward priority 0; policy accept;\n }\n}\n'),
      ['gateway! translates', 'server? nothing'],
    ],
    [
      'rules that guard',
      fact('nft', 'table ip n {\n chain p {\n  type filter hook input priority 0; policy drop;\n }\n}\n'),
      ['server! guards'],
    ],
    ['no rules', { kind: 'nft', at, objects: [] }, ['server? nothing', 'gateway? nothing']],
    [
      'iptables that hides senders',
      fact('iptables', '*nat\n:POSTROUTING ACCEPT [0:0]\n-A POSTROUTING -o wan -j MASQUERADE\nCOMMIT\n'),
      ['gateway! translates', 'server? nothing'],
    ],
    [
      'iptables with a policy alone',
      fact('iptables', '*filter\n:INPUT DROP [0:0]\nCOMMIT\n'),
      ['server! guards'],
    ],
    [
      'iptables with nothing in it',
      fact('iptables', '*filter\n:INPUT ACCEPT [0:0]\nCOMMIT\n'),
      ['server? nothing', 'gateway? nothing'],
    ],
    [
      'iptables with one plain rule',
      fact('iptables', '*filter\n:INPUT ACCEPT [0:0]\n-A INPUT -j ACCEPT\nCOMMIT\n'),
      ['server! guards'],
    ],
    ['what can be seen on any machine', { kind: 'interface', at, name: 'eth0' }, []],
  ];
  for (const [title, of, expected, files] of rows)
    it(title, () => expect(told(of, files)).to.deep.equal(expected));

  it('the only machine of a way has its rules', () =>
    expect(
      votesOf({ kind: 'nft', at, objects: [] }, caseFacts([...RENTED], {}, MORE), {
        ...STOPS,
        gateway: 'server',
      }),
    ).to.deep.equal([{ stop: 'server', weight: 4, why: { by: 'only-machine' } }]));

  it('what a perimeter lets in is the edge’s, where the way has one', () => {
    const row: Fact = {
      kind: 'allow-row',
      at,
      group: 'allowRows',
      text: 'tcp 5432',
      value: {
        name: null,
        protocol: known('tcp'),
        ports: known('5432'),
        sources: known(['any']),
        further: known(null),
      },
    };
    expect(told(row)).to.deep.equal([]);
    expect(told(row, {}, RENTED as never)).to.deep.equal(['edge! perimeter']);
  });
});

describe('whose a fact is, of two gateways in a row', () => {
  const BOTH = {
    'outer/status': 'WAN IP 203.0.113.50\nLAN IP 192.168.1.1\n',
    'gateway/status': 'WAN IP 192.168.1.2\nLAN IP 192.168.50.1\n',
  };
  const rows: readonly (readonly [string, Fact, readonly string[], Files])[] = [
    ['a forward outward', forward('192.168.1.2'), ['outer! inside-network 192.168.1.2'], BOTH],
    ['a forward inward', forward('192.168.50.20'), ['gateway! inside-network 192.168.50.20'], BOTH],
    ['a forward elsewhere', forward('10.9.9.9'), ['outer? forward-table', 'gateway? forward-table'], BOTH],
    [
      'a forward to a network that an interface is in',
      forward('10.9.9.9'),
      ['gateway! inside-network 10.9.9.9'],
      { 'gateway/a': listed('10.9.9.1/24') },
    ],
    ['the address of one', label('wan-address', '203.0.113.50'), ['outer! holds 203.0.113.50'], BOTH],
    ['the inside of one', label('lan-address', '192.168.50.1'), ['gateway! holds 192.168.50.1'], BOTH],
    [
      'an outside address',
      label('wan-address', '203.0.113.9'),
      ['gateway! outside-kind 203.0.113.9 true'],
      {},
    ],
    [
      'a private outside address',
      label('wan-address', '192.168.1.9'),
      ['gateway! outside-kind 192.168.1.9 false'],
      {},
    ],
    ['any other line', label('uptime', '4 days'), ['outer? page Line', 'gateway? page Line'], BOTH],
  ];
  for (const [title, of, expected, files] of rows)
    it(title, () => expect(told(of, files, DOUBLE)).to.deep.equal(expected));
});
