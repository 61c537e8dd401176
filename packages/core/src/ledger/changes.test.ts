import { expect } from 'chai';
import { strToU8 } from 'fflate';
import { checkCaseDocument } from '../case/index.ts';
import { readCase } from './caseFacts.ts';
import { awaited, staleSince } from './changes.ts';

const CHANGE = {
  stop: 'gateway',
  yields: 'forwards',
  title: 'Send the forward to the server',
  at: '2026-11-01T10:30:00Z',
};
const TABLE = 'tcp 8214 192.168.50.31 8214\nudp 28410 192.168.50.20 28410\n';

/** Pieces as `stop/name`, each with its time. */
function facts(
  pieces: readonly (readonly [path: string, at: string | null, text: string])[],
  changes: readonly unknown[] = [CHANGE],
) {
  const document = checkCaseDocument({
    format: 'bright-ferry-case',
    version: 1,
    title: 't',
    changes,
    path: [
      { id: 'client', role: 'client' },
      { id: 'gateway', role: 'gateway' },
      { id: 'host', role: 'host' },
    ],
    evidence: pieces.map(([path, at]) => ({
      stop: path.split('/')[0],
      file: `evidence/${path}.txt`,
      ...(at ? { at } : {}),
    })),
  });
  return readCase({
    document,
    files: new Map(pieces.map(([path, , text]) => [`evidence/${path}.txt`, strToU8(text)])),
  });
}
const stale = (f: ReturnType<typeof facts>): string[] =>
  f.files.filter((x) => staleSince(x, f.document)).map((x) => x.file.replace(/^evidence\/|\.txt$/g, ''));

describe('after a change was made', () => {
  it('the table from before is stale, what does not show it is not', () => {
    const f = facts([
      ['gateway/table', '2026-11-01T10:00:00Z', TABLE],
      ['gateway/status', '2026-11-01T10:00:00Z', 'WAN IP 203.0.113.50\n'],
      ['host/name', null, 'play.example.net has address 203.0.113.50\n'],
    ]);
    expect(stale(f)).to.deep.equal(['gateway/table']);
    expect(awaited(f)).to.deep.equal([CHANGE]);
  });

  it('a table without a time is from before', () =>
    expect(stale(facts([['gateway/table', null, TABLE]]))).to.deep.equal(['gateway/table']));

  it('the table from after it shows the change: nothing is awaited any more', () => {
    const f = facts([
      ['gateway/table', '2026-11-01T10:00:00Z', TABLE],
      ['gateway/new', '2026-11-01T10:31:00Z', TABLE.replace('.31', '.20')],
    ]);
    expect(stale(f)).to.deep.equal(['gateway/table']);
    expect(awaited(f)).to.deep.equal([]);
  });

  it('changes of other kinds and at other stops leave it alone', () => {
    const pieces = [['gateway/table', '2026-11-01T10:00:00Z', TABLE]] as const;
    for (const change of [
      { ...CHANGE, stop: 'host' },
      { ...CHANGE, yields: 'sockets' },
      { ...CHANGE, at: '2026-11-01T09:00:00Z' },
    ])
      expect(stale(facts(pieces, [change]))).to.deep.equal([]);
  });

  it('a record that was changed makes older lookups stale, wherever they were made', () => {
    expect(
      stale(
        facts(
          [['client/name', '2026-11-01T10:00:00Z', 'play.example.net has address 203.0.113.9\n']],
          [{ ...CHANGE, stop: 'host', yields: 'name' }],
        ),
      ),
    ).to.deep.equal(['client/name']);
  });

  it('what is no change is refused, with its place', () => {
    expect(() => facts([], ['x'])).to.throw(/changes\[0\] must be an object/);
    expect(() => facts([], [{ stop: 'gateway' }])).to.throw(/changes\[0\]\.\w+ is a required field/);
  });

  it('a piece of the very moment of the change shows it', () => {
    const shown = facts([['gateway/new', CHANGE.at, TABLE]]);
    expect(awaited(shown)).to.deep.equal([]);
    const before = facts([['gateway/old', '2026-11-01T10:29:59Z', TABLE]]);
    expect(awaited(before).map((c) => c.yields)).to.deep.equal(['forwards']);
    expect(before.files.map((f) => staleSince(f, before.document)?.yields)).to.deep.equal(['forwards']);
  });
});
