// `npm run wasm`: compiles the loops of `packages/core/wasm` (AssemblyScript) into the modules that the core
// imports. The compiler is installed beside the workspace: whoever does not change these loops has no need
// of it. A test holds each module against the text that it was made from.
import { createHash } from 'node:crypto';
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './run.mjs';

const tools = join(root, '.cache', 'wasm-tools');
const VERSIONS = { assemblyscript: '0.28.20' };
/** What is compiled, and where the core imports it from. */
const MODULES = [['netfilterLines', 'traffic/log', 'NETFILTER_LINES']];

function run(command, args) {
  const { status } = spawnSync(command, args, { cwd: root, stdio: 'inherit' });
  if (status !== 0) process.exit(status ?? 1);
}

if (!existsSync(join(tools, 'node_modules', 'assemblyscript'))) {
  mkdirSync(tools, { recursive: true });
  writeFileSync(join(tools, 'package.json'), JSON.stringify({ private: true, dependencies: VERSIONS }));
  run('npm', ['install', '--no-audit', '--no-fund', '--prefix', tools]);
}
for (const [name, folder, constant] of MODULES) {
  const source = join(root, 'packages/core/wasm', `${name}.ts`);
  const output = join(tools, `${name}.wasm`);
  run(process.execPath, [
    join(tools, 'node_modules/assemblyscript/bin/asc.js'),
    source,
    ...['--runtime', 'stub', '--enable', 'simd', '-O3', '--noAssert'],
    ...['--initialMemory', '8', '--maximumMemory', '8', '--outFile', output],
  ]);
  const hash = createHash('sha256').update(readFileSync(source)).digest('hex');
  const text = readFileSync(output).toString('base64');
  writeFileSync(
    join(root, 'packages/core/src', folder, `${name}.wasm.ts`),
    `// Made by \`npm run wasm\` from \`packages/core/wasm/${name}.ts\`.\n\n` +
      '/** The SHA-256 of the text that it was made from. */\n' +
      `export const MADE_FROM = '${hash}';\n\n` +
      `export const ${constant} =\n${text
        .match(/.{1,96}/g)
        .map((line) => `  '${line}'`)
        .join(' +\n')};\n`,
  );
}
