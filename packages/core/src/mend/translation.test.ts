import { expect } from 'chai';
import { caseFacts, serverEvidence } from '../testing/index.ts';
import { parseEndpoint, parseTarget } from '../net/index.ts';
import { mendWords } from '../words/index.ts';
import { commandsOf, mendChain, sceneFrom, type MendStep } from './index.ts';

const PATH = [
  { id: 'client', role: 'client' },
  { id: 'carrier', role: 'carrier' },
  { id: 'gateway', role: 'gateway' },
  { id: 'host', role: 'host' },
];
const GATEWAY = {
  'gateway/addresses':
    '1: lo: <LOOPBACK,UP,LOWER_UP> mtu 65536 state UNKNOWN\n' +
    '    inet 127.0.0.1/8 scope host lo\n' +
    '2: wan0: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n' +
    '    inet 203.0.113.50/24 scope global wan0\n' +
    '3: lan0: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n' +
    '    inet 192.168.50.1/24 scope global lan0\n',
  'gateway/routes':
    'default via 203.0.113.1 dev wan0\n203.0.113.0/24 dev wan0 scope link\n' +
    '192.168.50.0/24 dev lan0 scope link\n',
  'gateway/forwarding': 'net.ipv4.ip_forward = 1\n',
};
const SERVER = serverEvidence('192.168.50.20/24', '192.168.50.1', ['tcp 0.0.0.0:8214 gullcast']);

/** A gateway that drops what comes to itself, with the translations that are given. */
const saved = (...rules: string[]): string =>
  '*filter\n:INPUT DROP [0:0]\n:FORWARD ACCEPT [0:0]\n:OUTPUT ACCEPT [0:0]\nCOMMIT\n' +
  '*nat\n:PREROUTING ACCEPT [0:0]\n:POSTROUTING ACCEPT [0:0]\n' +
  rules.map((r) => `-A PREROUTING ${r}\n`).join('') +
  'COMMIT\n';
const ruleset = (...rules: string[]): string =>
  'table ip nat {\n\tchain pre {\n\t\ttype nat hook prerouting priority dstnat; policy accept;\n' +
  rules.map((r) => `\t\t${r}\n`).join('') +
  '\t}\n}\n' +
  'table ip filter {\n\tchain in {\n\t\ttype filter hook input priority filter; policy drop;\n\t}\n}\n';

function chain(
  rules: string,
  server: Readonly<Record<string, string>> = SERVER,
  audience: unknown = 'anyone',
): MendStep[] {
  const facts = caseFacts(
    PATH,
    { ...server, ...GATEWAY, 'gateway/rules': rules },
    { service: { name: 'Gullcast', audience, endpoints: [{ protocol: 'tcp', port: 8214 }] } },
  );
  const target = parseTarget('203.0.113.50:8214/tcp');
  const source = parseEndpoint('198.51.100.23:40000');
  if (!target || !source) throw new Error('the test names no packet');
  const destination = { address: target.address, port: target.port };
  return mendChain(facts, sceneFrom(facts, { transport: target.transport, source, destination }));
}

