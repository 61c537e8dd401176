// `npm run coverage`: how much of the core the unit tests run, with a floor for its lines. The tests are
// loaded as modules
// alone: loaded in two ways, one file's counts would hide the other's.
import { root, run } from './run.mjs';

/** Lines of the core that must be run, per cent. */
const LINES = 95;

process.exitCode = await run(
  'npx',
  [
    'c8',
    '--reporter=text-summary',
    '--reporter=json-summary',
    '--include=packages/core/src/**',
    '--exclude=**/*.test.ts',
    '--exclude=**/testing/**',
    '--check-coverage',
    `--lines=${LINES}`,
    '--functions=0',
    '--branches=0',
    '--statements=0',
    'npx',
    'mocha',
    '--config',
    '.mocharc.coverage.json',
  ],
  { cwd: root },
);
