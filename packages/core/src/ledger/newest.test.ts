import { expect } from 'chai';
import { strToU8 } from 'fflate';
import { checkCaseDocument } from '../case/index.ts';
import { readCase } from './caseFacts.ts';
import { buildSite } from '../model/index.ts';
import { type InterfaceAddress, listedPolicy } from '../site/index.ts';

const PATH = [
  { id: 'client', role: 'client' as const },
  { id: 'host', role: 'host' as const },
];
const LO =
  '1: lo: <LOOPBACK,UP,LOWER_UP> mtu 65536 state UNKNOWN\n' +
  '    inet 127.0.0.1/8 scope host lo\n' +
  '    inet6 ::1/128 scope host\n';
const ENO = (...addresses: string[]) =>
  '2: eno1: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n' +
  `${addresses.map((a) => `    ${a.includes(':') ? 'inet6' : 'inet'} ${a} scope global eno1\n`).join('')}`;
const SS = (...rows: string[]) =>
  'Netid State Recv-Q Send-Q Local Address:Port Peer Address:PortProcess\n' +
  `${rows.map((r) => `${r} 0.0.0.0:* users:(("gullcast",pid=7,fd=3))\n`).join('')}`;

const lastOf = ({ address, prefixLength }: InterfaceAddress): string =>
  address.family === 4 ? `${address.bits & 255n}` : `6/${prefixLength}`;

/** Pieces of evidence of the server, each with its minute; the order in the case is the order here. */
function host(...pieces: readonly (readonly [minute: number | null, text: string])[]) {
  const document = checkCaseDocument({
    format: 'bright-ferry-case',
    version: 1,
    title: 't',
    path: PATH,
    evidence: pieces.map(([minute], i) => ({
      stop: 'host',
      file: `evidence/host/${i}.txt`,
      whole: true,
      ...(minute === null ? {} : { at: `2026-11-01T10:${String(minute).padStart(2, '0')}:00Z` }),
    })),
  });
  const machine = buildSite(
    readCase({
      document,
      files: new Map(pieces.map(([, text], i) => [`evidence/host/${i}.txt`, strToU8(text)])),
    }),
  ).machines.find((m) => m.id === 'host')!;
  return {
    sockets: machine.sockets?.map((s) => `${s.transport} ${s.port}`).join(' '),
    routes: machine.routes[4]
      ?.map((r) => `${r.table}:${r.destination.length}>${r.hops[0]?.device}`)
      .join(' '),
    addresses: machine.interfaces?.map((i) => `${i.name} ${i.addresses.map(lastOf).join(',')}`).join('; '),
    policy: listedPolicy(machine, 4)
      .map((p) => p.priority)
      .join(' '),
  };
}

describe('the newest listing stands', () => {
  it('a program that was started since listens, one that was stopped does not', () => {
    const before = SS('tcp LISTEN 0 16 0.0.0.0:22');
    const after = SS('tcp LISTEN 0 16 0.0.0.0:8214');
    expect(host([1, before], [2, after]).sockets).to.equal('tcp 8214');
    expect(host([2, after], [1, before]).sockets, 'by time, not by place in the case').to.equal('tcp 8214');
    expect(host([null, before], [null, after]).sockets, 'without times the later in the case').to.equal(
      'tcp 8214',
    );
  });

  it('one listing of TCP and one of UDP add up', () => {
    expect(
      host(
        [1, SS('tcp LISTEN 0 16 0.0.0.0:8214')],
        [2, SS('udp UNCONN 0 0 0.0.0.0:28410').replace('Netid ', '').replace('udp ', '')],
      ).sockets,
    ).to.equal('tcp 8214 udp 28410');
  });

  it('the same command twice in one paste: the second run stands', () => {
    expect(
      host([
        1,
        'anna@heron:~$ ss -tlpn\n' +
          `${SS('tcp LISTEN 0 16 127.0.0.1:8214')}anna@heron:~$ sudo systemctl restart gullcast\n` +
          'anna@heron:~$ ss -tlpn\n' +
          `${SS('tcp LISTEN 0 16 0.0.0.0:8214')}`,
      ]).sockets,
    ).to.equal('tcp 8214');
  });

  it('a route that is gone is gone; tables that were not listed again stay', () => {
    const tables =
      'default via 192.168.50.1 dev eno1\n' +
      '192.168.50.0/24 dev eno1 scope link\n' +
      'default via 10.8.0.1 dev tun0 table 142\n' +
      'local 192.168.50.20 dev eno1 table local scope host\n';
    expect(
      host([1, tables], [2, 'default via 192.168.50.1 dev eno2\n192.168.50.0/24 dev eno2 scope link\n'])
        .routes,
    ).to.equal('142:0>tun0 local:32>eno1 main:0>eno2 main:24>eno2');
    expect(host([1, 'default via 192.168.50.9 dev eno9\n'], [2, tables]).routes).to.equal(
      'main:0>eno1 main:24>eno1 142:0>tun0 local:32>eno1',
    );
  });

  it('an address that was changed is not kept beside the new one', () => {
    expect(host([1, LO + ENO('192.168.50.20/24')], [2, LO + ENO('192.168.50.31/24')]).addresses).to.equal(
      'lo 1,6/128; eno1 31',
    );
  });

  it(
    'an interface that a whole listing no longer shows is gone; a listing of one interface says ' +
      'nothing about the others',
    () => {
      const wg =
        '3: wg0: <POINTOPOINT,NOARP,UP,LOWER_UP> mtu 1420 state UNKNOWN\n' +
        '    inet 10.8.0.2/24 scope global wg0\n';
      expect(
        host([1, LO + ENO('192.168.50.20/24') + wg], [2, LO + ENO('192.168.50.20/24')]).addresses,
      ).to.equal('lo 1,6/128; eno1 20');
      expect(host([1, LO + ENO('192.168.50.20/24') + wg], [2, ENO('192.168.50.31/24')]).addresses).to.equal(
        'lo 1,6/128; eno1 31; wg0 2',
      );
    },
  );

  it('a listing of IPv4 alone does not take IPv6 away', () => {
    expect(
      host(
        [1, LO + ENO('192.168.50.20/24', '2001:db8:50::20/64')],
        [2, LO.replace(/ {4}inet6.*\n/, '') + ENO('192.168.50.31/24')],
      ).addresses,
    ).to.equal('lo 6/128,1; eno1 6/64,31');
  });

  it('routing rules are replaced as a whole', () => {
    expect(
      host(
        [
          1,
          '0:\tfrom all lookup local\n' +
            '100:\tfrom all lookup 142\n' +
            '32766:\tfrom all lookup main\n' +
            '32767:\tfrom all lookup default\n',
        ],
        [2, '0:\tfrom all lookup local\n32766:\tfrom all lookup main\n32767:\tfrom all lookup default\n'],
      ).policy,
    ).to.equal('0 32766 32767');
  });
});