/** Fault, a word of what is said, and what the mended rule says. */
const cases: readonly (readonly [string, string, string, RegExp, RegExp])[] = [
  [
    'the other protocol (iptables)',
    saved('-i wan0 -p udp -m udp --dport 8214 -j DNAT --to-destination 192.168.50.20'),
    'fwd-protocol',
    /is for UDP, and the client comes with TCP/,
    /-R PREROUTING 1 -i wan0 -p tcp -m tcp --dport 8214 -j DNAT/,
  ],
  [
    'the other protocol (nft)',
    ruleset('udp dport 8214 dnat to 192.168.50.20'),
    'fwd-protocol',
    /is for UDP/,
    /tcp dport 8214 dnat to 192\.168\.50\.20/,
  ],
  [
    'another outside port',
    saved('-p tcp -m tcp --dport 8241 -j DNAT --to-destination 192.168.50.20:8214'),
    'fwd-outside-port',
    /takes port 8241, and the client dials 8214/,
    /--dport 8214 /,
  ],
  [
    'other senders',
    ruleset('ip saddr 192.0.2.0/24 tcp dport 8214 dnat to 192.168.50.20'),
    'fwd-source',
    /is for 192\.0\.2\.0\/24, and the client is none of them/,
    /tcp dport 8214 dnat/,
  ],
  [
    'an address that is gone',
    saved('-d 203.0.113.44/32 -p tcp -m tcp --dport 8214 -j DNAT --to-destination 192.168.50.20'),
    'fwd-wan-literal',
    /is bound to 203\.0\.113\.44/,
    /-d 203\.0\.113\.50 /,
  ],
  [
    'another line',
    ruleset('iifname "wan1" tcp dport 8214 dnat to 192.168.50.20'),
    'fwd-line',
    /is bound to wan1/,
    /replace|insert/,
  ],
];

