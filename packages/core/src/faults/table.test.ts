import { readFileSync } from 'node:fs';
import { expect } from 'chai';
import { ASKS } from '../asks/index.ts';
import { FAULTS, FAULT_IDS, type FaultPlace } from './index.ts';

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

/** The ids of docs/faults.md with the heading under which they stand. */
function catalogue(): Map<string, string> {
  const ids = new Map<string, string>();
  let heading = '';
  for (const line of readFileSync(new URL('../../../../docs/faults.md', import.meta.url), 'utf8').split(
    '\n',
  )) {
    heading = /^## (.*)/.exec(line)?.[1] ?? heading;
    const [, first = ''] = line.split('|');
    if (!line.startsWith('| `')) continue;
    for (const m of first.matchAll(/`([a-z0-9-]+)`/g)) ids.set(m[1] ?? '', heading);
  }
  return ids;
}

describe('the table of faults', () => {
  const written = catalogue();

  it('holds every id of the catalogue, and no other', () =>
    expect([...FAULT_IDS].sort()).to.deep.equal([...written.keys()].sort()));

  it('puts each where the catalogue has it', () => {
    for (const id of FAULT_IDS) expect(HEADINGS[FAULTS[id].place], id).to.equal(written.get(id));
  });

  it('names evidence that can be asked for', () => {
    const asks: readonly (string | null)[] = [...ASKS, null];
    for (const id of FAULT_IDS) expect(asks, id).to.include(FAULTS[id].shownBy);
  });
});
