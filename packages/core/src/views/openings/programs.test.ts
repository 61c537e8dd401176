import { expect } from 'chai';
import { caseFacts, HOME, serverEvidence } from '../../testing/index.ts';
import { openingsView } from './openings.ts';

const guard = (...rules: string[]): string =>
  'table inet guard {\n\tchain input {\n\t\ttype filter hook input priority filter; policy drop;\n' +
  ['ct state established,related accept', 'iif "lo" accept', ...rules].map((r) => `\t\t${r}\n`).join('') +
  '\t}\n}\n';
const SOCKETS = [
  'tcp 0.0.0.0:8214 gullcast',
  'tcp 0.0.0.0:5432 postgres',
  'tcp 0.0.0.0:22 sshd',
  'tcp 127.0.0.1:6379 redis-server',
];
const RENTED = [
  { id: 'client', role: 'client' },
  { id: 'carrier', role: 'carrier' },
  { id: 'host', role: 'host' },
];
const SERVICE = { service: { name: 'Gullcast', endpoints: [{ protocol: 'tcp', port: 8214 }] } };
const rented = (...rules: string[]) =>
  openingsView(
    caseFacts(RENTED, serverEvidence('203.0.113.80/24', '203.0.113.1', SOCKETS, guard(...rules)), SERVICE),
    (id) => id ?? '',
  );

describe('programs, and who reaches them', () => {
  const { programs, idle } = rented(
    'tcp dport { 8214, 5432 } accept',
    'ip saddr 198.51.100.0/24 tcp dport 22 accept',
    'tcp dport 9000 accept',
    'udp dport 8214 accept',
  );

  it('what outsiders reach and nobody needs stands first', () =>
    expect(programs.map((p) => [p.program, p.outside, p.needed])).to.deep.equal([
      ['postgres', 'anyone', false],
      ['sshd', 'some', false],
      ['redis-server', 'nobody', false],
      ['gullcast', 'anyone', true],
    ]));

  it('where it listens is written as listings of sockets write it', () => {
    const sockets = [
      'tcp 0.0.0.0:22 sshd',
      'tcp [::]:22 sshd',
      'tcp [2001:db8::80]:80 nginx',
      'udp 127.0.0.1:53 dns',
    ];
    const facts = caseFacts(
      RENTED,
      serverEvidence('203.0.113.80/24', '203.0.113.1', sockets, guard()),
      SERVICE,
    );
    expect(openingsView(facts, (id) => id ?? '').programs.map((p) => p.at)).to.have.members([
      'tcp 0.0.0.0:22',
      'tcp [::]:22',
      'tcp [2001:db8::80]:80',
      'udp 127.0.0.1:53',
    ]);
  });

  it('with the row that lets them in', () => {
    expect(programs[0]?.row?.text).to.contain('8214');
    expect(programs[1]?.row?.text).to.contain('198.51.100.0/24');
    expect(programs[2]?.row).to.equal(null);
  });

  it('rows for programs that do not run, by port and by protocol', () =>
    expect(idle.map((r) => [r.row, r.ports])).to.deep.equal([
      ['tcp dport 9000 accept', '9000'],
      ['udp dport 8214 accept', '8214'],
    ]));

  it('only rows that packets to the machine itself pass are idle', () => {
    const { idle: rows } = openingsView(
      caseFacts(
        RENTED,
        serverEvidence(
          '203.0.113.80/24',
          '203.0.113.1',
          SOCKETS,
          'table inet guard {\n\tchain own {\n\t\ttcp dport 9100 accept\n\t}\n\tchain input {\n' +
            '\t\ttype filter hook input priority filter; policy drop;\n\t\tjump own\n\t}\n' +
            '\tchain forward {\n\t\ttype filter hook forward priority filter; policy drop;\n' +
            '\t\ttcp dport 9200 accept\n\t}\n\tchain output {\n' +
            '\t\ttype filter hook output priority filter; policy drop;\n\t\ttcp dport 9300 accept\n\t}\n}\n',
        ),
        SERVICE,
      ),
      (id) => id ?? '',
    );
    expect(rows.map((r) => r.ports)).to.deep.equal(['9100']);
  });

  it('where the forwards of the router are not known, anything that listens may be reached', () => {
    const rules = guard('tcp dport { 22, 8214 } accept');
    const files = serverEvidence('192.168.50.20/24', '192.168.50.1', SOCKETS, rules);
    const reach = openingsView(caseFacts(HOME, files, SERVICE), (id) => id ?? '').programs.map((p) => [
      p.program,
      p.outside,
    ]);
    expect(reach).to.deep.include(['sshd', 'perhaps']);
    expect(reach).to.deep.include(['redis-server', 'nobody']);
  });

  it('in a house also who of its own network reaches them', () => {
    const rules = guard('ip saddr 192.168.50.0/24 tcp dport { 22, 8214 } accept');
    const facts = caseFacts(
      HOME,
      serverEvidence('192.168.50.20/24', '192.168.50.1', SOCKETS, rules),
      SERVICE,
    );
    const rows = openingsView(facts, (id) => id ?? '').programs;
    expect(rows.map((p) => [p.program, p.inside])).to.have.deep.members([
      ['gullcast', 'yes'],
      ['postgres', 'no'],
      ['sshd', 'yes'],
      ['redis-server', 'no'],
    ]);
  });

  it('where nobody has listed the listeners no row is called idle', () => {
    const { 'host/sockets': _, ...files } = serverEvidence(
      '203.0.113.80/24',
      '203.0.113.1',
      [],
      guard('tcp dport 9000 accept'),
    );
    const view = openingsView(caseFacts(RENTED, files, SERVICE), (id) => id ?? '');
    expect([view.programs, view.idle]).to.deep.equal([[], []]);
  });
});