describe('a translation that takes the packet but for one thing, mended in place', () => {
  for (const [title, rules, fault, text, command] of cases)
    it(title, () => {
      const steps = chain(rules);
      const mend = steps[0]?.mend;
      expect(mend?.fault).to.equal(fault);
      if (!mend) return;
      expect(mendWords(mend, (id) => id ?? 'network').wrong).to.match(text);
      expect(commandsOf(mend).commands.join('\n')).to.match(command);
      expect(steps[1]?.trace.outcome).to.equal('answered');
    });

  const RIGHT = '-p tcp -m tcp --dport 8214 -j DNAT --to-destination 192.168.50.20';
  const more: readonly (readonly [string, string, readonly string[]])[] = [
    ['right as it is', saved(RIGHT), ['answered']],
    [
      'two parts off are another rule',
      saved('-i wan1 -p udp -m udp --dport 8214 -j DNAT --to-destination 192.168.50.20'),
      ['fwd-none at gateway', 'answered'],
    ],
    [
      'the same port of both',
      saved('-p udp -m udp --dport 8241 -j DNAT --to-destination 192.168.50.20'),
      ['fwd-none at gateway', 'answered'],
    ],
    [
      'another port to another machine',
      saved('-p tcp -m tcp --dport 8241 -j DNAT --to-destination 192.168.50.31:8214'),
      ['fwd-none at gateway', 'answered'],
    ],
    [
      'another port to another port of the server',
      saved('-p tcp -m tcp --dport 8241 -j DNAT --to-destination 192.168.50.20:8241'),
      ['fwd-none at gateway', 'answered'],
    ],
    [
      'another port that it keeps',
      saved('-p tcp -m tcp --dport 8241 -j DNAT --to-destination 192.168.50.20'),
      ['fwd-none at gateway', 'answered'],
    ],
    [
      'another port to a range that holds the service’s',
      saved('-p tcp -m tcp --dport 8241 -j DNAT --to-destination 192.168.50.20:8214-8220'),
      ['fwd-outside-port at gateway', 'answered'],
    ],
    [
      'a source translation is none',
      saved('-d 203.0.113.50/32 -p udp -m udp --dport 8214 -j ACCEPT'),
      ['fwd-none at gateway', 'answered'],
    ],
    [
      'the server’s own address where the outside one belongs',
      saved('-d 192.168.50.20/32 -p tcp -m tcp --dport 8214 -j DNAT --to-destination 192.168.50.20'),
      ['static-inside-out at gateway', 'answered'],
    ],
    [
      'another inside address there',
      saved('-d 192.168.50.31/32 -p tcp -m tcp --dport 8214 -j DNAT --to-destination 192.168.50.20'),
      ['static-inside-out at gateway', 'answered'],
    ],
    [
      'one of its own inside addresses there',
      ruleset('ip daddr 192.168.50.1 tcp dport 8214 dnat to 192.168.50.20'),
      ['static-inside-out at gateway', 'answered'],
    ],
    [
      'not for one sender that is the client’s neighbour',
      ruleset('ip saddr != 198.51.100.0/24 tcp dport 8214 dnat to 192.168.50.20'),
      ['fwd-none at gateway', 'answered'],
    ],
    [
      'the one after a rule for something else',
      ruleset('tcp dport 22 dnat to 192.168.50.31', 'udp dport 8214 dnat to 192.168.50.20'),
      ['fwd-protocol at gateway', 'answered'],
    ],
    [
      'a set of ports that misses it, and leads there',
      ruleset('tcp dport { 8213, 8215 } dnat to 192.168.50.20:8214'),
      ['fwd-outside-port at gateway', 'answered'],
    ],
    [
      'a redirect on the gateway leads nowhere else',
      saved('-p tcp -m tcp --dport 8241 -j REDIRECT --to-ports 8214'),
      ['fwd-none at gateway', 'answered'],
    ],
  ];
  for (const [title, rules, expected] of more)
    it(title, () =>
      expect(
        chain(rules).map(({ trace, mend }) => (mend ? `${mend.fault} at ${mend.stop}` : trace.outcome)),
      ).to.deep.equal(expected),
    );

  it('the senders that it has stay allowed, and the audience is added', () => {
    const [first] = chain(ruleset('ip saddr 192.0.2.0/24 tcp dport 8214 dnat to 192.168.50.20'), SERVER, [
      '198.51.100.23',
    ]);
    expect(first?.mend?.finding).to.deep.include({
      found: 'translation-near',
      now: '192.0.2.0/24',
      mended: '192.0.2.0/24, 198.51.100.23',
    });
    expect(first?.mend?.evidence.map((e) => e.line)).to.deep.equal([4]);
  });

  it('a rule for another service is left alone', () =>
    expect(
      chain(saved('-p tcp -m tcp --dport 80 -j DNAT --to-destination 192.168.50.31:80'))[0]?.mend?.fault,
    ).to.equal('fwd-none'));

  it('an inside port that the program does not listen on', () => {
    const steps = chain(saved('-p tcp -m tcp --dport 8214 -j DNAT --to-destination 192.168.50.20:8100'));
    expect(steps[0]?.mend).to.include({ fault: 'fwd-inside-port', stop: 'gateway' });
    expect(steps[1]?.trace.outcome).to.equal('answered');
  });

  for (const [near, fault] of [
    ['tcp 127.0.0.1:8214 gullcast', 'listen-loopback'],
    ['udp 0.0.0.0:8214 gullcast', 'listen-protocol'],
  ] as const)
    it(`an inside port beside ${near}: the port first, then the listener`, () => {
      const server = serverEvidence('192.168.50.20/24', '192.168.50.1', [near]);
      const to = '192.168.50.20:8100';
      const steps = chain(saved(`-p tcp -m tcp --dport 8214 -j DNAT --to-destination ${to}`), server);
      expect(steps.map((s) => s.mend?.fault)).to.deep.equal(['fwd-inside-port', fault, undefined]);
      expect(steps[2]?.trace.outcome).to.equal('answered');
    });

  it('an inside port on which its own listener is kept to itself is no wrong port', () => {
    const server = serverEvidence('192.168.50.20/24', '192.168.50.1', ['tcp 127.0.0.1:8100 gullcast']);
    const steps = chain(
      saved('-p tcp -m tcp --dport 8214 -j DNAT --to-destination 192.168.50.20:8100'),
      server,
    );
    expect(steps[0]?.mend?.fault).to.equal('listen-loopback');
  });

  it('a rule above the right one', () => {
    const steps = chain(
      saved(
        '-p tcp -m tcp --dport 8000:9000 -j DNAT --to-destination 192.168.50.31',
        '-p tcp -m tcp --dport 8214 -j DNAT --to-destination 192.168.50.20',
      ),
    );
    expect(steps[0]?.mend).to.include({ fault: 'fwd-shadowed', stop: 'gateway' });
    expect(steps[1]?.trace.outcome).to.equal('answered');
  });
});
