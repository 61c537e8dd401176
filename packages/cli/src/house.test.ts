import { readFileSync, readdirSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { expect } from 'chai';

const root = fileURLToPath(new URL('../../../', import.meta.url));

describe('the rooms of the core', () => {
  it('are the same in the list that the linter keeps, in the documentation, and on disk', async () => {
    const { ROOMS } = (await import(`${root}scripts/rooms.mjs`)) as { ROOMS: readonly string[] };
    const text = readFileSync(`${root}docs/architecture.md`, 'utf8');
    const documented = [...text.matchAll(/^\| `([a-z]+)\/` \|/gm)].map((m) => m[1]);
    expect(documented).to.deep.equal(ROOMS);
    const folders = readdirSync(`${root}packages/core/src`, { withFileTypes: true })
      .filter((e) => e.isDirectory())
      .map((e) => e.name);
    expect(folders).to.have.members(ROOMS);
  });
});
