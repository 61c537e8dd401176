import { fileURLToPath } from 'node:url';

/** Which tests notice a small change of the code: `npm run mutants`, or `… -- --mutate FILES` for some. */
export default {
  testRunner: 'mocha',
  plugins: [
    fileURLToPath(
      new URL(
        '.cache/mutation-tools/node_modules/@stryker-mutator/mocha-runner/dist/src/index.js',
        import.meta.url,
      ),
    ),
  ],
  testRunnerNodeArgs: ['--import', 'tsx'],
  mochaOptions: { config: '.mocharc.mutants.json' },
  coverageAnalysis: 'perTest',
  mutate: ['rules', 'crossing', 'devices', 'ledger', 'mend'].flatMap((room) => [
    `packages/core/src/${room}/**/*.ts`,
    `!packages/core/src/${room}/**/*.test.ts`,
  ]),
  // The sentences of a rule's own text are for people; the tests of the words hold what people read.
  mutator: { excludedMutations: ['StringLiteral'] },
  ignorePatterns: ['/coverage', '/lab/demo', '/packages/web', '/packages/server', '/.cache'],
  reporters: ['clear-text', 'json', 'progress-append-only'],
  jsonReporter: { fileName: '.cache/mutants.json' },
  clearTextReporter: { logTests: false, reportTests: false, reportMutants: true },
  tempDirName: '.cache/mutants',
  incremental: true,
  incrementalFile: '.cache/mutants-seen.json',
  concurrency: 2,
  timeoutMS: 10_000,
  ignoreStatic: true,
};
