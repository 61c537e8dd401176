import { nth } from '../../place/index.ts';
import type { Fact, Problem } from '../../facts/index.ts';
import { linesOf, type Line } from '../text.ts';
import { lineAt, once, problemAt, told, written } from '../noted.ts';
import type { Reader } from '../reader.ts';

const withoutComment = (text: string): string => text.replace(/(^|\s)#.*$/, '').trim();

/** `postgresql.conf`: commented lines are defaults, not values. */
export const postgresqlConf: Reader = {
  format: 'postgresql-conf',
  title: 'where PostgreSQL listens (postgresql.conf)',
  recognise: (text) => {
    if (
      /^#?[ \t]*listen_addresses[ \t]*=/m.test(text) &&
      /^#?[ \t]*(port|max_connections|unix_socket_directories)[ \t]*=/m.test(text)
    )
      return 0.97;
    return /^listen_addresses\s*=/m.test(text) ? 0.9 : 0;
  },
  read(text) {
    const facts: Fact[] = [];
    for (const line of linesOf(text)) {
      const m =
        /^\s*(listen_addresses|port|ssl|max_connections)(?:\s*=\s*|\s+)(?:'([^']*)'|([^\s='][^\s]*))/.exec(
          line.text,
        );
      if (!m) continue;
      const value = m[2] ?? nth(m, 3);
      if (m[1] === 'listen_addresses')
        facts.push(
          told(
            'program-bind',
            lineAt(line),
            value
              .split(',')
              .map((a) => a.trim())
              .filter((a) => a !== ''),
            value,
            'listen_addresses',
          ),
        );
      else if (m[1] === 'port') facts.push(told('program-port', lineAt(line), Number(value)));
      else facts.push(once(nth(m, 1), lineAt(line), /^\d+$/.test(value) ? Number(value) : value));
    }
    return { format: 'postgresql-conf', facts, problems: [], covers: [] };
  },
};

const HBA = /^(local|host|hostssl|hostnossl|hostgssenc|hostnogssenc)\s+(\S+)\s+(\S+)\s+(\S.*)/;

