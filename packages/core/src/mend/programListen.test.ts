import { expect } from 'chai';
import { parseAddress, parseEndpoint } from '../net/index.ts';
import { caseFacts, serverEvidence } from '../testing/index.ts';
import { benchView } from '../views/index.ts';
import type { Finding } from './index.ts';
import { programListen } from './programListen.ts';

type Listener = Extract<Finding, { found: 'listener' }>;

const finding = (program: string, at: string, more: Partial<Listener> = {}): Listener => {
  const near = parseEndpoint(at);
  const endpoint = parseEndpoint(`192.168.50.20:${near?.port}`);
  if (!near || !endpoint) throw new Error(at);
  return {
    found: 'listener',
    how: 'loopback',
    endpoint,
    transport: 'tcp',
    near: {
      transport: 'tcp',
      address: near.address,
      families: [near.address.family],
      port: near.port,
      device: null,
      program,
      source: null,
    },
    system: 'linux',
    service: null,
    ...more,
  };
};

describe('a program is told on which addresses to listen', () => {
  it('PostgreSQL, in SQL and in its file', () => {
    expect(programListen(finding('postgres', '127.0.0.1:5432'))).to.deep.equal({
      program: 'postgresql',
      setting: 'listen_addresses in postgresql.conf',
      now: "'127.0.0.1'",
      mended: "'127.0.0.1, 192.168.50.20'",
      commands: [
        `sudo -u postgres psql -c 'ALTER SYSTEM SET listen_addresses = '\\''127.0.0.1, 192.168.50.20'\\'''`,
        'systemctl restart postgresql',
      ],
      undo: [
        "sudo -u postgres psql -c 'ALTER SYSTEM RESET listen_addresses'",
        'systemctl restart postgresql',
      ],
    });
  });

  it('PostgreSQL on other systems, in the words of their shells', () => {
    const on = (system: Listener['system']) =>
      programListen(finding('postgres', '127.0.0.1:5432', { system }));
    expect(on('windows')?.commands).to.deep.equal([
      `psql -U postgres -c 'ALTER SYSTEM SET listen_addresses = ''127.0.0.1, 192.168.50.20'''`,
      'Restart-Service -Name postgresql*',
    ]);
    expect(on('macos')?.undo).to.deep.equal([
      "psql -d postgres -c 'ALTER SYSTEM RESET listen_addresses'",
      `pg_ctl restart -D "$(psql -d postgres -Atc 'SHOW data_directory')"`,
    ]);
    expect(on(null)).to.deep.include({ commands: [], undo: [], mended: "'127.0.0.1, 192.168.50.20'" });
  });

  it('Redis, at run time and back', () => {
    const told = programListen(finding('redis-server', '127.0.0.1:6380'));
    expect(told?.commands).to.deep.equal(["redis-cli -p 6380 CONFIG SET bind '127.0.0.1 192.168.50.20'"]);
    expect(told?.undo).to.deep.equal(['redis-cli -p 6380 CONFIG SET bind 127.0.0.1']);
  });

  it('as lists of sockets name them', () => {
    const of = (name: string) => programListen(finding(name, '127.0.0.1:3306'))?.program;
    expect(['mariadbd', 'mysqld', 'nginx', 'redis-ser', 'postmaster'].map(of)).to.deep.equal([
      'mariadb',
      'mariadb',
      'nginx',
      'redis',
      'postgresql',
    ]);
    for (const other of ['gullcast', 'mysql-proxy', 'mynginx', 'sshd'])
      expect(of(other), other).to.equal(undefined);
  });

  it('nothing where it lacks something else, or where it listens is not known', () => {
    expect(programListen(finding('postgres', '127.0.0.1:5432', { how: 'none' }))).to.equal(null);
    expect(programListen(finding('postgres', '127.0.0.1:5432', { near: null }))).to.equal(null);
    const six = programListen({
      ...finding('nginx', '[::1]:80'),
      endpoint: { address: parseAddress('2001:db8:50::20') as never, port: 80 },
    });
    expect(six?.mended).to.equal('listen [2001:db8:50::20]:80;');
  });

  it('on the bench its own setting, what belongs to it, and the command', () => {
    const path = [
      { id: 'client', role: 'client' },
      { id: 'carrier', role: 'carrier' },
      { id: 'host', role: 'host' },
    ];
    const files = serverEvidence('203.0.113.80/24', '203.0.113.1', ['tcp 127.0.0.1:5432 postgres']);
    const { next } = benchView(
      caseFacts(path, files, {
        service: { name: 'Harbour log', endpoints: [{ protocol: 'tcp', port: 5432 }] },
        client: { address: '198.51.100.23', dials: '203.0.113.80:5432' },
      }),
    );
    const mend = next.kind === 'mend' ? next.mend : null;
    expect(mend?.values).to.deep.equal([
      {
        label: 'listen_addresses in postgresql.conf',
        now: "'127.0.0.1'",
        mended: "'127.0.0.1, 203.0.113.80'",
      },
    ]);
    expect(mend?.also).to.match(/pg_hba\.conf/);
    expect(mend?.commands[1]).to.equal('systemctl restart postgresql');
  });
});
