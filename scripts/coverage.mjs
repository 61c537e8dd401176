// `npm run coverage`: how much of the core the unit tests run, with a floor for its lines. `-- --recorded`
// reports on what `npm test` recorded last.
import { existsSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { root, run } from './run.mjs';

/** Lines of the core that must be run, per cent. */
const LINES = 95;
const RECORDS = join(root, '.cache/coverage');

/**
 * A command that runs the unit tests, some files at a time, and records which lines they ran. The tests are
 * loaded as modules alone: loaded in two ways, one file's counts would hide the other's.
 */
export const recordedUnitTests = (...more) => [
  join(root, 'node_modules/c8/bin/c8.js'),
  '--reporter=none',
  `--temp-directory=${RECORDS}`,
  process.execPath,
  join(root, 'node_modules/mocha/bin/mocha.js'),
  '--config',
  '.mocharc.coverage.json',
  '--parallel',
  '--jobs',
  String(availableParallelism()),
  ...more,
];

async function report() {
  if (!existsSync(RECORDS)) {
    console.error('Nothing is recorded: run npm run coverage');
    return 1;
  }
  return run(
    process.execPath,
    [
      join(root, 'node_modules/c8/bin/c8.js'),
      'report',
      `--temp-directory=${RECORDS}`,
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
    ],
    { cwd: root },
  );
}

if (process.argv[1] === import.meta.filename) {
  const status = process.argv.includes('--recorded')
    ? 0
    : await run(process.execPath, recordedUnitTests(), { cwd: root });
  process.exitCode = (await report()) || status;
}
