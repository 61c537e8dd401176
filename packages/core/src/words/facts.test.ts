import { expect } from 'chai';
import { known, plainForward, type Fact } from '../facts/index.ts';
import { factText } from './facts.ts';

const at = { line: 1 };

describe('facts as a label and a value', () => {
  const rows: readonly (readonly [Fact, label: string, value: string])[] = [
    [{ kind: 'interface', at, name: 'eno1' }, 'Interface eno1', 'up'],
    [{ kind: 'interface', at, name: 'eno1', adminUp: false }, 'Interface eno1', 'switched off'],
    [{ kind: 'interface', at, name: 'eno1', carrier: false }, 'Interface eno1', 'no link'],
    [
      { kind: 'address', at, interface: 'eno1', family: 4, address: '192.168.50.20', prefix: 24 },
      'Address on eno1',
      '192.168.50.20 /24',
    ],
    [
      { kind: 'address', at, interface: 'wan', family: 4, address: '100.72.14.9', prefix: 32 },
      'Address on wan',
      '100.72.14.9 (shared by the carrier, RFC 6598) /32',
    ],
    [
      {
        kind: 'route',
        at,
        family: 4,
        table: 'main',
        type: 'unicast',
        to: 'default',
        hops: [{ via: '192.168.50.1', dev: 'eno1' }],
        metric: 0,
      },
      'Default route',
      'via 192.168.50.1 by eno1',
    ],
    [
      {
        kind: 'route',
        at,
        family: 4,
        table: 'main',
        type: 'blackhole',
        to: '10.0.0.0/8',
        hops: [{ via: null, dev: null }],
        metric: 0,
      },
      'Route to 10.0.0.0/8',
      'blackhole ',
    ],
    [
      {
        kind: 'policy',
        at,
        family: 4,
        priority: 100,
        from: '192.168.50.0/24',
        to: '10.0.0.0/8',
        action: 'lookup',
        table: 'vpn',
      },
      'Routing rule 100',
      'from 192.168.50.0/24 to 10.0.0.0/8 lookup vpn',
    ],
    [
      {
        kind: 'neighbour',
        at,
        address: '192.168.50.9',
        dev: 'eno1',
        mac: '02:00:00:00:00:09',
        states: ['STALE'],
      },
      'Neighbour',
      '192.168.50.9 02:00:00:00:00:09',
    ],
    [
      { kind: 'neighbour', at, address: '192.168.50.9', dev: 'eno1', mac: null, states: ['FAILED'] },
      'Neighbour',
      '192.168.50.9 failed',
    ],
    [
      {
        kind: 'socket',
        at,
        protocol: 'tcp',
        family: 4,
        address: '0.0.0.0',
        port: 8214,
        state: 'LISTEN',
        processes: [{ name: 'gullcast' }],
      },
      'Listens',
      'tcp 0.0.0.0:8214 · gullcast',
    ],
    [
      {
        kind: 'socket',
        at,
        protocol: 'tcp',
        family: 4,
        address: '192.168.50.20',
        port: 8214,
        state: 'ESTAB',
        processes: [],
      },
      'Socket (estab)',
      'tcp 192.168.50.20:8214',
    ],
    [{ kind: 'setting', at, key: 'net.ipv4.ip_forward', value: '1' }, 'net.ipv4.ip_forward', '1'],
    [
      { kind: 'lease', at, address: '192.168.50.20', mac: '02:00:00:00:00:20', name: 'heron', expires: 0 },
      'Lease heron',
      '192.168.50.20 02:00:00:00:00:20',
    ],
    [
      { kind: 'lease', at, address: '192.168.50.20', mac: null, name: null, expires: 0 },
      'Lease',
      '192.168.50.20',
    ],
    [
      {
        ...plainForward(at, 'both', [{ first: 28410, last: 28415 }], '192.168.50.20'),
        name: 'Tide',
        enabled: known(false),
        applied: false,
        sources: known(['198.51.100.0/24']),
      },
      'Forward Tide',
      'tcp+udp 28410-28415 → 192.168.50.20:28410 (off) (not applied) for 198.51.100.0/24',
    ],
    [
      { kind: 'labelled', at, what: 'wan-address', label: 'WAN IP', value: '203.0.113.50' },
      'WAN IP',
      '203.0.113.50 (public)',
    ],
    [
      { kind: 'name', at, name: 'play.example.net', type: 'A', status: 'NOERROR', answers: [] },
      'play.example.net A',
      'no such record',
    ],
    [
      { kind: 'name', at, name: 'play.example.net', type: 'A', status: 'NXDOMAIN', answers: [] },
      'play.example.net A',
      'NXDOMAIN',
    ],
    [
      {
        kind: 'name',
        at,
        name: 'play.example.net',
        type: 'A',
        status: 'NOERROR',
        answers: ['203.0.113.50', '192.168.1.1'],
      },
      'play.example.net A',
      '203.0.113.50 (public), 192.168.1.1',
    ],
    [{ kind: 'noted', at, topic: 'captureFile', once: true, value: 1, text: 'pcap' }, 'Capture file', 'pcap'],
    [
      { kind: 'noted', at, topic: 'localAddress', once: true, value: 1, text: '192.168.50.20' },
      'Own address',
      '192.168.50.20',
    ],
    [{ kind: 'nft', at, objects: [] }, 'Packet filter (nft)', '0 rules in 0 chains'],
    [
      { kind: 'iptables', at, family: 6, tables: [] },
      'Packet filter (iptables, IPv6)',
      '0 rules in 0 tables',
    ],
    [
      {
        kind: 'allow-row',
        at,
        group: 'allowRows',
        text: 'tcp 5432 from anyone',
        value: {
          name: null,
          protocol: known('tcp'),
          ports: known('5432'),
          sources: known(['any']),
          further: known(null),
        },
      },
      'Lets in',
      'tcp 5432 from anyone',
    ],
  ];
  for (const [fact, label, value] of rows)
    it(`${fact.kind}: ${label}`, () => expect(factText(fact)).to.deep.equal({ label, value }));
});
