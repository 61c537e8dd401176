import { expect } from 'chai';
import { judge, type Comparison } from './src/judge.ts';
import { endingText } from '@bright-ferry/core/words';
import { canMakeNamespaces } from './src/namespaces.ts';
import { random } from './src/random.ts';
import { randomSite } from './src/sites.ts';

/** Sites of the short form; more with `npm run lab -- --sites N --seed S`. */
const SITES = Number(process.env['LAB_SITES'] ?? 40);
const SEED = Number(process.env['LAB_SEED'] ?? 20260301);
/** Sites that are judged at the same time; each waits most of its time. */
const AT_ONCE = 4;

const describeOne = (title: string, c: Comparison): string => `${title}: ${c.packet.from} → ${c.packet.to}: the kernel ${c.truth.outcome}${c.truth.errno ? ` (${c.truth.errno})` : ''}${c.truth.seen ? ` ${JSON.stringify(c.truth.seen)}` : ''}, the core ${c.trace.outcome} at ${c.trace.stop} (${endingText(c.trace.shown.ending, c.trace.stop, (id) => id ?? '')}; ${c.trace.needs.map((q) => q.needs).join('; ')})`;

describe(`what the core says against what the kernel does (${SITES} sites, seed ${SEED})`, () => {
  before(function () {
    if (!canMakeNamespaces()) this.skip();
  });

  it('never differs, and is seldom unknown', async () => {
    const all: Comparison[] = [];
    const wrong: string[] = [];
    const unknown: string[] = [];
    const indexes = Array.from({ length: SITES }, (_, i) => i);
    await Promise.all(Array.from({ length: AT_ONCE }, async (_, lane) => {
      for (let i = indexes.shift(); i !== undefined; i = indexes.shift()) {
        const site = randomSite(random(SEED + i), i);
        const { comparisons } = await judge(site, `n${lane}`);
        all.push(...comparisons);
        for (const c of comparisons) if (!c.agrees) (c.trace.outcome === 'unknown' ? unknown : wrong).push(describeOne(site.title, c));
      }
    }));
    const count = (outcome: string): number => all.filter((c) => c.truth.outcome === outcome).length;
    console.log(`      ${all.length} packets: answered ${count('answered')}, refused ${count('refused')}, lost ${count('lost')}; wrong ${wrong.length}, unknown ${unknown.length}`);
    expect(wrong, wrong.join('\n')).to.deep.equal([]);
    expect(unknown.length, unknown.join('\n')).to.be.at.most(all.length * 0.01);
    // A lab that only ever sees silence would prove nothing.
    for (const outcome of ['answered', 'refused', 'lost']) expect(count(outcome), outcome).to.be.above(all.length * 0.1);
  });
});
