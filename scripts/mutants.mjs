// `npm run mutants [-- FILES]`: which tests notice a small change of the code. With `--sample 200
// [--seed 1] [ROOMS]` it changes about 200 lines of each room, drawn by lot, since all of them take a
// night. Installs the mutation tester beside the workspace, since it wants an older mocha than the one
// that runs the tests.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';

const root = fileURLToPath(new URL('..', import.meta.url));
const tools = join(root, '.cache', 'mutation-tools');
const VERSIONS = {
  '@stryker-mutator/core': '9.6.1',
  '@stryker-mutator/mocha-runner': '9.6.1',
  mocha: '^11.7.0',
};
const ROOMS = ['rules', 'crossing', 'devices', 'ledger', 'mend'];
/** Lines that are drawn together. */
const WINDOW = 5;

const { values, positionals } = parseArgs({
  options: { sample: { type: 'string' }, seed: { type: 'string', default: '1' } },
  allowPositionals: true,
});
if (!existsSync(join(tools, 'node_modules', '@stryker-mutator', 'core'))) {
  mkdirSync(tools, { recursive: true });
  writeFileSync(join(tools, 'package.json'), JSON.stringify({ private: true, dependencies: VERSIONS }));
  run('npm', ['install', '--no-audit', '--no-fund', '--prefix', tools], root);
}
const sampled = values.sample !== undefined;
const rooms = positionals.length > 0 ? positionals : ROOMS;
const files = sampled ? rooms.flatMap((room) => draw(room, Number(values.sample))) : positionals;
// What another lot has found says nothing of this one.
const seen = join('.cache', 'mutants-sample-seen.json');
if (sampled) rmSync(join(root, seen), { force: true });
const stryker = join(tools, 'node_modules', '@stryker-mutator', 'core', 'bin', 'stryker.js');
run(
  process.execPath,
  [
    stryker,
    'run',
    ...(files.length > 0 ? ['--mutate', files.join(',')] : []),
    ...(sampled ? ['--incrementalFile', seen, '--force'] : []),
  ],
  root,
);
if (sampled) for (const room of rooms) console.log(scoreOf(room));

/** Windows of lines of a room, drawn by lot from its sources, as the tester names them: `file:first-last`. */
function draw(room, lines) {
  const folder = `packages/core/src/${room}`;
  const sources = readdirSync(join(root, folder), { recursive: true })
    .filter((f) => f.endsWith('.ts') && !f.endsWith('.test.ts'))
    .map((f) => `${folder}/${f}`);
  const windows = sources.sort().flatMap((file) => {
    const length = readFileSync(join(root, file), 'utf8').split('\n').length;
    return Array.from({ length: Math.ceil(length / WINDOW) }, (_, i) => {
      return `${file}:${i * WINDOW + 1}-${Math.min((i + 1) * WINDOW, length)}`;
    });
  });
  let state = Number(values.seed) + 1;
  const next = () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 2 ** 32;
  };
  const drawn = windows.map((window) => ({ window, at: next() })).sort((a, b) => a.at - b.at);
  return drawn.slice(0, Math.ceil(lines / WINDOW)).map((d) => d.window);
}

/** One line on the room: how many of the changes that tests could notice were noticed. */
function scoreOf(room) {
  const report = JSON.parse(readFileSync(join(root, '.cache', 'mutants.json'), 'utf8'));
  const mutants = Object.entries(report.files)
    .filter(([file]) => file.startsWith(`packages/core/src/${room}/`))
    .flatMap(([, file]) => file.mutants);
  const count = (...states) => mutants.filter((m) => states.includes(m.status)).length;
  const noticed = count('Killed', 'Timeout');
  const tested = noticed + count('Survived', 'NoCoverage');
  const share = tested === 0 ? 0 : (100 * noticed) / tested;
  return `${room.padEnd(10)} ${noticed} of ${tested} noticed, ${share.toFixed(0)} %`;
}

function run(command, args, cwd) {
  const { status } = spawnSync(command, args, { cwd, stdio: 'inherit' });
  if (status !== 0) process.exit(status ?? 1);
}
