#!/usr/bin/env node
// Runs the built program; without a build it says how to make one.
import { existsSync } from 'node:fs';
import { fileURLToPath, pathToFileURL } from 'node:url';

const built = fileURLToPath(new URL('../dist/main.js', import.meta.url));
if (!existsSync(built)) {
  process.stderr.write('bright-ferry: not built yet; run “npm run setup” in the project first\n');
  process.exit(2);
}
// Who reads the output may stop before its end (`| head`): that is no defect.
process.stdout.on('error', (error) => {
  if (error.code !== 'EPIPE') throw error;
  process.exit(0);
});
const { main } = await import(pathToFileURL(built).href);
const status = await main(process.argv);
if (status !== 0) process.exitCode = status;
