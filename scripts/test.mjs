// Runs unit, lab and browser tests one after the other and ends with one line of counts. In CI it is also
// recorded which lines the unit tests run.
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { recordedUnitTests } from './coverage.mjs';
import { installDebianPackages } from './debian.mjs';
import { root, run } from './run.mjs';
import { setUp } from './setup.mjs';

const SUITES = [
  { name: 'unit', config: '.mocharc.json', needs: [] },
  {
    name: 'lab',
    config: '.mocharc.lab.json',
    needs: ['iproute2', 'nftables', 'iptables', 'conntrack', 'python3-minimal', 'redis-server', 'postgresql'],
    asRoot: true,
  },
  { name: 'browser', config: '.mocharc.e2e.json', needs: ['chromium', 'chromium-driver'] },
];
const only = process.argv[2];

try {
  await setUp();
} catch (error) {
  console.error(`test: ${error.message}`);
  process.exit(1);
}
const missing = await installDebianPackages();
mkdirSync(join(root, '.cache'), { recursive: true });
let [passed, failed, skipped] = [0, 0, 0];
const report = join(root, '.cache/mocha.json');
for (const suite of SUITES.filter((s) => only === undefined || s.name === only)) {
  const lacking = suite.needs.filter((p) => missing.includes(p));
  if (lacking.length > 0 || (suite.asRoot && process.getuid?.() !== 0)) {
    console.error(
      `The ${suite.name} tests need ` +
        (lacking.length > 0
          ? `the Debian packages ${lacking.join(' ')}`
          : 'root, to make network namespaces') +
        ': counted as failed.',
    );
    failed++;
    continue;
  }
  console.log(`\n== ${suite.name} ==`);
  rmSync(report, { force: true });
  const reporter = ['--reporter', join(root, 'scripts/reporter.cjs')];
  const isUnit = suite.name === 'unit';
  const status = await run(
    process.execPath,
    isUnit && process.env.CI
      ? recordedUnitTests(...reporter)
      : [
          join(root, 'node_modules/mocha/bin/mocha.js'),
          '--config',
          suite.config,
          ...reporter,
          // The lab and the browser need the computer to themselves.
          ...(isUnit ? ['--parallel', '--jobs', String(availableParallelism())] : []),
        ],
    { cwd: root, env: { ...process.env, PATH: `${process.env.PATH}:/usr/sbin:/sbin`, MOCHA_REPORT: report } },
  );
  try {
    const stats = JSON.parse(readFileSync(report, 'utf8'));
    passed += stats.passes;
    failed += stats.failures + (status !== 0 && stats.failures === 0 ? 1 : 0);
    skipped += stats.pending;
  } catch {
    console.error(`The ${suite.name} tests did not run to their end (status ${status}).`);
    failed++;
  }
}
writeFileSync(join(root, '.cache/counts.json'), JSON.stringify({ passed, failed, skipped }));
console.log(`${passed} passed, ${failed} failed${skipped > 0 ? `, ${skipped} skipped` : ''}`);
process.exitCode = failed > 0 ? 1 : 0;
