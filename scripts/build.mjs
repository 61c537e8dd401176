// Builds the web application and the command line. With --stale only what is older than its sources.
import { existsSync, readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { build } from 'vite';
import { root } from './run.mjs';

const onlyStale = process.argv.includes('--stale');

const newest = (path) => {
  if (!existsSync(path)) return 0;
  const stat = statSync(path);
  if (!stat.isDirectory()) return stat.mtimeMs;
  return Math.max(
    0,
    ...readdirSync(path)
      .filter((n) => n !== 'node_modules' && n !== 'dist' && !n.endsWith('.test.ts'))
      .map((n) => newest(join(path, n))),
  );
};
const stale = (output, sources) =>
  !onlyStale ||
  !existsSync(join(root, output)) ||
  Math.max(...sources.map((s) => newest(join(root, s)))) > statSync(join(root, output)).mtimeMs;

if (
  stale('packages/web/dist/index.html', ['packages/web', 'packages/core', 'docs/demo', 'package-lock.json'])
) {
  await build({ root: join(root, 'packages/web'), logLevel: 'warn' });
}
if (
  stale('packages/cli/dist/main.js', [
    'packages/cli/src',
    'packages/core/src',
    'packages/server/src',
    'package-lock.json',
  ])
) {
  await build({
    root: join(root, 'packages/cli'),
    logLevel: 'warn',
    ssr: { noExternal: [/^@bright-ferry\//] },
    build: {
      ssr: 'src/main.ts',
      outDir: 'dist',
      emptyOutDir: true,
      target: 'node20',
      rollupOptions: { output: { entryFileNames: 'main.js' } },
    },
  });
}
