import { expect } from 'chai';
import { caseFacts, serverEvidence } from '../testing/index.ts';
import { parseEndpoint, parseTarget } from '../net/index.ts';
import { mendWords } from '../words/index.ts';
import { commandsOf, mendChain, sceneFrom, type MendStep } from './index.ts';

const CLIENT = { id: 'client', role: 'client' };
const CARRIER = { id: 'carrier', role: 'carrier' };
const GATEWAY = { id: 'gateway', role: 'gateway' };
const HOST = { id: 'host', role: 'host' };
const ROUTER_PATH = [CLIENT, CARRIER, GATEWAY, HOST];

const STATUS = 'WAN IP 203.0.113.50\nLAN IP 192.168.50.1\n';
const SERVER = serverEvidence('192.168.50.20/24', '192.168.50.1', ['tcp 0.0.0.0:8214 gullcast']);
const WHOLE = { ...SERVER, 'gateway/status': STATUS, 'gateway/forwards': 'tcp 8214 192.168.50.20 8214\n' };

interface Given {
  readonly files: Readonly<Record<string, string>>;
  readonly to?: string;
  readonly from?: string;
  readonly path?: readonly { readonly id: string; readonly role: string }[];
  readonly audience?: unknown;
}

function chain({
  files,
  to = '203.0.113.50:8214/tcp',
  from = '198.51.100.23:40000',
  ...more
}: Given): MendStep[] {
  const { path = ROUTER_PATH, audience = 'anyone' } = more;
  const facts = caseFacts(path, files, {
    service: { name: 'Gullcast', kind: 'media', audience, endpoints: [{ protocol: 'tcp', port: 8214 }] },
  });
  const target = parseTarget(to);
  const source = parseEndpoint(from);
  if (!target || !source) throw new Error('the test names no packet');
  const destination = { address: target.address, port: target.port };
  return mendChain(facts, sceneFrom(facts, { transport: target.transport, source, destination }));
}

const names = (id: string | null): string => id ?? 'network';
const told = (steps: readonly MendStep[]): string[] =>
  steps.map(({ trace, mend }) => (mend ? `${mend.fault} at ${mend.stop}` : trace.outcome));

describe('mends of a router’s table', () => {
  const cases: readonly (readonly [string, Given, readonly string[]])[] = [
    ['nothing to mend', { files: WHOLE }, ['answered']],
    [
      'no forward',
      { files: { ...WHOLE, 'gateway/forwards': 'udp 28410 192.168.50.20 28410\n' } },
      ['fwd-none at gateway', 'answered'],
    ],
    [
      'the other protocol',
      { files: { ...WHOLE, 'gateway/forwards': 'udp 8214 192.168.50.20 8214\n' } },
      ['fwd-protocol at gateway', 'answered'],
    ],
    [
      'another outside port',
      {
        files: {
          ...WHOLE,
          'gateway/forwards':
            'Protocol\tOutside port\tInside address\tInside port\nTCP\t8299\t192.168.50.20\t8214\n',
        },
      },
      ['fwd-outside-port at gateway', 'answered'],
    ],
    [
      'one digit off in the target',
      { files: { ...WHOLE, 'gateway/forwards': 'tcp 8214 192.168.50.21 8214\n' } },
      ['fwd-target-typo at gateway', 'answered'],
    ],
    [
      'an inside address dialled from outside',
      { files: WHOLE, to: '192.168.50.20:8214/tcp' },
      ['dial-private at client', 'answered'],
    ],
    [
      'an outside address that was another before',
      { files: WHOLE, to: '203.0.113.77:8214/tcp' },
      ['wan-changed at client', 'answered'],
    ],
    [
      'a name that still points to the address from before',
      {
        files: { ...WHOLE, 'client/name': 'radio.example.net has address 203.0.113.77\n' },
        to: '203.0.113.77:8214/tcp',
      },
      ['name-stale at client', 'answered'],
    ],
    [
      'two faults in a row',
      {
        files: {
          ...WHOLE,
          'gateway/forwards': 'udp 28410 192.168.50.20 28410\n',
          ...serverEvidence('192.168.50.20/24', '192.168.50.1', ['tcp 127.0.0.1:8214 gullcast']),
        },
      },
      ['fwd-none at gateway', 'listen-loopback at host', 'answered'],
    ],
    [
      'the carrier shares the address',
      {
        files: {
          ...WHOLE,
          'gateway/status': 'WAN IP 100.72.14.9\nLAN IP 192.168.50.1\n',
          'gateway/seen': 'seen from outside 203.0.113.50\n',
        },
      },
      ['carrier-shared at carrier', 'answered'],
    ],
  ];
  for (const [title, given, expected] of cases)
    it(title, () => expect(told(chain(given))).to.deep.equal(expected));
});

