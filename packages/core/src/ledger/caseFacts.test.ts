import { strToU8 } from 'fflate';
import { expect } from 'chai';
import { checkCaseDocument } from '../case/index.ts';
import type { Reading } from '../facts/index.ts';
import { readCase } from './caseFacts.ts';

const TABLE =
  'Name\tProtocol\tOutside port\tInside address\tInside port\n' + 'radio\tTCP\t8214\t192.168.50.20\t8215\n';

/** The facts of one table, read beside what was read before. */
function facts(more: Record<string, unknown>, cache: Map<string, Reading | null>, text = TABLE) {
  const document = checkCaseDocument({
    format: 'bright-ferry-case',
    version: 1,
    title: 'test',
    path: [{ id: 'gateway', role: 'gateway' }],
    evidence: [{ stop: 'gateway', file: 'evidence/gateway/forwards.txt', ...more }],
  });
  const { files } = readCase(
    { document, files: new Map([['evidence/gateway/forwards.txt', strToU8(text)]]) },
    cache,
  );
  const [file] = files;
  return (file?.facts ?? []).flatMap((f) => (f.kind === 'forward' ? [f] : []));
}

describe('a piece of evidence that was read before', () => {
  const outside = ([first]: ReturnType<typeof facts>) => first?.outside;

  it('is read again once somebody puts a word right in it, and as before without', () => {
    const cache = new Map<string, Reading | null>();
    const before = outside(facts({}, cache));
    const corrections = [{ line: 2, from: '8214', to: '8299' }];
    expect(outside(facts({ corrections }, cache))).to.deep.equal({ is: [{ first: 8299, last: 8299 }] });
    expect(outside(facts({}, cache))).to.deep.equal(before);
  });

  it('is read again once somebody says what its columns are', () => {
    const cache = new Map<string, Reading | null>();
    facts({}, cache);
    const columns = {
      table: 'forwards',
      roles: ['name', 'protocol', 'inside', 'inside-address', 'outside'],
    };
    const said = outside(facts({ columns }, cache));
    const anew = outside(facts({ columns }, new Map()));
    expect(said).to.deep.equal(anew);
  });

  it('is read once: what is kept is what is told', () => {
    const cache = new Map<string, Reading | null>();
    facts({}, cache);
    expect(cache.size).to.equal(1);
    const [key] = cache.keys();
    cache.set(key ?? '', null);
    expect(facts({}, cache)).to.deep.equal([]);
    expect(facts({ command: 'cat forwards.txt' }, cache)).to.have.length(1);
  });
});
