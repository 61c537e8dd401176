import { chmodSync, existsSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from 'chai';
import { checkCaseDocument } from '@bright-ferry/core/case';
import { readCase } from '@bright-ferry/core/ledger';
import { commandsOf, mendChain, sceneFrom } from '@bright-ferry/core/mend';
import { parseEndpoint, parseTarget } from '@bright-ferry/core/net';
import { collect, entryOf, LISTINGS } from './src/collect.ts';
import { Network } from './src/namespaces.ts';

const CLIENT = '198.51.100.23';
const SERVER = '198.51.100.80';

/** A real program that listens on the loopback alone, in a folder of its own. */
interface Daemon {
  readonly name: string;
  readonly port: number;
  /** Starts it, and ends when it listens. */
  start(network: Network, folder: string): void;
  /** Programs in the place of the system’s, by name: what the printed commands call. */
  readonly standIns: (folder: string) => Readonly<Record<string, string>>;
  stop(network: Network, folder: string): void;
}

/** Debian keeps the programs of each version of PostgreSQL in a folder of its own. */
const versions = '/usr/lib/postgresql';
const postgresBin = (): string => {
  const [newest] = existsSync(versions) ? readdirSync(versions).sort().toReversed() : [];
  if (newest === undefined)
    throw new Error(`PostgreSQL is not in ${versions}: install the package postgresql`);
  return join(versions, newest, 'bin');
};
const asOwner = (command: string): string => `setpriv --reuid=65534 --regid=65534 --clear-groups ${command}`;
const pgCtl = (folder: string, action: string): string =>
  asOwner(`${postgresBin()}/pg_ctl -w -D ${folder}/data -l ${folder}/log ${action}`);

const DAEMONS: readonly Daemon[] = [
  {
    name: 'Redis',
    port: 6379,
    start: (network, folder) =>
      void network.run(
        'server',
        `redis-server --port 6379 --bind 127.0.0.1 --protected-mode no --save '' --dir ${folder} ` +
          '--daemonize yes >/dev/null; until redis-cli ping >/dev/null 2>&1; do sleep 0.1; done',
      ),
    standIns: () => ({}),
    stop: (network) => void network.run('server', 'redis-cli shutdown nosave || true'),
  },
  {
    name: 'PostgreSQL',
    port: 5432,
    start(network, folder) {
      network.run('server', `chown 65534:65534 ${folder}`);
      network.run('server', asOwner(`${postgresBin()}/initdb -D ${folder}/data -U postgres >/dev/null`));
      const settings = `listen_addresses = '127.0.0.1'\\nunix_socket_directories = '${folder}'\\n`;
      network.run(
        'server',
        `printf "${settings}" >> ${folder}/data/postgresql.conf; ${pgCtl(folder, 'start')}`,
      );
    },
    // The namespace has no service manager, and its owner of the database is another one.
    standIns: (folder) => ({
      sudo: `shift 2; PGHOST=${folder} PGUSER=postgres exec "$@"`,
      systemctl: pgCtl(folder, 'restart'),
    }),
    stop: (network, folder) => void network.run('server', pgCtl(folder, 'stop')),
  },
];

function commands(network: Network, port: number): { commands: readonly string[]; undo: readonly string[] } {
  const document = checkCaseDocument({
    format: 'bright-ferry-case',
    version: 1,
    title: 'programs in the lab',
    service: { name: 'harbour log', audience: [CLIENT], endpoints: [{ protocol: 'tcp', port }] },
    path: [
      { id: 'client', role: 'client' },
      { id: 'server', role: 'host' },
    ],
  });
  const encoder = new TextEncoder();
  const files = new Map(
    [...collect(network, 'client', LISTINGS.text), ...collect(network, 'server', LISTINGS.json)].map(
      ([name, text]) => [name, encoder.encode(text)] as const,
    ),
  );
  const facts = readCase({ document: { ...document, evidence: [...files.keys()].map(entryOf) }, files });
  const target = parseTarget(`${SERVER}:${port}/tcp`);
  const source = parseEndpoint(`${CLIENT}:40000`);
  if (!target || !source) throw new Error('no packet');
  const destination = { address: target.address, port: target.port };
  const [step] = mendChain(facts, sceneFrom(facts, { transport: 'tcp', source, destination }));
  if (!step?.mend) throw new Error(`nothing mends what ended ${step?.trace.outcome}`);
  expect(step.mend.fault).to.equal('listen-loopback');
  return commandsOf(step.mend);
}

const canConnect = (network: Network, from: string, to: string, port: number): boolean =>
  network
    .run(
      from,
      `python3 -c 'import socket\ntry:\n socket.create_connection(("${to}",${port}),2)\n print("yes")\n` +
        `except OSError:\n print("no")'`,
    )
    .trim() === 'yes';

describe('programs that listen on the loopback alone, told otherwise by the printed commands', () => {
  DAEMONS.forEach((daemon, i) =>
    it(`${daemon.name}: the client gets through, and as before once it is taken back`, () => {
      const network = new Network(`prog${i}`);
      const folder = mkdtempSync(join(tmpdir(), 'bright-ferry-'));
      try {
        chmodSync(folder, 0o755);
        for (const name of ['client', 'server']) network.machine(name);
        network.cable(
          { machine: 'client', device: 'eth0', addresses: [`${CLIENT}/24`] },
          { machine: 'server', device: 'eno1', addresses: [`${SERVER}/24`] },
        );
        network.settle();
        for (const [name, script] of Object.entries(daemon.standIns(folder))) {
          writeFileSync(join(folder, name), `#!/bin/sh\n${script}\n`);
          chmodSync(join(folder, name), 0o755);
        }
        daemon.start(network, folder);
        const own = (to: string): boolean => canConnect(network, 'server', to, daemon.port);
        const client = (): boolean => canConnect(network, 'client', SERVER, daemon.port);
        expect([own('127.0.0.1'), client()]).to.deep.equal([true, false]);
        const made = commands(network, daemon.port);
        const run = (lines: readonly string[]): void =>
          void network.run('server', `PATH=${folder}:$PATH\n${lines.join('\n')}`);
        run(made.commands);
        expect([own('127.0.0.1'), client()], made.commands.join('\n')).to.deep.equal([true, true]);
        run(made.undo);
        expect([own('127.0.0.1'), client()], made.undo.join('\n')).to.deep.equal([true, false]);
        daemon.stop(network, folder);
      } finally {
        network.close();
        rmSync(folder, { recursive: true, force: true });
      }
    }),
  );
});