describe('mends of a listener', () => {
  const sockets = (...list: string[]): Given => ({
    files: { ...WHOLE, ...serverEvidence('192.168.50.20/24', '192.168.50.1', list) },
  });
  for (const [title, given, fault, change] of [
    ['nothing runs', sockets(), 'listen-none', ['Listens on', 'nothing', 'tcp 192.168.50.20:8214']],
    [
      'loopback alone',
      sockets('tcp 127.0.0.1:8214 gullcast'),
      'listen-loopback',
      ['Listen address', '127.0.0.1', '192.168.50.20'],
    ],
    [
      'another address of the machine',
      sockets('tcp 192.168.50.29:8214 gullcast'),
      'listen-address',
      ['Listen address', '192.168.50.29', '192.168.50.20'],
    ],
    [
      'the other protocol',
      sockets('udp 0.0.0.0:8214 gullcast'),
      'listen-protocol',
      ['Protocol', 'UDP', 'TCP'],
    ],
  ] as const)
    it(title, () => {
      const [first, second] = chain(given);
      expect(first?.mend?.fault).to.equal(fault);
      expect(second?.trace.outcome).to.equal('answered');
      const [value] = first?.mend ? mendWords(first.mend, names).values : [];
      expect([value?.label, value?.now, value?.mended]).to.deep.equal(change);
    });
});

/** A rented machine: the client dials it directly, so that its own rules decide. */
const DIRECT: Given = {
  path: [CLIENT, CARRIER, HOST],
  to: '203.0.113.80:8214/tcp',
  files: {},
};
const direct = (rules: string, more: Record<string, string> = {}): Given => ({
  ...DIRECT,
  files: {
    ...serverEvidence('203.0.113.80/24', '203.0.113.1', ['tcp 0.0.0.0:8214 gullcast'], rules),
    ...more,
  },
});
const nft = (rules: string, policy = 'drop', handle = ''): string =>
  'table inet guard {\n' +
  '\tchain input {\n' +
  `\t\ttype filter hook input priority filter; policy ${policy};\n` +
  `\t\t${rules}${handle}\n` +
  '\t}\n' +
  '}\n';
const SAVED = (rules: string): Record<string, string> => ({
  'host/rules': `*filter\n:INPUT DROP [0:0]\n:FORWARD DROP [0:0]\n:OUTPUT ACCEPT [0:0]\n${rules}COMMIT\n`,
});

