// Builds the measurements like the application is built (no development helpers in hot code) and runs them:
// `npm run bench [read] [compile] [trace] [flood] [growth]`.
import { join } from 'node:path';
import { build } from 'vite';
import { root, run } from './run.mjs';

await build({
  root,
  logLevel: 'warn',
  ssr: { noExternal: [/^@bright-ferry\//] },
  build: {
    ssr: 'scripts/bench.ts',
    outDir: '.cache/bench',
    emptyOutDir: true,
    target: 'node20',
    rollupOptions: { output: { entryFileNames: 'bench.js' } },
  },
});
process.exitCode = await run(
  process.execPath,
  ['--max-semi-space-size=64', join(root, '.cache/bench/bench.js'), ...process.argv.slice(2)],
  { cwd: root },
);
