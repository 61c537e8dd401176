import { main } from '/tmp/wt/packages/cli/src/main.ts';
const s = await main(process.argv); if (s) process.exitCode = s;
