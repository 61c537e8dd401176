// The Debian packages that the lab and the browser tests use for real.
import { accessSync, constants, existsSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { run } from './run.mjs';

/** Program that must be found, and the package that brings it. */
export const NEEDED = [
  ['chromium', 'chromium'],
  ['chromedriver', 'chromium-driver'],
  ['ip', 'iproute2'],
  ['nft', 'nftables'],
  ['iptables-save', 'iptables'],
  ['conntrack', 'conntrack'],
  ['python3', 'python3-minimal'],
  ['redis-server', 'redis-server'],
  ['initdb', 'postgresql'],
];

/** Debian keeps the programs of each version of PostgreSQL in a folder of its own. */
const POSTGRESQL = '/usr/lib/postgresql';
const postgresql = () =>
  existsSync(POSTGRESQL) ? readdirSync(POSTGRESQL).map((version) => join(POSTGRESQL, version, 'bin')) : [];

const found = (program) =>
  [...(process.env.PATH ?? '').split(':'), '/usr/sbin', '/sbin', ...postgresql()].some((folder) => {
    try {
      accessSync(join(folder, program), constants.X_OK);
      return true;
    } catch {
      return false;
    }
  });

/** Packages whose program is not on this machine. */
export const missingPackages = () => NEEDED.filter(([program]) => !found(program)).map(([, name]) => name);

/**
 * Installs what is missing as root; otherwise says what to install. Resolves with the packages that are
 * still missing.
 */
export async function installDebianPackages() {
  const missing = missingPackages();
  if (missing.length === 0) return [];
  if (process.getuid?.() !== 0) {
    console.error(
      `These Debian packages are missing; install them with: sudo apt-get install ${missing.join(' ')}`,
    );
    return missing;
  }
  console.error(`Installing Debian packages: ${missing.join(' ')} …`);
  const options = { stdio: ['ignore', 2, 2], env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' } };
  await run('apt-get', ['update', '-qq'], options);
  await run('apt-get', ['install', '-y', '-qq', '--no-install-recommends', ...missing], options);
  return missingPackages();
}
