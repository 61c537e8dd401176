import { shellWord, type Shell } from '../asks/index.ts';
import { powerShellWord, type Commands } from '../devices/index.ts';
import { formatAddress } from '../net/index.ts';
import type { Finding } from './finding.ts';

type Listener = Extract<Finding, { found: 'listener' }>;

/** How a program is told on which addresses to listen, in its own words. */
export interface ProgramListen extends Commands {
  /** `bind in redis.conf` */
  readonly setting: string;
  readonly now: string;
  readonly mended: string;
  readonly program: ListeningProgram;
}

/** Programs whose settings are known. */
export type ListeningProgram = 'postgresql' | 'redis' | 'mariadb' | 'nginx';

const NAMES: readonly (readonly [RegExp, ListeningProgram])[] = [
  [/^post(?:gres|master)/, 'postgresql'],
  [/^redis/, 'redis'],
  [/^(?:mariadbd?|mysqld?)(?:$|\/)/, 'mariadb'],
  [/^nginx/, 'nginx'],
];

/** How PostgreSQL takes a statement, and how it is started anew, on each system. */
const POSTGRESQL: Readonly<
  Record<Shell, { readonly sql: (text: string) => string; readonly restart: string }>
> = {
  linux: {
    sql: (text) => `sudo -u postgres psql -c ${shellWord(text)}`,
    restart: 'systemctl restart postgresql',
  },
  macos: {
    sql: (text) => `psql -d postgres -c ${shellWord(text)}`,
    restart: `pg_ctl restart -D "$(psql -d postgres -Atc 'SHOW data_directory')"`,
  },
  windows: {
    sql: (text) => `psql -U postgres -c ${powerShellWord(text)}`,
    restart: 'Restart-Service -Name postgresql*',
  },
};

function postgresql(system: Shell | null, now: string, mended: string): ProgramListen {
  const shell = system === null ? null : POSTGRESQL[system];
  const told = (text: string): string[] => (shell ? [shell.sql(`ALTER SYSTEM ${text}`), shell.restart] : []);
  return {
    program: 'postgresql',
    setting: 'listen_addresses in postgresql.conf',
    now: `'${now}'`,
    mended: `'${mended}'`,
    commands: told(`SET listen_addresses = '${mended}'`),
    undo: told('RESET listen_addresses'),
  };
}

/**
 * What is to be written for a program that listens on the wrong address alone: the address that it has, and
 * the one that is dialled. null: the program is not known, or it is wrong in something else.
 * Sources: PostgreSQL 15 §20.3.1, redis.conf of Redis 7.0 (`bind`), MariaDB 10.11 (`bind-address`), nginx
 * ngx_http_core_module (`listen`).
 */
export function programListen({ how, near, endpoint, system }: Listener): ProgramListen | null {
  const program = NAMES.find(([name]) => name.test(near?.program ?? ''))?.[1];
  if (program === undefined || !near?.address || (how !== 'loopback' && how !== 'address')) return null;
  const [old, wanted] = [formatAddress(near.address), formatAddress(endpoint.address)];
  switch (program) {
    case 'postgresql':
      return postgresql(system, old, `${old}, ${wanted}`);
    case 'redis': {
      const set = (list: string): string => `redis-cli -p ${near.port} CONFIG SET bind ${shellWord(list)}`;
      return {
        program,
        setting: 'bind in redis.conf',
        now: old,
        mended: `${old} ${wanted}`,
        commands: [set(`${old} ${wanted}`)],
        undo: [set(old)],
      };
    }
    case 'mariadb':
      return {
        program,
        setting: 'bind-address below [mysqld]',
        now: old,
        mended: `${old},${wanted}`,
        commands: [],
        undo: [],
      };
    case 'nginx':
      return {
        program,
        setting: 'listen in the server block',
        now: `listen ${hostOf(old)}:${near.port};`,
        mended: `listen ${hostOf(wanted)}:${endpoint.port};`,
        commands: [],
        undo: [],
      };
  }
}

const hostOf = (address: string): string => (address.includes(':') ? `[${address}]` : address);
