// Checks the types of all workspaces, of the lab and of all tests.
import { existsSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { root, run } from './run.mjs';

const projects = [...readdirSync(join(root, 'packages')).map((p) => `packages/${p}`), 'lab', 'scripts'];
let failed = 0;
for (const project of projects) {
  for (const config of ['tsconfig.json', 'tsconfig.tests.json'].filter((c) =>
    existsSync(join(root, project, c)),
  )) {
    const status = await run(
      process.execPath,
      [join(root, 'node_modules/vue-tsc/bin/vue-tsc.js'), '-p', join(root, project, config), '--noEmit'],
      { cwd: root },
    );
    if (status !== 0) {
      console.error(`types: ${project}/${config}`);
      failed++;
    }
  }
}
process.exitCode = failed > 0 ? 1 : 0;
