import { expect } from 'chai';
import { openedBy, SITUATIONS, type Situation } from '../testing/situations.ts';
import { bytes, freshStores } from '../testing/stores.ts';
import { useAnalysis } from './analysis.ts';
import { useEdits } from './edits.ts';
import { useHistory } from './history.ts';
import { useIntake } from './intake.ts';

const NOW = '2026-11-01T10:00:00Z';

/** The pieces as they are listed, backwards, and from the middle on. */
function orders<T>(list: readonly T[]): T[][] {
  const half = Math.floor(list.length / 2);
  return [[...list], [...list].reverse(), [...list.slice(half), ...list.slice(0, half)]];
}

/** Takes a situation in as a technician does, who says whose a piece is where that is asked. */
async function headline(situation: Situation, pieces: Situation['pieces']): Promise<string> {
  const { cabinet } = await freshStores();
  const document = openedBy(situation, NOW);
  useAnalysis();
  const history = useHistory();
  await history.open(await cabinet.add({ document, files: new Map() }, NOW));
  const [intake, analysis] = [useIntake(), useAnalysis()];
  for (const [stop, text] of pieces) {
    if (stop === 'typed') await intake.typeFact(text);
    else await intake.takeIn(bytes(text));
    if (intake.pending) await intake.assign(stop);
    else if (stop !== 'typed') expect(placeOf(text), text.slice(0, 60)).to.equal(stop);
    await analysis.settled();
  }
  if (situation.whole) {
    await useEdits().setWhole((history.document?.evidence ?? []).map((e) => e.file));
    await analysis.settled();
  }
  expect(analysis.view?.warnings.join('; ') ?? '').to.match(situation.warned ?? /^/);
  expect(analysis.view?.afterwards?.text ?? '').to.match(situation.then ?? /^$/);
  return analysis.view?.verdict.headline ?? '';
}

/** Where the piece that came in last was put by itself. */
function placeOf(text: string): string | undefined {
  const found = useHistory().document?.evidence?.findLast((e) => {
    const kept = useHistory().current?.files.get(e.file);
    return kept !== undefined && new TextDecoder().decode(kept) === text;
  });
  return found?.stop;
}

describe('situations: the evidence in any order ends in the same verdict', () => {
  for (const situation of SITUATIONS)
    it(situation.title, async () => {
      for (const order of orders(situation.pieces))
        expect(await headline(situation, order)).to.match(situation.seen);
    });
});
