import { expect } from 'chai';
import { printed } from '../../facts/index.ts';
import { readText } from '../recognise.ts';

/** What a text says once, by topic. */
function said(text: string, format: string): Record<string, unknown> {
  const reading = readText(text)!;
  expect(reading.format).to.equal(format);
  return Object.fromEntries(
    reading.facts.flatMap((f) => {
      const p = printed(f);
      if (p?.once) return [[p.group, p.value]];
      return f.kind === 'labelled' ? [[f.what, f.value]] : [];
    }),
  );
}

describe('connection tries from outside', () => {
  const tries: readonly (readonly [string, string, Record<string, unknown>])[] = [
    [
      'nc: TCP that was answered',
      'Connection to 203.0.113.50 8214 port [tcp/*] succeeded!\n',
      { outcome: 'success', to: '203.0.113.50:8214', protocol: 'tcp' },
    ],
    [
      'nc: refused',
      'nc: connect to 203.0.113.50 port 8214 (tcp) failed: Connection refused\n',
      { outcome: 'refused', to: '203.0.113.50:8214' },
    ],
    [
      'nc: silence',
      'nc: connect to 203.0.113.50 port 8214 (tcp) timed out: Operation now in progress\n',
      { outcome: 'timeout', to: '203.0.113.50:8214' },
    ],
    [
      'nc: an ICMP refusal',
      'nc: connect to 203.0.113.50 port 8214 (tcp) failed: No route to host\n',
      { outcome: 'ICMP administratively prohibited, shown as No route to host' },
    ],
    [
      'curl: refused',
      'curl: (7) Failed to connect to 203.0.113.50 port 8214 after 12 ms: Connection refused\n',
      { outcome: 'refused', to: '203.0.113.50:8214' },
    ],
    [
      'curl: a name that is none',
      'curl: (6) Could not resolve host: radio.example.net\n',
      { outcome: 'name not resolved' },
    ],
    [
      'psql: nothing listens',
      'psql: error: connection to server at "203.0.113.80", port 5432 failed: Connection refused\n' +
        '\tIs the server running on that host and accepting TCP/IP connections?\n',
      { outcome: 'refused', to: '203.0.113.80:5432' },
    ],
    [
      'psql: the server itself says no',
      'psql: error: connection to server at "203.0.113.80", port 5432 failed: FATAL:  no ' +
        'pg_hba.conf entry for host "198.51.100.23", user "book", database "tide", no encryption\n',
      { outcome: 'server answers: no pg_hba.conf entry', client: '198.51.100.23' },
    ],
    ['pg_isready', '203.0.113.80:5432 - no response\n', { outcome: 'no response', to: '203.0.113.80:5432' }],
    [
      'redis-cli',
      'Could not connect to Redis at 203.0.113.80:6379: Connection refused\n',
      { outcome: 'refused', to: '203.0.113.80:6379' },
    ],
    [
      'mariadb: from the network',
      "ERROR 2002 (HY000): Can't connect to server on '203.0.113.80' (115)\n",
      { outcome: 'refused' },
    ],
    [
      'mariadb: from the server',
      "ERROR 1130 (HY000): Host '198.51.100.23' is not allowed to connect to this MariaDB server\n",
      { client: '198.51.100.23' },
    ],
  ];
  for (const [title, text, expected] of tries)
    it(title, () => expect(said(text, 'connection-try')).to.deep.include(expected));

  it('a UDP success proves nothing, and is not called an answer', () =>
    expect(
      said('Connection to 203.0.113.50 28410 port [udp/*] succeeded!\n', 'connection-try')['outcome'],
    ).to.match(/proves little/));
  it('an error of the tool is no answer of the server', () => {
    const reading = readText('iptables: Operation not permitted (you must be root)\n')!;
    expect(reading.format).to.equal('tool-error');
    expect(reading.problems[0]!.why).to.have.property('is', 'no-answer-of-tool');
  });
});

