import { readFileSync } from 'node:fs';
import { expect } from 'chai';
import { checkCaseDocument } from '../case/index.ts';
import { readCase } from '../ledger/index.ts';
import { parseEndpoint, parseTarget } from '../net/index.ts';
import { commandsOf, mendChain, sceneFrom } from './index.ts';

/**
 * Broken machines of the lab (`lab/mends.test.ts`): what they listed, and the commands that let the client in
 * and took that back, as a kernel has proven them.
 */
interface Proven {
  readonly title: string;
  readonly document: unknown;
  readonly listed: Readonly<Record<string, string>>;
  readonly commands: readonly string[];
  readonly undo: readonly string[];
}

const proven = readFileSync(new URL('recorded.jsonl', import.meta.url), 'utf8')
  .split('\n')
  .filter((line) => line !== '')
  .map((line) => JSON.parse(line) as Proven);

const mends = ({ document, listed }: Proven) => {
  const encoder = new TextEncoder();
  const files = new Map(Object.entries(listed).map(([name, text]) => [name, encoder.encode(text)]));
  const facts = readCase({ document: checkCaseDocument(document), files });
  const [target, source] = [parseTarget('198.51.100.80:8214/tcp'), parseEndpoint('198.51.100.23:40000')];
  if (!target || !source) throw new Error('no packet');
  const destination = { address: target.address, port: target.port };
  return mendChain(facts, sceneFrom(facts, { transport: 'tcp', source, destination }));
};

describe('mends that a kernel has proven', () => {
  for (const site of proven)
    it(site.title, () => {
      const steps = mends(site);
      const made = steps.flatMap(({ mend }) => (mend ? [commandsOf(mend)] : []));
      expect(steps[0]?.trace.outcome).to.not.equal('answered');
      expect(steps.at(-1)?.trace.outcome).to.equal('answered');
      expect(made.flatMap((m) => m.commands)).to.deep.equal(site.commands);
      expect(made.toReversed().flatMap((m) => m.undo)).to.deep.equal(site.undo);
    });
});
