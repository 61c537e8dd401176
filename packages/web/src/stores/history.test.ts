import { expect } from 'chai';
import { withTyped, type CaseDocument } from '@bright-ferry/core/case';
import { bytes, DOCUMENT, freshStores, until, type TestServices } from '../testing/stores.ts';
import { Cabinet } from '../storage/cabinet.ts';
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
    await history.change(() => typed('WAN IP 203.0.113.50'), 'Noted.');
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
    await history.change(() => typed('one'), '');
    await history.undo();
    await history.change(() => typed('two'), '');
    expect(history.canRedo).to.equal(false);
    await history.undo();
    expect(history.document).to.deep.equal(DOCUMENT);
  });

  it('amending belongs to the step before it', async () => {
    const history = useHistory();
    await history.open(id);
    await history.change(() => typed('one'), '');
    await history.amend(() => ({ ...typed('one'), title: 'amended' }));
    expect(history.document?.title).to.equal('amended');
    await history.undo();
    expect(history.document).to.deep.equal(DOCUMENT);
  });

  it('is kept with its steps and its evidence, and comes back when it is opened anew', async () => {
    const history = useHistory();
    await history.open(id);
    const file = 'evidence/gateway/note.txt';
    await history.change(
      (d) => ({ ...d, evidence: [{ stop: 'gateway', file, at: '2026-11-01T10:00:00Z' }] }),
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
    await history.change((d) => ({ ...d, evidence }), '', [[file, bytes('x')]]);
    expect(history.exported()?.files.size).to.equal(1);
    await history.undo();
    expect(history.exported()?.files.size).to.equal(0);
    await history.redo();
    expect(history.exported()?.files.size).to.equal(1);
  });

  it('says that nothing is kept where the storage refuses', async () => {
    const history = useHistory();
    await history.open(id);
    let trouble: string | null = null;
    services.cabinet.onTrouble = (text) => (trouble = text);
    const { indexedDB } = globalThis;
    const { put } = IDBObjectStore.prototype;
    IDBObjectStore.prototype.put = () => {
      throw new DOMException('full', 'QuotaExceededError');
    };
    try {
      await history.change(() => typed('one'), '');
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
    await history.change((d) => ({ ...d, evidence }), '', [[file, bytes('x')]]);
    selection.shownSource = { file, line: 1 };
    await history.change((d) => ({ ...d, evidence, title: 'another' }), '');
    expect(selection.shownSource).to.deep.equal({ file, line: 1 });
    await history.undo();
    await history.undo();
    expect(selection.shownSource).to.equal(null);
  });

  it('follows what another page makes of the case, and says so', async () => {
    const history = useHistory();
    await history.open(id);
    const there = new Cabinet();
    const theirs = (await there.open(id))!;
    await there.take(theirs, (s) => ({ ...s, updatedAt: 'later', document: typed('theirs') }));
    await until(() => history.document?.path[2]?.typed?.length === 1);
    expect(useNotices().notice?.text).to.contain('Changed in another page');
    expect(history.keptAt).to.equal('later');
  });

  it('two steps at once on a case that another page has changed are both made on it', async () => {
    const history = useHistory();
    await history.open(id);
    const there = new Cabinet();
    const theirs = (await there.open(id))!;
    there.elsewhere.tell = () => undefined;
    await there.take(theirs, (s) => ({ ...s, document: { ...s.document, title: 'theirs' } }));
    const add = (text: string) => (d: CaseDocument) => withTyped(d, 'gateway', { text });
    await Promise.all([history.change(add('one'), ''), history.change(add('two'), '')]);
    expect(history.document?.title).to.equal('theirs');
    expect(history.document?.path[2]?.typed?.map((t) => t.text)).to.deep.equal(['one', 'two']);
    expect((await new Cabinet().open(id))?.document).to.deep.equal(history.document);
  });

  it('a case that is removed elsewhere is not kept any more until the next change', async () => {
    const history = useHistory();
    await history.open(id);
    await new Cabinet().remove(id);
    await until(() => history.keptAt === null);
    expect(useNotices().notice?.text).to.contain('removed in another page');
    await history.change(() => typed('one'), 'Noted.');
    expect(useNotices().notice?.text).to.contain('kept again, whole');
    expect((await new Cabinet().open(id))?.document).to.deep.equal(typed('one'));
  });

  it('knows no case of another id', async () => {
    expect(await useHistory().open('nothing')).to.equal(false);
    expect(useHistory().document).to.equal(null);
    await useHistory().change((d) => d, 'nothing happens');
    await useHistory().undo();
    expect(useHistory().exported()).to.equal(null);
  });
});