describe('mends of a packet filter, in its own syntax', () => {
  for (const [title, given, fault, commands] of [
    [
      'nft: nothing lets it in',
      direct(nft('tcp dport 22 accept')),
      'host-drop',
      ['nft insert rule inet guard input tcp dport 8214 accept comment bright-ferry-tcp-8214'],
    ],
    [
      'nft: above the rule that ends it, by its handle',
      direct(nft('tcp dport 8214 drop', 'accept', ' # handle 7')),
      'host-block-wins',
      ['nft insert rule inet guard input handle 7 tcp dport 8214 accept comment bright-ferry-tcp-8214'],
    ],
    [
      'nft: for the audience alone',
      { ...direct(nft('tcp dport 22 accept')), audience: ['198.51.100.0/24', '192.0.2.7'] },
      'host-drop',
      [
        'nft insert rule inet guard input ip saddr { 198.51.100.0/24, 192.0.2.7 } tcp dport 8214 ' +
          'accept comment bright-ferry-tcp-8214',
      ],
    ],
    [
      'nft: one digit off in the source is put right where it stands',
      direct(nft('ip saddr 198.51.100.33 tcp dport 8214 accept', 'drop', ' # handle 9')),
      'host-scope',
      [
        'nft replace rule inet guard input handle 9 ip saddr 198.51.100.23 tcp dport 8214 accept ' +
          'comment bright-ferry-tcp-8214',
      ],
    ],
    [
      'iptables: nothing lets it in',
      direct('', SAVED('-A INPUT -p tcp -m tcp --dport 22 -j ACCEPT\n')),
      'host-drop',
      ['iptables -t filter -I INPUT -p tcp --dport 8214 -j ACCEPT'],
    ],
    [
      'iptables: above the rule that ends it, by its number',
      direct('', SAVED('-A INPUT -i lo -j ACCEPT\n-A INPUT -p tcp -m tcp --dport 8214 -j DROP\n')),
      'host-block-wins',
      ['iptables -t filter -I INPUT 2 -p tcp --dport 8214 -j ACCEPT'],
    ],
    [
      'iptables: one digit off in the source is put right at its number',
      direct(
        '',
        SAVED(
          '-A INPUT -i lo -j ACCEPT\n' +
            '-A INPUT -s 198.51.100.33/32 -p tcp -m tcp --dport 8214 -m comment --comment "it\'s $(date)" ' +
            '-j ACCEPT\n',
        ),
      ),
      'host-scope',
      [
        'iptables -t filter -R INPUT 2 -s 198.51.100.23 -p tcp -m tcp --dport 8214 -m comment ' +
          "--comment 'it'\\''s $(date)' -j ACCEPT",
      ],
    ],
  ] as const)
    it(title, () => {
      const [first, second] = chain(given);
      expect(first?.mend?.fault).to.equal(fault);
      expect(first?.mend && commandsOf(first.mend).commands).to.deep.equal(commands);
      expect(second?.trace.outcome).to.equal('answered');
    });
});

/** A Linux gateway with evidence of its own filter. */
const linuxGateway = (rules: Record<string, string>): Given => ({
  files: {
    ...SERVER,
    'gateway/addresses':
      '1: lo: <LOOPBACK,UP,LOWER_UP> mtu 65536 state UNKNOWN\n' +
      '    inet 127.0.0.1/8 scope host lo\n' +
      '2: wan: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n' +
      '    inet 203.0.113.50/24 scope global wan\n' +
      '3: lan: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n' +
      '    inet 192.168.50.1/24 scope global lan\n',
    'gateway/routes':
      'default via 203.0.113.1 dev wan\n203.0.113.0/24 dev wan scope link\n192.168.50.0/24 dev lan scope link\n',
    'gateway/settings':
      'net.ipv4.ip_forward = 1\n' +
      'net.ipv4.conf.all.rp_filter = 0\n' +
      'net.ipv4.conf.wan.rp_filter = 0\n' +
      'net.ipv4.conf.lan.rp_filter = 0\n',
    'gateway/sockets': 'Netid State Recv-Q Send-Q Local Address:Port Peer Address:PortProcess\n',
    ...rules,
  },
});

