// The long form of the kernel comparison: `npm run lab -- --sites 500 [--seed N] [--first I]`.
// `--statements` takes the networks in which every statement of nft and iptables that is modelled meets
// packets, in place of random ones.
// `--record FILE` also writes each site with what the kernel did, one JSON document a line, gzipped: the unit
// tests of the crossing are held against packages/core/src/crossing/kernel.jsonl.gz, made with
// `--sites 80 --seed 4711`, and against statements.jsonl.gz beside it, made with `--statements`.
// Every site on which kernel and core differ is kept as a case folder below .cache/lab/.
import { mkdirSync, writeFileSync } from 'node:fs';
import { gzipSync } from 'node:zlib';
import { dirname, join } from 'node:path';
import { parseArgs } from 'node:util';
import { IPTABLES_STATEMENTS } from './src/iptablesStatements.ts';
import { describeDifference, judgeMany, randomSites } from './src/judgeMany.ts';
import { NFT_STATEMENTS } from './src/nftStatements.ts';
import { statementSites } from './src/statementSites.ts';

const { values } = parseArgs({
  options: {
    sites: { type: 'string', default: '500' },
    seed: { type: 'string', default: '20260301' },
    first: { type: 'string', default: '0' },
    record: { type: 'string' },
    statements: { type: 'boolean', default: false },
  },
});
const [sites, seed, first] = [Number(values.sites), Number(values.seed), Number(values.first)];
const list = values.statements
  ? [...statementSites('nft', NFT_STATEMENTS), ...statementSites('iptables', IPTABLES_STATEMENTS)]
  : randomSites(sites, seed, first);
let done = 0;
const results = await judgeMany(list, ({ site, index, comparisons, evidence, document }) => {
  done++;
  const differing = comparisons.filter((c) => !c.agrees && c.trace.outcome !== 'unknown');
  if (differing.length > 0) {
    const folder = join(
      import.meta.dirname,
      `../.cache/lab/${values.statements ? 'statements' : seed}-${index}`,
    );
    const put = (path: string, text: string): void => (
      mkdirSync(dirname(join(folder, path)), { recursive: true }),
      writeFileSync(join(folder, path), text)
    );
    put(
      'case.json',
      JSON.stringify(
        { ...document, evidence: [...evidence.keys()].map((file) => ({ stop: file.split('/')[1], file })) },
        null,
        1,
      ),
    );
    for (const [path, text] of evidence) put(path, text);
    put('packets.json', JSON.stringify(differing.map((c) => ({ ...c.packet, kernel: c.truth }))));
    for (const c of differing) console.log(describeDifference(site.title, c));
  }
  if (done % 20 === 0) console.log(`${done} of ${list.length} sites`);
});
if (values.record !== undefined) {
  const lines = [...results]
    .sort((a, b) => a.index - b.index)
    .map(({ site, document, evidence, comparisons }) => {
      const packets = comparisons.map(({ packet, truth }) => ({
        from: packet.from,
        to: packet.to,
        outcome: truth.outcome,
        ...(truth.seen ? { seen: truth.seen } : {}),
      }));
      return JSON.stringify({ title: site.title, document, listed: Object.fromEntries(evidence), packets });
    });
  writeFileSync(values.record, gzipSync(`${lines.join('\n')}\n`, { level: 9 }));
}
const all = results.flatMap((r) => r.comparisons);
const wrong = all.filter((c) => !c.agrees && c.trace.outcome !== 'unknown').length;
const unknown = all.filter((c) => c.trace.outcome === 'unknown').length;
const drifted = all.filter((c) => c.floodDiffers !== null);
for (const c of drifted.slice(0, 20))
  console.log(`flood differs: ${c.packet.from} → ${c.packet.to}: ${c.floodDiffers}`);
console.log(
  `${all.length} packets on ${results.length} sites: wrong ${wrong}, unknown ${unknown}, flood ` +
    `differs ${drifted.length}`,
);
process.exitCode = wrong + drifted.length > 0 ? 1 : 0;
