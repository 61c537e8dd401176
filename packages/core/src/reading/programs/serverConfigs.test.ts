import { expect } from 'chai';
import { printed } from '../../facts/index.ts';
import { readText } from '../recognise.ts';

/** What a text says by group; lists as lists. */
function noted(text: string, format: string): Record<string, unknown> {
  const reading = readText(text)!;
  expect(reading.format).to.equal(format);
  const out: Record<string, unknown> = {};
  for (const f of reading.facts) {
    const p = printed(f);
    if (!p) continue;
    if (p.once) out[p.group] = p.value;
    else out[p.group] = [...((out[p.group] as unknown[]) ?? []), p.value];
  }
  return out;
}

describe('what programs are set to', () => {
  it('PostgreSQL: commented lines are defaults and say nothing', () => {
    expect(
      noted(
        "#listen_addresses = 'localhost'\n" +
          "listen_addresses = '192.168.50.20, ::1'   # what IP address(es) to listen on\n" +
          '#port = 5432\n' +
          'port = 5433\n' +
          'max_connections = 100\n',
        'postgresql-conf',
      ),
    ).to.deep.include({ listen_addresses: ['192.168.50.20', '::1'], port: 5433 });
  });

  it('PostgreSQL: whom it lets in, in order, with the mask in a column of its own', () => {
    const rules = noted(
      '# TYPE DATABASE USER ADDRESS METHOD\n' +
        'local all postgres peer\n' +
        'host tide book 198.51.100.0 255.255.255.0 scram-sha-256\n' +
        'hostssl all all ::/0 reject # nobody else\n',
      'pg-hba',
    )['rules'];
    expect(rules).to.deep.equal([
      { type: 'local', database: 'all', user: 'postgres', address: null, method: 'peer' },
      {
        type: 'host',
        database: 'tide',
        user: 'book',
        address: '198.51.100.0 255.255.255.0',
        method: 'scram-sha-256',
      },
      { type: 'hostssl', database: 'all', user: 'all', address: '::/0', method: 'reject' },
    ]);
  });

  it('MariaDB: the server’s groups count, the client’s do not; without a port the default', () => {
    expect(
      noted('[client]\nport = 3310\n\n[mysqld]\nbind-address = 127.0.0.1\n', 'mariadb-conf'),
    ).to.deep.include({ 'bind-address': '127.0.0.1', port: 3306 });
    expect(noted('[mariadb]\nport=3307\nskip-networking\n', 'mariadb-conf')).to.deep.include({
      port: 3307,
      'skip-networking': true,
    });
  });

  it('Redis: addresses that it binds, and whether it is protected; the password itself is not kept', () => {
    const text =
      'bind 127.0.0.1 -::1\nprotected-mode yes\nport 6379\nrequirepass deep-secret\ntcp-backlog 511\n';
    expect(noted(text, 'redis-conf')).to.deep.include({
      bind: ['127.0.0.1', '-::1'],
      port: 6379,
      requirepass: true,
    });
    expect(JSON.stringify(readText(text)!.facts)).to.not.contain('deep-secret');
  });

  it('nginx: every listen line, with address and family', () => {
    const listen = noted(
      'server {\n' +
        '  listen 80;\n' +
        '  listen [::]:80;\n' +
        '  listen 192.168.50.20:8443 ssl;\n' +
        '  # listen 9999;\n' +
        '  location / { deny 198.51.100.33; allow 198.51.100.0/24; }\n' +
        '}\n',
      'nginx-conf',
    );
    expect(listen['listen']).to.have.length(3);
    expect(
      (listen['listen'] as { port: number; address?: string }[]).map((l) => `${l.address ?? ''}:${l.port}`),
    ).to.deep.equal([':80', ':::80', '192.168.50.20:8443']);
  });
});
