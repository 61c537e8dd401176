// Installs, builds what is stale, serves the application with its demo data, prints the address.
// PORT chooses the port.
import { join } from 'node:path';
import { root, run } from './run.mjs';
import { setUp } from './setup.mjs';

try {
  await setUp();
} catch (error) {
  console.error(`start: ${error.message}`);
  process.exit(1);
}
const port = process.env.PORT ? ['--port', process.env.PORT] : [];
process.exitCode = await run(
  process.execPath,
  [join(root, 'packages/cli/bin/bright-ferry.mjs'), 'serve', ...port],
  { cwd: root },
);
