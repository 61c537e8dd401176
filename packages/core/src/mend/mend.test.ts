import { expect } from 'chai';
import { mendCases, serverEvidence } from '../testing/index.ts';
import { mendWords } from '../words/index.ts';
import { commandsOf } from './index.ts';

const { mendSteps, names, told, WHOLE } = mendCases;
type Given = mendCases.Given;

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
    it(title, () => expect(told(mendSteps(given))).to.deep.equal(expected));
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
      const [first, second] = mendSteps(given);
      expect(first?.mend?.fault).to.equal(fault);
      expect(second?.trace.outcome).to.equal('answered');
      const [value] = first?.mend ? mendWords(first.mend, names).values : [];
      expect([value?.label, value?.now, value?.mended]).to.deep.equal(change);
    });
});

describe('mends of a server’s way out', () => {
  it('no default gateway: the gateway’s inside address, on the server’s interface', () => {
    const [first, second] = mendSteps({
      files: { ...WHOLE, 'host/routes': '192.168.50.0/24 dev eno1 scope link\n' },
    });
    expect(first?.mend?.fault).to.equal('host-no-gateway');
    expect(first?.mend && commandsOf(first.mend).commands).to.deep.equal([
      'ip route add default via 192.168.50.1 dev eno1',
    ]);
    expect(second?.trace.outcome).to.equal('answered');
  });

  it('a strict reverse-path check: made loose on the interface', () => {
    const [first, second] = mendSteps({
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
    ].flatMap((files) => mendSteps({ files }));
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
