import { expect } from 'chai';
import { readText } from '../recognise.ts';

/** What a try came to, where it went and, if the server said so, who it was for the server. */
const said = (text: string): Record<string, unknown> => {
  const out: Record<string, unknown> = {};
  const reading = readText(text);
  expect(reading?.format, text).to.equal('connection-try');
  for (const f of reading?.facts ?? []) {
    if (f.kind === 'noted') out[f.topic] = f.value;
    if (f.kind === 'outcome') out['outcome'] = f.value;
    if (f.kind === 'refused-client') out['client'] = f.value;
  }
  return out;
};
const outcome = (text: string): unknown => {
  return said(text)['outcome'];
};

describe('tries from outside, in the words of the program that tried', () => {
  const table: readonly (readonly [string, string, string])[] = [
    [
      'nc: nobody answers',
      'nc: connect to 203.0.113.50 port 8211 (tcp) timed out: Operation now in progress\n',
      'timeout',
    ],
    ['nc: refused', 'nc: connect to 203.0.113.50 port 8211 (tcp) failed: Connection refused\n', 'refused'],
    ['nc: answered', 'Connection to 203.0.113.50 8211 port [tcp/*] succeeded!\n', 'success'],
    [
      'curl: refused',
      'curl: (7) Failed to connect to 203.0.113.50 port 8211 after 12 ms: Connection refused\n',
      'refused',
    ],
    [
      'curl: the name is not known',
      'curl: (6) Could not resolve host: plai.example.net\n',
      'name not resolved',
    ],
    [
      'psql: the network refuses',
      'psql: error: connection to server at "203.0.113.50", port 5432 failed: Connection refused\n',
      'refused',
    ],
    [
      'redis-cli: nobody answers',
      'Could not connect to Redis at 203.0.113.50:6379: Connection timed out\n',
      'timeout',
    ],
    [
      'mariadb: the number tells (errno(3))',
      "ERROR 2003 (HY000): Can't connect to MySQL server on '203.0.113.50' (111)\n",
      'refused',
    ],
  ];
  for (const [title, text, expected] of table) it(title, () => expect(outcome(text)).to.equal(expected));

  it('a server that turns somebody away has answered, and says whom it saw', () => {
    const psql = said(
      'psql: error: connection to server at "203.0.113.50", port 5432 failed: FATAL:  no ' +
        'pg_hba.conf entry for host "198.51.100.23", user "moor", database "tides", no encryption\n',
    );
    expect(psql['outcome']).to.equal('server answers: no pg_hba.conf entry');
    expect(psql['client']).to.equal('198.51.100.23');
    for (const text of [
      '(error) NOAUTH Authentication required.\n',
      '-DENIED Redis is running in protected mode\n',
    ])
      expect(JSON.stringify(said(text)), text).to.contain('server answers');
    const mariadb = said(
      "ERROR 1045 (28000): Access denied for user 'moor'@'198.51.100.23' (using password: YES)\n",
    );
    expect(JSON.stringify(mariadb)).to.contain('server answers').and.to.contain('198.51.100.23');
  });

  it('Test-NetConnection: success is an answer, failure does not tell why', () => {
    const text = (ok: string): string =>
      'ComputerName     : play.example.net\n' +
      'RemoteAddress    : 203.0.113.50\n' +
      'RemotePort       : 8211\n' +
      'InterfaceAlias   : Ethernet\n' +
      'SourceAddress    : 198.51.100.23\n' +
      `TcpTestSucceeded : ${ok}\n`;
    expect(JSON.stringify(said(text('True'))))
      .to.contain('203.0.113.50:8211')
      .and.to.match(/answered|success/);
    expect(JSON.stringify(said(text('False')))).to.not.contain('answered');
  });

  it('curl -v: the address that it connected to, and what the server said', () => {
    const text =
      '*   Trying 203.0.113.50:8080...\n' +
      '* Connected to play.example.net (203.0.113.50) port 8080 (#0)\n' +
      '> GET / HTTP/1.1\n' +
      '< HTTP/1.1 403 Forbidden\n';
    expect(JSON.stringify(said(text)))
      .to.contain('203.0.113.50:8080')
      .and.to.contain('answered');
  });
});