describe('ways and echoes', () => {
  it('traceroute, tracepath and the Windows form tell the same hops', () => {
    const hops = ['198.51.100.1', '100.64.9.1', '203.0.113.50'];
    expect(
      said(
        'traceroute to 203.0.113.50 (203.0.113.50), 30 hops max, 60 byte packets\n' +
          ' 1  198.51.100.1  0.1 ms\n' +
          ' 2  100.64.9.1  4.0 ms\n' +
          ' 3  203.0.113.50  9.1 ms\n',
        'path-trace',
      ),
    ).to.deep.include({ hops, reached: true, carrierGradeHop: '100.64.9.1' });
    expect(
      said(
        '\n' +
          'Tracing route to radio.example.net [203.0.113.50]\n' +
          'over a maximum of 30 hops:\n' +
          '\n' +
          '  1    <1 ms    <1 ms    <1 ms  198.51.100.1\n' +
          '  2     4 ms     4 ms     4 ms  100.64.9.1\n' +
          '  3     9 ms     9 ms     9 ms  203.0.113.50\n' +
          '\n' +
          'Trace complete.\n',
        'path-trace',
      ),
    ).to.deep.include({ hops, reached: true });
  });
  it('silence after a hop is not the target', () =>
    expect(
      said(
        'traceroute to 203.0.113.50 (203.0.113.50), 30 hops max, 60 byte packets\n' +
          ' 1  198.51.100.1  0.1 ms\n' +
          ' 2  * * *\n' +
          ' 3  * * *\n',
        'path-trace',
      ),
    ).to.deep.include({ hops: ['198.51.100.1'], reached: false }));
  it('ping counts in any wording', () => {
    expect(
      said(
        'PING 203.0.113.50 (203.0.113.50) 56(84) bytes of data.\n' +
          '\n' +
          '--- 203.0.113.50 ping statistics ---\n' +
          '4 packets transmitted, 3 received, 25% packet loss, time 3004ms\n',
        'ping',
      ),
    ).to.deep.include({ sent: 4, received: 3 });
  });
});

describe('what gateways answer', () => {
  it('an IGD answer: outside address, a fault with its code, a mapping', () => {
    const soap = (body: string): string =>
      '<?xml version="1.0"?>\n' +
      '<s:Envelope xmlns:s="http://schemas.xmlsoap.org/soap/envelope/">' +
      `<s:Body>${body}</s:Body></s:Envelope>\n`;
    expect(
      said(
        soap(
          '<u:GetExternalIPAddressResponse xmlns:u="x">' +
            '<NewExternalIPAddress>100.72.14.9</NewExternalIPAddress></u:GetExternalIPAddressResponse>',
        ),
        'igd-answer',
      ),
    ).to.deep.include({ externalAddress: '100.72.14.9', action: 'GetExternalIPAddress' });
    expect(
      said(
        soap(
          '<s:Fault><detail><UPnPError><errorCode>718</errorCode><errorDescription>' +
            'ConflictInMappingEntry</errorDescription></UPnPError></detail></s:Fault>',
        ),
        'igd-answer',
      ),
    ).to.deep.include({ errorCode: 718, errorDescription: 'ConflictInMappingEntry' });
    expect(
      said(
        soap(
          '<u:GetSpecificPortMappingEntryResponse ' +
            'xmlns:u="x"><NewInternalPort>8214</NewInternalPort><NewInternalClient>' +
            '192.168.50.20</NewInternalClient><NewEnabled>1</NewEnabled>' +
            '</u:GetSpecificPortMappingEntryResponse>',
        ),
        'igd-answer',
      )['mapping'],
    ).to.include({ internalAddress: '192.168.50.20', internalPort: 8214 });
  });
  it('a NAT-PMP client: outside address and what was granted', () => {
    expect(
      said(
        'initnatpmp() returned 0 (SUCCESS)\n' +
          'using gateway : 192.168.50.1\n' +
          'Public IP address : 203.0.113.50\n' +
          'Mapped public port 28410 protocol UDP to local port 28410 liftime 3600\n',
        'nat-pmp-client',
      ),
    ).to.deep.include({
      externalAddress: '203.0.113.50',
      gateway: '192.168.50.1',
      request: { internalPort: 28410, externalPort: 28410, protocol: 'udp', lease: 3600 },
    });
  });
  it('a STUN client’s address is what the internet sees', () =>
    expect(said('0: : IPv4. UDP reflexive addr: 203.0.113.50:40110\n', 'stun-client')).to.deep.include({
      'seen-address': '203.0.113.50',
    }));
});
