// Builds the fuzz run like the application is built and runs it with the collector at hand: `npm run fuzz --
// --inputs 200000`.
import { join } from 'node:path';
import { build } from 'vite';
import { root, run } from './run.mjs';

await build({
  root,
  logLevel: 'warn',
  ssr: { noExternal: [/^@bright-ferry\//] },
  build: {
    ssr: 'scripts/fuzz.ts',
    outDir: '.cache/fuzz',
    emptyOutDir: true,
    target: 'node20',
    rollupOptions: { output: { entryFileNames: 'fuzz.js' } },
  },
});
process.exitCode = await run(
  process.execPath,
  ['--expose-gc', join(root, '.cache/fuzz/fuzz.js'), ...process.argv.slice(2)],
  { cwd: root },
);