/** `pg_hba.conf`: the first line that fits a client decides. */
export const pgHba: Reader = {
  format: 'pg-hba',
  title: 'whom PostgreSQL lets in (pg_hba.conf)',
  recognise: (text) =>
    written(text.slice(0, 50_000)).some(
      (l) =>
        HBA.test(l.text) &&
        /\b(trust|reject|md5|scram-sha-256|peer|ident|password|cert|ldap|gss|pam|radius)\b/.test(l.text),
    )
      ? 0.96
      : 0,
  read(text) {
    const facts: Fact[] = [];
    const problems: Problem[] = [];
    for (const line of written(text)) {
      if (/^\s*(#|include)/.test(line.text)) continue;
      const m = HBA.exec(line.text.trim());
      if (!m) {
        problems.push(problemAt(line, 'no-access-line'));
        continue;
      }
      const rest = withoutComment(nth(m, 4)).split(/\s+/);
      let address: string | null = null;
      if (m[1] !== 'local') {
        address = rest.shift() ?? null;
        // An address and its mask may stand in two columns.
        if (address && /^[\d.]+$/.test(address) && /^[\d.]+$/.test(rest[0] ?? ''))
          address = `${address} ${rest.shift()!}`;
      }
      facts.push(
        told(
          'program-access',
          lineAt(line),
          { type: nth(m, 1), database: nth(m, 2), user: nth(m, 3), address, method: rest[0] ?? '' },
          `${m[1]} ${m[2]} ${m[3]} ${address ?? ''} ${rest[0] ?? ''}`,
          'rules',
        ),
      );
    }
    return { format: 'pg-hba', facts, problems, covers: [] };
  },
};

/** MariaDB and MySQL option files: `bind-address` and `port` of the server's groups. */
export const mariadbConf: Reader = {
  format: 'mariadb-conf',
  title: 'where MariaDB listens',
  recognise: (text) => (/^\[(mysqld|mariadb|server|mariadbd)[\w.-]*\]/m.test(text) ? 0.96 : 0),
  read(text) {
    const facts: Fact[] = [];
    let group = '';
    let first = 1;
    for (const line of linesOf(text)) {
      const head = /^\[([\w.-]+)\]/.exec(line.text);
      if (head) {
        group = nth(head, 1);
        if (/mysqld|mariadb|server/.test(group)) first = line.number;
      }
      const m = /^\s*(bind[-_]address|port|skip[-_]networking|skip[-_]bind[-_]address)\s*(?:=\s*(\S+))?/.exec(
        line.text,
      );
      if (m && !/client|dump|safe/.test(group))
        facts.push(mariadbFact(line, nth(m, 1).replaceAll('_', '-'), m[2]));
    }
    // The file rarely names the port: the default holds (3306).
    if (!facts.some((f) => f.kind === 'program-port'))
      facts.push(told('program-port', { line: first }, 3306, '3306, the default: the file does not say'));
    return { format: 'mariadb-conf', facts, problems: [], covers: [] };
  },
};

function mariadbFact(line: Line, key: string, value: string | undefined): Fact {
  if (key === 'bind-address' && value !== undefined)
    return told('program-bind', lineAt(line), value, value, key);
  if (key === 'port' && value !== undefined) return told('program-port', lineAt(line), Number(value));
  if (value === undefined) return once(key, lineAt(line), true);
  return once(key, lineAt(line), /^\d+$/.test(value) ? Number(value) : value);
}

/** `redis.conf`, whole or by grep (`87:bind …`). */
export const redisConf: Reader = {
  format: 'redis-conf',
  title: 'where Redis listens (redis.conf)',
  recognise: (text) =>
    /^(?:\d+:)?bind\s+[\d*:-]/m.test(text) &&
    /^(?:\d+:)?(protected-mode|port|requirepass|appendonly|save|tcp-backlog)\s/m.test(text)
      ? 0.96
      : 0,
  read(text) {
    const facts: Fact[] = [];
    for (const line of linesOf(text)) {
      const m = /^(?:\d+:)?\s*(bind|protected-mode|port|tls-port|requirepass)\s+(\S.*)/.exec(line.text);
      if (!m) continue;
      if (m[1] === 'bind') facts.push(told('program-bind', lineAt(line), nth(m, 2).split(/\s+/), nth(m, 2)));
      else if (m[1] === 'port') facts.push(told('program-port', lineAt(line), Number(m[2])));
      else if (m[1] === 'requirepass') facts.push(once('requirepass', lineAt(line), true, 'set'));
      else facts.push(once(nth(m, 1), lineAt(line), redisValue(nth(m, 2))));
    }
    return { format: 'redis-conf', facts, problems: [], covers: [] };
  },
};

const REDIS_WORDS: Readonly<Record<string, boolean>> = { yes: true, no: false };

const redisValue = (text: string): number | boolean | string =>
  /^\d+$/.test(text) ? Number(text) : (REDIS_WORDS[text] ?? text);

/** A result table of psql: how many rows, and the column names. */
export const psqlTable: Reader = {
  format: 'psql-table',
  title: 'a result of psql',
  recognise: (text) =>
    /^-+(?:\+-+)+\s*$/m.test(text.slice(0, 5000)) && /^\(\d+ rows?\)/m.test(text) ? 0.94 : 0,
  read(text) {
    const lines = written(text);
    const ruler = lines.findIndex((l) => /^-+(?:\+-+)+\s*$/.test(l.text.trim()));
    const columns = cells(lines[ruler - 1]);
    const rows = lines
      .slice(ruler + 1)
      .filter((l) => l.text.includes('|'))
      .map((l) => ({ line: l, values: cells(l) }));
    const hba = columns.includes('auth_method');
    const facts: Fact[] = [once('rules', { line: 1 }, rows.length, `${rows.length} rows`)];
    if (hba)
      for (const r of rows)
        facts.push(
          told(
            'program-access',
            lineAt(r.line),
            Object.fromEntries(columns.map((c, i) => [c, r.values[i] ?? ''])),
            r.values.filter((v) => v !== '').join(' '),
            'entries',
          ),
        );
    return { format: 'psql-table', facts, problems: [], covers: [] };
  },
};

const cells = (line: Line | undefined): string[] => (line?.text ?? '').split('|').map((c) => c.trim());
