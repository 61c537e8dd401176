// `npm run mutants [-- FILES]`: which tests notice a small change of the code. Installs the mutation tester beside the
// workspace, since it wants an older mocha than the one that runs the tests; the score is printed at the end.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = fileURLToPath(new URL('..', import.meta.url));
const tools = join(root, '.cache', 'mutation-tools');
const VERSIONS = {
  '@stryker-mutator/core': '9.6.1',
  '@stryker-mutator/mocha-runner': '9.6.1',
  mocha: '^11.7.0',
};

if (!existsSync(join(tools, 'node_modules', '@stryker-mutator', 'core'))) {
  mkdirSync(tools, { recursive: true });
  writeFileSync(join(tools, 'package.json'), JSON.stringify({ private: true, dependencies: VERSIONS }));
  run('npm', ['install', '--no-audit', '--no-fund', '--prefix', tools], root);
}
const files = process.argv.slice(2);
const stryker = join(tools, 'node_modules', '@stryker-mutator', 'core', 'bin', 'stryker.js');
run(process.execPath, [stryker, 'run', ...(files.length > 0 ? ['--mutate', files.join(',')] : [])], root);

function run(command, args, cwd) {
  const { status } = spawnSync(command, args, { cwd, stdio: 'inherit' });
  if (status !== 0) process.exit(status ?? 1);
}
