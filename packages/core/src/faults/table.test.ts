import { readFileSync } from 'node:fs';
import { expect } from 'chai';
import { ASKS } from '../asks/index.ts';
import { FAULTS, FAULT_IDS, type FaultId, type FaultPlace, type FaultSign } from './index.ts';

const HEADINGS: Readonly<Record<FaultPlace, string>> = {
  dialled: 'What is dialled, and the name',
  carrier: 'The carrier',
  gateway: 'Each gateway',
  perimeter: 'The perimeter of a rented machine',
  host: 'The server’s machine',
  program: 'The listening program',
  test: 'The test itself',
  anywhere: 'Met in practice, across the places',
};

/** The ids of docs/faults.md with the heading under which they stand, and with what a client sees. */
function catalogue(): { readonly written: Map<string, string>; readonly seen: Map<string, string> } {
  const written = new Map<string, string>();
  const seen = new Map<string, string>();
  let heading = '';
  for (const line of readFileSync(new URL('../../../../docs/faults.md', import.meta.url), 'utf8').split(
    '\n',
  )) {
    heading = /^## (.*)/.exec(line)?.[1] ?? heading;
    const [, first = '', , sees = ''] = line.split('|');
    if (!line.startsWith('| `')) continue;
    for (const m of first.matchAll(/`([a-z0-9-]+)`/g)) {
      written.set(m[1] ?? '', heading);
      seen.set(m[1] ?? '', sees.trim());
    }
  }
  return { written, seen };
}

describe('the table of faults', () => {
  const { written, seen } = catalogue();

  it('holds every id of the catalogue, and no other', () =>
    expect([...FAULT_IDS].sort()).to.deep.equal([...written.keys()].sort()));

  it('puts each where the catalogue has it', () => {
    for (const id of FAULT_IDS) expect(HEADINGS[FAULTS[id].place], id).to.equal(written.get(id));
  });

  const signs: readonly (readonly [FaultSign, RegExp])[] = [
    ['lost', /silence/],
    ['refused', /refused|closed/],
    ['connects-then-fails', /connects/],
    ['sometimes', /now and then|sometimes|then works|worked, then|fine for new ones/],
    ['name-unknown', /unknown host|instant error/],
  ];
  for (const [sign, said] of signs)
    it(`has what a client sees of it as the catalogue has it: ${sign}`, () => {
      for (const [id, text] of seen) {
        const sees: readonly string[] = FAULTS[id as FaultId].sees;
        if (said.test(text)) expect(sees, `${id}: ${text}`).to.include(sign);
        // A stranger who has the address, or a page, may do anything; what was tested wrongly is never seen.
        else if (sign !== 'lost' && !/stranger|–|gateway answers/.test(text))
          expect(sees, `${id}: ${text}`).to.not.include(sign);
      }
    });

  it('weighs each against the others', () => {
    for (const id of FAULT_IDS) expect(FAULTS[id].weight, id).to.be.within(1, 9);
  });

  it('names evidence that can be asked for', () => {
    const asks: readonly (string | null)[] = [...ASKS, null];
    for (const id of FAULT_IDS) expect(asks, id).to.include(FAULTS[id].shownBy);
  });
});
