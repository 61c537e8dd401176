import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { expect } from 'chai';
import { readFile } from './readCommand.ts';

const FOLDER = fileURLToPath(new URL('../../core/src/reading/examples/', import.meta.url));
/**
 * What real programs printed, with what is true of the machines that they ran on: taken from their set-up,
 * not from the text.
 */
const EXPECTED = JSON.parse(readFileSync(`${FOLDER}expected.json`, 'utf8')) as {
  file: string;
  command: string;
  facts: Record<string, unknown>;
}[];

/** Values of the expectation that the reading does not hold. Lists hold in any order. */
function missing(expected: unknown, found: unknown, path: string): string[] {
  if (Array.isArray(expected)) {
    if (!Array.isArray(found)) return [`${path}: no list`];
    return expected.flatMap((e, i) => {
      const best = found.map((f) => missing(e, f, `${path}[${i}]`)).sort((a, b) => a.length - b.length)[0];
      return best ?? [`${path}[${i}]: ${JSON.stringify(e)}`];
    });
  }
  if (typeof expected === 'object' && expected !== null) {
    if (typeof found !== 'object' || found === null) return [`${path}: nothing`];
    return Object.entries(expected).flatMap(([key, value]) => {
      const own = (found as Record<string, unknown>)[key];
      return own === undefined &&
        (value === null || value === false || (Array.isArray(value) && value.length === 0))
        ? []
        : missing(value, own, `${path}.${key}`);
    });
  }
  const same =
    expected === found ||
    (expected === null && found === '') ||
    (typeof expected === 'string' &&
      typeof found === 'string' &&
      expected.toLowerCase() === found.toLowerCase());
  return same ? [] : [`${path}: ${JSON.stringify(expected)}, found ${JSON.stringify(found)}`];
}

describe('read: what real programs printed', () => {
  for (const { file, command, facts } of EXPECTED) {
    it(`${file} (${command.slice(0, 50)})`, () => {
      const document = readFile(`${FOLDER}${file}`);
      expect(document.format, 'recognised').to.not.equal(null);
      expect(missing(facts, document.facts, '')).to.deep.equal([]);
    });
  }
});
