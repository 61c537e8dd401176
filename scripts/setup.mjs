// What `npm start` and `npm test` share: npm packages as the lock file names them, and everything built that
// is older than its sources.
import { existsSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { root, run } from './run.mjs';

const modified = (path) => (existsSync(path) ? statSync(path).mtimeMs : 0);

/** Installs npm packages where the lock file is newer than what is installed. */
async function installPackages() {
  const installed = modified(join(root, 'node_modules/.package-lock.json'));
  if (installed > 0 && installed >= modified(join(root, 'package-lock.json'))) return;
  console.error('Installing npm packages …');
  const status = await run('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], {
    cwd: root,
    stdio: ['ignore', 2, 2],
  });
  if (status !== 0) throw new Error(`npm ci ended with status ${status}: is the npm registry reachable?`);
}

export async function setUp() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major < 20 || (major === 20 && minor < 19))
    throw new Error(`Node.js 20.19 or newer is needed, this is ${process.versions.node}`);
  await installPackages();
  const status = await run(process.execPath, [join(root, 'scripts/build.mjs'), '--stale'], {
    cwd: root,
    stdio: ['ignore', 2, 2],
  });
  if (status !== 0) throw new Error('the build failed, see above');
}

if (import.meta.url === pathToFileURL(process.argv[1]).href) {
  await setUp().catch((error) => {
    console.error(`setup: ${error.message}`);
    process.exitCode = 1;
  });
}
