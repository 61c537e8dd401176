import { expect } from 'chai';
import { describeDifference, judgeMany, randomSites } from './src/judgeMany.ts';

/** Sites of the short form; more with `npm run lab -- --sites N --seed S`. */
const SITES = 40;
const SEED = 20260301;

describe(`what the core says against what the kernel does (${SITES} sites, seed ${SEED})`, () => {
  it('never differs, and is seldom unknown', async () => {
    const sites = await judgeMany(randomSites(SITES, SEED));
    const all = sites.flatMap((s) => s.comparisons);
    const told = sites.flatMap((s) =>
      s.comparisons
        .filter((c) => !c.agrees)
        .map((c) => ({ unknown: c.trace.outcome === 'unknown', text: describeDifference(s.site.title, c) })),
    );
    const count = (outcome: string): number => all.filter((c) => c.truth.outcome === outcome).length;
    const wrong = told.filter((t) => !t.unknown).map((t) => t.text);
    const unknown = told.filter((t) => t.unknown).map((t) => t.text);
    console.log(
      `      ${all.length} packets: answered ${count('answered')}, refused ${count('refused')}, ` +
        `lost ${count('lost')}; wrong ${wrong.length}, unknown ${unknown.length}`,
    );
    expect(wrong, wrong.join('\n')).to.deep.equal([]);
    const drifted = sites.flatMap((s) =>
      s.comparisons.flatMap((c) =>
        c.floodDiffers ? [`${describeDifference(s.site.title, c)}: ${c.floodDiffers}`] : [],
      ),
    );
    expect(drifted, drifted.join('\n')).to.deep.equal([]);
    expect(unknown.length, unknown.join('\n')).to.be.at.most(all.length * 0.01);
    // A lab that only ever sees silence would prove nothing.
    for (const outcome of ['answered', 'refused', 'lost'])
      expect(count(outcome), outcome).to.be.above(all.length * 0.1);
  });
});
