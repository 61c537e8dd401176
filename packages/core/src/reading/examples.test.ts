import { expect } from 'chai';
import type { Fact } from '../facts/index.ts';
import { readText } from './recognise.ts';

/** Facts without their places, for comparing. */
const plain = (facts: readonly Fact[] | undefined): object[] =>
  (facts ?? []).map(({ at: _, ...rest }) => rest);
const read = (text: string) => readText(text)!;

describe('readers recognise a text by what stands in it', () => {
  it('ip addr', () => {
    const text =
      '1: lo: <LOOPBACK,UP,LOWER_UP> mtu 65536 qdisc noqueue state UNKNOWN group default qlen 1000\n' +
      '    link/loopback 00:00:00:00:00:00 brd 00:00:00:00:00:00\n' +
      '    inet 127.0.0.1/8 scope host lo\n' +
      '       valid_lft forever preferred_lft forever\n' +
      '2: eno1@if3: <BROADCAST,MULTICAST,UP,LOWER_UP> mtu 1500 qdisc noqueue state UP group default ' +
      'qlen 1000\n' +
      '    link/ether 4a:88:7b:7a:90:6a brd ff:ff:ff:ff:ff:ff link-netnsid 0\n' +
      '    inet 192.168.50.20/24 brd 192.168.50.255 scope global eno1\n' +
      '       valid_lft forever preferred_lft forever\n' +
      '    inet6 2001:db8:50::20/64 scope global tentative\n' +
      '       valid_lft forever preferred_lft forever\n' +
      '3: eno2: <NO-CARRIER,BROADCAST,MULTICAST,UP> mtu 1500 qdisc noqueue state DOWN group default\n' +
      '    link/ether aa:89:21:69:d7:35 brd ff:ff:ff:ff:ff:ff\n';
    const reading = read(text);
    expect(reading.format).to.equal('ip-addr');
    expect(reading.problems).to.deep.equal([]);
    expect(plain(reading.facts)).to.deep.include({
      kind: 'address',
      interface: 'eno1',
      family: 4,
      address: '192.168.50.20',
      prefix: 24,
      scope: 'global',
    });
    expect(plain(reading.facts)).to.deep.include({
      kind: 'address',
      interface: 'eno1',
      family: 6,
      address: '2001:db8:50::20',
      prefix: 64,
      scope: 'global',
      unusable: true,
    });
    expect(reading.facts.find((f) => f.kind === 'interface' && f.name === 'eno2')).to.include({
      carrier: false,
      adminUp: true,
      mac: 'aa:89:21:69:d7:35',
    });
    // The place of a fact is where its words stand.
    const at = reading.facts.find((f) => f.kind === 'address' && f.address === '192.168.50.20')!.at;
    expect(text.split('\n')[at.line - 1]!.slice(at.column, at.endColumn)).to.equal('192.168.50.20');
  });

  it('ip route, with several hops and special types', () => {
    const reading = read(
      'default \n' +
        '\tnexthop via 203.0.113.49 dev eth0 weight 1\n' +
        '\tnexthop via 198.51.100.1 dev eth1 weight 1\n' +
        '10.0.0.0/8 via 192.168.50.9 dev eno1 proto static metric 20\n' +
        '192.168.50.0/24 dev eno1 proto kernel scope link src 192.168.50.20 linkdown\n' +
        'blackhole 192.0.2.0/24 \n',
    );
    expect(reading.format).to.equal('ip-route');
    expect(plain(reading.facts)).to.deep.equal([
      {
        kind: 'route',
        family: 4,
        table: 'main',
        type: 'unicast',
        to: 'default',
        hops: [
          { via: '203.0.113.49', dev: 'eth0' },
          { via: '198.51.100.1', dev: 'eth1' },
        ],
        metric: 0,
      },
      {
        kind: 'route',
        family: 4,
        table: 'main',
        type: 'unicast',
        to: '10.0.0.0/8',
        hops: [{ via: '192.168.50.9', dev: 'eno1' }],
        metric: 20,
      },
      {
        kind: 'route',
        family: 4,
        table: 'main',
        type: 'unicast',
        to: '192.168.50.0/24',
        hops: [{ via: null, dev: 'eno1' }],
        metric: 0,
        src: '192.168.50.20',
        linkDown: true,
      },
      {
        kind: 'route',
        family: 4,
        table: 'main',
        type: 'blackhole',
        to: '192.0.2.0/24',
        hops: [{ via: null, dev: null }],
        metric: 0,
      },
    ]);
    expect(reading.covers).to.deep.equal(['routes4']);
  });

  it('ss, with and without heading', () => {
    const rows =
      'udp   UNCONN 0      0            0.0.0.0:28410      0.0.0.0:*    ' +
      'users:(("lanternd",pid=12,fd=3))\n' +
      'tcp   LISTEN 0      128                *:8080             *:*    users:(("web ' +
      'server",pid=59,fd=6),("web server",pid=60,fd=6))\n' +
      'tcp   LISTEN 0      4096         [::]:22            [::]:*\n' +
      'tcp   LISTEN 0      64   127.0.0.53%lo:53      0.0.0.0:*\n';
    for (const text of [
      rows,
      `Netid State  Recv-Q Send-Q Local Address:Port  Peer Address:PortProcess\n${rows}`,
    ]) {
      const reading = read(text);
      expect(reading.format).to.equal('ss');
      expect(reading.problems).to.deep.equal([]);
      expect(
        reading.facts.map((f) =>
          f.kind === 'socket'
            ? (
                `${f.protocol} ${f.family} ${f.address} ${f.port} ${f.device ?? ''} ` +
                `${f.processes.map((p) => p.name).join('+')}`
              ).trim()
            : '',
        ),
      ).to.deep.equal([
        'udp 4 0.0.0.0 28410  lanternd',
        'tcp 0 * 8080  web server+web server',
        'tcp 6 :: 22',
        'tcp 4 127.0.0.53 53 lo',
      ]);
      expect(reading.covers).to.include.members(['sockets-tcp', 'sockets-udp']);
    }
  });

  it('an empty socket listing says that nothing listens, one of a single state does not', () => {
    const heading = 'Netid State Recv-Q Send-Q Local Address:Port Peer Address:PortProcess\n';
    expect(read(heading).covers).to.deep.equal(['sockets-tcp', 'sockets-udp']);
    expect(read(heading.replace('State ', '')).covers).to.deep.equal([]);
  });

  it('an established connection alone does not, and without a state it is no listener', () => {
    const one =
      'Recv-Q Send-Q Local Address:Port Peer Address:Port Process\n0 0 192.0.2.1:22 198.51.100.23:4000\n';
    const reading = read(one);
    expect(reading.covers).to.deep.equal([]);
    expect(reading.facts[0]).to.include({ kind: 'socket', state: 'ESTAB', peerPort: 4000 });
    expect(
      read(
        'State Recv-Q Send-Q Local Address:Port Peer Address:Port Process\n' +
          'ESTAB 0 0 192.0.2.1:22 198.51.100.23:40000\n',
      ).covers,
    ).to.deep.equal([]);
  });

  it('DHCP leases', () => {
    const reading = read(
      '1795541919 02:48:4e:00:01:31 192.168.50.31 printer-hall 01:02:48:4e:00:01:31\n' +
        '0 02:48:4e:00:00:20 192.168.50.20 * *\n' +
        'duid 00:01:00:01\n',
    );
    expect(plain(reading.facts)).to.deep.equal([
      {
        kind: 'lease',
        address: '192.168.50.31',
        mac: '02:48:4e:00:01:31',
        name: 'printer-hall',
        expires: 1795541919,
      },
      { kind: 'lease', address: '192.168.50.20', mac: '02:48:4e:00:00:20', name: null, expires: null },
    ]);
  });

  it('DNS answers: an address, an alias, no such name, no such record', () => {
    const dig = (status: string, answer: string): string =>
      '; <<>> DiG 9.18 <<>> play.example.net\n' +
      `;; ->>HEADER<<- opcode: QUERY, status: ${status}, id: 1\n` +
      '\n' +
      ';; QUESTION SECTION:\n' +
      ';play.example.net.\t\tIN\tA\n' +
      '\n' +
      `${answer}\n` +
      ';; SERVER: 198.51.100.1#53(198.51.100.1) (UDP)\n';
    expect(
      plain(read(dig('NOERROR', ';; ANSWER SECTION:\nplay.example.net.\t600\tIN\tA\t203.0.113.50\n')).facts),
    ).to.deep.equal([
      {
        kind: 'name',
        name: 'play.example.net',
        type: 'A',
        status: 'NOERROR',
        answers: ['203.0.113.50'],
        ttl: 600,
        server: '198.51.100.1',
      },
    ]);
    expect(
      read(dig('NXDOMAIN', ';; AUTHORITY SECTION:\nexample.net. 60 IN SOA a. b. 1 2 3 4 5\n')).facts[0],
    ).to.include({ status: 'NXDOMAIN' });
    expect(read(dig('NOERROR', '')).facts[0]).to.deep.include({ status: 'NOERROR', answers: [] });
    // A refused question for another type does not take the address back.
    expect(
      plain(
        read('play.example.net has address 203.0.113.50\nHost play.example.net not found: 5(REFUSED)\n')
          .facts,
      ),
    ).to.deep.equal([
      { kind: 'name', name: 'play.example.net', type: 'A', status: 'NOERROR', answers: ['203.0.113.50'] },
    ]);
  });

  it('labelled values, from a page or typed', () => {
    const label = (text: string): string =>
      read(text)
        .facts.map((f) => (f.kind === 'labelled' ? `${f.what} ${f.value}` : f.kind))
        .join(' | ');
    expect(label('WAN IP 100.72.14.9')).to.equal('wan-address 100.72.14.9');
    expect(label('gateway WAN is 100.72.14.9')).to.equal('wan-address 100.72.14.9');
    expect(label('server 192.168.50.20')).to.equal('server-address 192.168.50.20');
    expect(label('seen from outside: 203.0.113.77')).to.equal('seen-address 203.0.113.77');
    expect(label('client is 198.51.100.23')).to.equal('client-address 198.51.100.23');
    expect(
      label(
        'Internet\n' +
          'WAN IP\t203.0.113.50\n' +
          'Subnet mask\t255.255.255.0\n' +
          'Default gateway\t203.0.113.49\n' +
          'Uptime: 3 days\n' +
          'Home network\n' +
          'LAN IP\t192.168.50.1',
      ),
    ).to.equal(
      'wan-address 203.0.113.50 | other 255.255.255.0 | default-gateway 203.0.113.49 | uptime 3 ' +
        'days | lan-address 192.168.50.1',
    );
  });
});
