import { readFileSync } from 'node:fs';
import { expect } from 'chai';
import { checkCaseDocument, type CaseDocument } from '../case/index.ts';
import { readText } from '../reading/index.ts';
import { assignStop } from './assign.ts';
import { readCase } from './caseFacts.ts';

interface Recorded {
  readonly title: string;
  readonly document: CaseDocument;
  readonly listed: Readonly<Record<string, string>>;
}

const recorded = readFileSync(new URL('../mend/recorded.jsonl', import.meta.url), 'utf8')
  .split('\n')
  .filter((line) => line !== '')
  .map((line) => JSON.parse(line) as Recorded);

const machineOf = ({ document }: Recorded, file: string): string =>
  document.evidence?.find((e) => e.file === file)?.stop ?? '';

/** Each piece of a site, put where the rest of the evidence makes it belong. */
function placed(
  site: Recorded,
): { readonly file: string; readonly from: string; readonly to: string; readonly sure: boolean }[] {
  const encoder = new TextEncoder();
  return Object.entries(site.listed).flatMap(([file, text]) => {
    const others = new Map(
      Object.entries(site.listed).flatMap(([name, t]) =>
        name === file ? [] : [[name, encoder.encode(t)] as const],
      ),
    );
    const document = checkCaseDocument({
      ...site.document,
      client: { address: '198.51.100.23', dials: '198.51.100.80:8214' },
      evidence: (site.document.evidence ?? []).filter((e) => e.file !== file),
    });
    const reading = readText(text);
    if (!reading) return [];
    const { stop, sure } = assignStop(reading, readCase({ document, files: others }));
    return [{ file, from: machineOf(site, file), to: stop, sure }];
  });
}

describe('pieces of machines of the lab, put where they belong', () => {
  for (const site of recorded)
    it(site.title, () => {
      const all = placed(site);
      // Where there is one machine to look at, nobody asks the client for its rules.
      const asked = all.filter(
        (p) => site.document.path.length > 2 || p.file !== 'evidence/client/rules0.txt',
      );
      expect(asked.filter((p) => p.sure && p.to !== p.from)).to.deep.equal([]);
      expect(all.filter((p) => p.sure).length).to.be.above(all.length / 4);
    });
});