describe('mends of a gateway’s packet filter', () => {
  it('nft without a translation chain: table and chain are made first', () => {
    const [first, second] = chain(
      linuxGateway({
        'gateway/rules':
          'table inet guard {\n' +
          '\tchain forward {\n' +
          '\t\ttype filter hook forward priority filter; policy accept;\n' +
          '\t}\n' +
          '}\n',
      }),
    );
    expect(first?.mend && commandsOf(first.mend).commands).to.deep.equal([
      'nft add table ip nat',
      "nft add chain ip nat prerouting '{ type nat hook prerouting priority dstnat; }'",
      'nft add rule ip nat prerouting ip daddr 203.0.113.50 tcp dport 8214 dnat to 192.168.50.20',
    ]);
    expect(second?.trace.outcome).to.equal('answered');
  });

  it('iptables: the translation in its own words', () => {
    const [first, second] = chain(
      linuxGateway({
        'gateway/rules':
          '*nat\n' +
          ':PREROUTING ACCEPT [0:0]\n' +
          ':INPUT ACCEPT [0:0]\n' +
          ':OUTPUT ACCEPT [0:0]\n' +
          ':POSTROUTING ACCEPT [0:0]\n' +
          'COMMIT\n' +
          '*filter\n' +
          ':INPUT ACCEPT [0:0]\n' +
          ':FORWARD ACCEPT [0:0]\n' +
          ':OUTPUT ACCEPT [0:0]\n' +
          'COMMIT\n',
      }),
    );
    expect(first?.mend && commandsOf(first.mend).commands).to.deep.equal([
      'iptables -t nat -I PREROUTING -d 203.0.113.50 -p tcp --dport 8214 -j DNAT --to-destination 192.168.50.20',
    ]);
    expect(second?.trace.outcome).to.equal('answered');
  });

  it('forwarding is off: the setting, and the command for it', () => {
    const given = linuxGateway({
      'gateway/rules':
        'table ip nat {\n' +
        '\tchain pre {\n' +
        '\t\ttype nat hook prerouting priority dstnat; policy accept;\n' +
        '\t\ttcp dport 8214 dnat to 192.168.50.20\n' +
        '\t}\n' +
        '}\n',
    });
    const [first, second] = chain({
      files: {
        ...given.files,
        'gateway/settings':
          'net.ipv4.ip_forward = 0\n' +
          'net.ipv4.conf.all.rp_filter = 0\n' +
          'net.ipv4.conf.wan.rp_filter = 0\n' +
          'net.ipv4.conf.lan.rp_filter = 0\n',
      },
    });
    expect(first?.mend?.fault).to.equal('forwarding-off');
    expect(first?.mend && commandsOf(first.mend).commands).to.deep.equal(['sysctl -w net.ipv4.ip_forward=1']);
    expect(second?.trace.outcome).to.equal('answered');
  });
});

describe('mends of a server’s way out', () => {
  it('no default gateway: the gateway’s inside address, on the server’s interface', () => {
    const [first, second] = chain({
      files: { ...WHOLE, 'host/routes': '192.168.50.0/24 dev eno1 scope link\n' },
    });
    expect(first?.mend?.fault).to.equal('host-no-gateway');
    expect(first?.mend && commandsOf(first.mend).commands).to.deep.equal([
      'ip route add default via 192.168.50.1 dev eno1',
    ]);
    expect(second?.trace.outcome).to.equal('answered');
  });

  it('a strict reverse-path check: made loose on the interface', () => {
    const [first, second] = chain({
      files: {
        ...WHOLE,
        'host/addresses':
          '1: lo: <LOOPBACK,UP,LOWER_UP> mtu 65536 state UNKNOWN\n' +
          '    inet 127.0.0.1/8 scope host lo\n' +
          '2: eno1: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n' +
          '    inet 192.168.50.20/24 scope global eno1\n' +
          '3: eno2: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n' +
          '    inet 192.168.50.22/24 scope global eno2\n',
        'host/routes':
          'default via 192.168.50.1 dev eno2\n' +
          '192.168.50.0/24 dev eno1 scope link\n' +
          '192.168.50.0/24 dev eno2 scope link\n',
        'host/settings': 'net.ipv4.conf.all.rp_filter = 1\nnet.ipv4.conf.eno1.rp_filter = 1\n',
      },
    });
    expect(first?.mend?.fault).to.equal('host-rpfilter');
    expect(first?.mend && commandsOf(first.mend).commands).to.deep.equal([
      'sysctl -w net.ipv4.conf.eno1.rp_filter=2',
    ]);
    expect(second?.trace.outcome).to.equal('answered');
  });
});

describe('the words of mends', () => {
  it('say what is wrong, what to do, where, and what it opens, without holes', () => {
    const all = [
      WHOLE,
      { ...WHOLE, 'gateway/forwards': 'tcp 8214 192.168.50.21 8214\n' },
      { ...WHOLE, 'gateway/forwards': 'udp 1 192.168.50.20 1\n' },
    ].flatMap((files) => chain({ files }));
    for (const { mend } of all) {
      if (!mend) continue;
      const { wrong, title, where, opens, values } = mendWords(mend, names);
      for (const text of [wrong, title, where, opens, ...values.map((v) => v.mended)])
        expect(text)
          .to.match(/\S/)
          .and.to.not.match(/undefined|null|\[object/);
    }
  });
});
