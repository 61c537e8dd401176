import 'fake-indexeddb/auto';
import { expect } from 'chai';
import { withTyped } from '@bright-ferry/core/case';
import { bytes, DOCUMENT } from '../testing/stores.ts';
import { Cabinet, type OpenCase, type Step } from './cabinet.ts';

const FILE = 'evidence/gateway/a.txt';

const typed =
  (text: string): Step =>
  (s) => ({
    ...s,
    updatedAt: `${s.updatedAt}+`,
    document: withTyped(s.document, 'gateway', { text, at: '2026-11-01T10:00:00Z' }),
    past: [...s.past, s.document],
  });

const withPiece = (path: string): Step => {
  const entry = { stop: 'gateway', file: path, at: '2026-11-01T10:00:00Z' };
  return (s) => ({
    ...s,
    document: { ...s.document, evidence: [...(s.document.evidence ?? []), entry] },
    files: new Map([...s.files, [path, bytes(path)]]),
  });
};

const lines = (state: OpenCase | null): string[] =>
  (state?.document.path.find((s) => s.id === 'gateway')?.typed ?? []).map((t) => t.text);

/** Nothing can be written while it runs. */
async function whileFull(work: () => Promise<unknown>): Promise<void> {
  const { put } = IDBObjectStore.prototype;
  IDBObjectStore.prototype.put = () => {
    throw new DOMException('full', 'QuotaExceededError');
  };
  try {
    await work();
  } finally {
    IDBObjectStore.prototype.put = put;
  }
}

describe('the cabinet of cases', () => {
  let here: Cabinet;
  let id = '';
  let opened: OpenCase;
  const reopened = (): Promise<OpenCase | null> => new Cabinet().open(id);

  beforeEach(async () => {
    here = new Cabinet();
    id = await here.add({ document: DOCUMENT, files: new Map() }, '2026-11-01T10:00:00Z');
    opened = (await here.open(id))!;
  });

  it('evidence of a write that failed is written by the next one that does not', async () => {
    let failed: OpenCase = opened;
    await whileFull(async () => {
      const taken = await here.take(opened, withPiece(FILE));
      expect(taken.isKept).to.equal(false);
      failed = taken.state;
    });
    expect((await reopened())?.files.size).to.equal(0);
    const { isKept } = await here.take(failed, typed('one'));
    expect(isKept).to.equal(true);
    const kept = await reopened();
    expect([...(kept?.files.keys() ?? [])]).to.deep.equal([FILE]);
    expect(lines(kept)).to.deep.equal(['one']);
  });

  it('trouble ends once everything is written again', async () => {
    const said: (string | null)[] = [];
    here.onTrouble = (text) => said.push(text);
    await whileFull(() => here.take(opened, typed('one')));
    await here.take((await here.open(id))!, typed('two'));
    expect(said[0]).to.contain('full');
    expect(said[said.length - 1]).to.equal(null);
    expect(lines(await reopened())).to.deep.equal(['one', 'two']);
  });

  it('two pages that change one case both find both changes', async () => {
    const there = new Cabinet();
    const theirs = (await there.open(id))!;
    await here.take(opened, withPiece(FILE));
    const taken = await there.take(theirs, typed('of the other page'));
    expect(taken.met).to.equal('change');
    expect(lines(taken.state)).to.deep.equal(['of the other page']);
    expect([...taken.state.files.keys()]).to.deep.equal([FILE]);
    const kept = await reopened();
    expect(kept?.document.evidence?.map((e) => e.file)).to.deep.equal([FILE]);
    expect(lines(kept)).to.deep.equal(['of the other page']);
  });

  it('a look at the newest state elsewhere does not hide what another page changed', async () => {
    const there = new Cabinet();
    await there.take((await there.open(id))!, typed('theirs'));
    await here.open(id);
    const taken = await here.take(opened, typed('mine'));
    expect(taken.met).to.equal('change');
    expect(lines(await reopened())).to.deep.equal(['theirs', 'mine']);
  });

  it('a case whose newest state is in memory only is not called kept when it is opened again', async () => {
    await whileFull(() => here.take(opened, typed('one')));
    expect(here.isKept(id)).to.equal(false);
    await here.take((await here.open(id))!, typed('two'));
    expect(here.isKept(id)).to.equal(true);
  });

  it('steps that were in memory only are made on what another page wrote meanwhile', async () => {
    const there = new Cabinet();
    const theirs = (await there.open(id))!;
    let mine = opened;
    await whileFull(async () => (mine = (await here.take(opened, typed('mine'))).state));
    await there.take(theirs, typed('theirs'));
    const taken = await here.take(mine, typed('mine again'));
    expect(taken.met).to.equal('change');
    expect(lines(await reopened())).to.deep.equal(['theirs', 'mine', 'mine again']);
  });

  it('a case that another page removed is kept again whole by the next change', async () => {
    const { state } = await here.take(opened, withPiece(FILE));
    await new Cabinet().remove(id);
    expect(await reopened()).to.equal(null);
    const taken = await here.take(state, typed('one'));
    expect(taken.met).to.equal('removal');
    const kept = await reopened();
    expect([...(kept?.files.keys() ?? [])]).to.deep.equal([FILE]);
    expect(lines(kept)).to.deep.equal(['one']);
  });

  it('tells other pages what it did', async () => {
    const there = new Cabinet();
    const heard: unknown[] = [];
    const both = new Promise<void>((resolve) => {
      there.elsewhere.onHappened = (what) => {
        if (what.id === id && heard.push(what) === 2) resolve();
      };
    });
    await here.take(opened, typed('one'));
    await here.remove(id);
    await both;
    expect(heard).to.deep.equal([
      { id, is: 'changed' },
      { id, is: 'removed' },
    ]);
  });

  it('lists cases by their heads: when a change waits for a try, and what is closed', async () => {
    const made = { stop: 'gateway', yields: 'forwards' as const, title: 'x', at: '2026-11-02T10:00:00Z' };
    const retest = async (): Promise<string | null | undefined> =>
      (await here.list()).find((c) => c.id === id)?.retest;
    const { state } = await here.take(opened, (s) => ({
      ...s,
      document: { ...s.document, changes: [made] },
    }));
    expect(await retest()).to.equal('2026-11-02T10:00:00Z');
    const seen = { vantage: 'client', to: 'x', outcome: 'answered', at: '2026-11-02T11:00:00Z' } as const;
    await here.take(state, (s) => ({ ...s, document: { ...s.document, observations: [seen] } }));
    expect(await retest()).to.equal(null);
    const [head] = (await here.list()).filter((c) => c.id === id);
    expect(head).to.deep.include({ title: 'Gullcast', dials: '203.0.113.50:8214', from: '198.51.100.23' });
  });
});
