import { expect } from 'chai';
import { withTyped } from '@bright-ferry/core/case';
import { bytes, DOCUMENT, freshStores, type TestServices } from '../testing/stores.ts';
import { useHistory } from './history.ts';
import { useNotices } from './notices.ts';
import { useSelection } from './selection.ts';

describe('the history of a case', () => {
  let services: TestServices;
  let id = '';

  beforeEach(async () => {
    services = await freshStores();
    id = await services.cabinet.add({ document: DOCUMENT, files: new Map() }, '2026-11-01T10:00:00Z');
  });

  const typed = (text: string) => withTyped(DOCUMENT, 'gateway', { text, at: '2026-11-01T10:00:00Z' });

  it('a change is a step that can be taken back and done again', async () => {
    const history = useHistory();
    expect(await history.open(id)).to.equal(true);
    expect([history.canUndo, history.canRedo]).to.deep.equal([false, false]);
    await history.change(typed('WAN IP 203.0.113.50'), 'Noted.');
    expect(useNotices().notice).to.deep.include({ kind: 'done', text: 'Noted.', canUndo: true });
    expect([history.canUndo, history.canRedo]).to.deep.equal([true, false]);
    await history.undo();
    expect(history.document).to.deep.equal(DOCUMENT);
    expect([history.canUndo, history.canRedo]).to.deep.equal([false, true]);
    await history.redo();
    expect(history.document).to.deep.equal(typed('WAN IP 203.0.113.50'));
  });

  it('a new change after undo forgets what was taken back', async () => {
    const history = useHistory();
    await history.open(id);
    await history.change(typed('one'), '');
    await history.undo();
    await history.change(typed('two'), '');
    expect(history.canRedo).to.equal(false);
    await history.undo();
    expect(history.document).to.deep.equal(DOCUMENT);
  });

  it('amending belongs to the step before it', async () => {
    const history = useHistory();
    await history.open(id);
    await history.change(typed('one'), '');
    await history.amend({ ...typed('one'), title: 'amended' });
    expect(history.document?.title).to.equal('amended');
    await history.undo();
    expect(history.document).to.deep.equal(DOCUMENT);
  });

  it('is kept with its steps and its evidence, and comes back when it is opened anew', async () => {
    const history = useHistory();
    await history.open(id);
    const file = 'evidence/gateway/note.txt';
    await history.change(
      { ...DOCUMENT, evidence: [{ stop: 'gateway', file, at: '2026-11-01T10:00:00Z' }] },
      '',
      [[file, bytes('WAN IP 203.0.113.50\n')]],
    );
    expect(history.textOf(file)).to.equal('WAN IP 203.0.113.50\n');
    const kept = await services.cabinet.open(id);
    expect(kept?.past).to.deep.equal([DOCUMENT]);
    expect([...(kept?.files.keys() ?? [])]).to.deep.equal([file]);
    expect(kept?.updatedAt).to.equal(history.keptAt);
  });

  it('exports what the document names, not what was taken back', async () => {
    const history = useHistory();
    await history.open(id);
    const file = 'evidence/gateway/note.txt';
    const evidence = [{ stop: 'gateway', file, at: '2026-11-01T10:00:00Z' }];
    await history.change({ ...DOCUMENT, evidence }, '', [[file, bytes('x')]]);
    expect(history.exported()?.files.size).to.equal(1);
    await history.undo();
    expect(history.exported()?.files.size).to.equal(0);
    await history.redo();
    expect(history.exported()?.files.size).to.equal(1);
  });

  it('says that nothing is kept where the storage refuses', async () => {
    const history = useHistory();
    await history.open(id);
    let trouble = '';
    services.cabinet.onTrouble = (text) => (trouble = text);
    const { indexedDB } = globalThis;
    const { put } = IDBObjectStore.prototype;
    IDBObjectStore.prototype.put = () => {
      throw new DOMException('full', 'QuotaExceededError');
    };
    try {
      await history.change(typed('one'), '');
    } finally {
      IDBObjectStore.prototype.put = put;
    }
    expect(indexedDB).to.not.equal(undefined);
    expect(history.keptAt).to.equal(null);
    expect(trouble).to.contain('full');
    expect(history.document).to.deep.equal(typed('one'));
    expect((await services.cabinet.open(id))?.document).to.deep.equal(typed('one'));
  });

  it('closes an original that a step takes away, and ends a rehearsal', async () => {
    const history = useHistory();
    const selection = useSelection();
    await history.open(id);
    const file = 'evidence/gateway/note.txt';
    const evidence = [{ stop: 'gateway', file, at: '2026-11-01T10:00:00Z' }];
    await history.change({ ...DOCUMENT, evidence }, '', [[file, bytes('x')]]);
    selection.shownSource = { file, line: 1 };
    await history.change({ ...DOCUMENT, evidence, title: 'another' }, '');
    expect(selection.shownSource).to.deep.equal({ file, line: 1 });
    await history.undo();
    await history.undo();
    expect(selection.shownSource).to.equal(null);
  });

  it('knows no case of another id', async () => {
    expect(await useHistory().open('nothing')).to.equal(false);
    expect(useHistory().document).to.equal(null);
    await useHistory().change(DOCUMENT, 'nothing happens');
    await useHistory().undo();
    expect(useHistory().exported()).to.equal(null);
  });
});
