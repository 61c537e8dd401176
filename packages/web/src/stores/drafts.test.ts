import { expect } from 'chai';
import { createPinia, setActivePinia } from 'pinia';
import { DOCUMENT, freshStores } from '../testing/stores.ts';
import { useDrafts, type Draft } from './drafts.ts';
import { useHistory } from './history.ts';

const DRAFT: Draft = {
  kind: 'forward-table',
  fields: { exposedHost: '192.168.50.20' },
  tables: { rows: [{ protocol: 'tcp', ports: '8214' }] },
};
const moment = (): Promise<void> => new Promise((done) => setTimeout(done, 20));

describe('forms that are not kept yet', () => {
  let id = '';
  beforeEach(async () => {
    const { cabinet } = await freshStores();
    id = await cabinet.add({ document: DOCUMENT, files: new Map() }, '2026-11-01T10:00:00Z');
    await useHistory().open(id);
    useDrafts();
    await moment();
  });

  it('stay while something else is looked at, until they are kept', () => {
    useDrafts().set('gateway', DRAFT);
    expect(useDrafts().of('gateway')).to.deep.equal(DRAFT);
    expect(useDrafts().of('server')).to.equal(null);
    useDrafts().set('gateway', null);
    expect(useDrafts().of('gateway')).to.equal(null);
  });

  it('are there again after a reload, and in no other case', async () => {
    useDrafts().set('gateway', DRAFT);
    await moment();
    setActivePinia(createPinia());
    await useHistory().open(id);
    useDrafts();
    await moment();
    expect(useDrafts().of('gateway')).to.deep.equal(DRAFT);
    useHistory().close();
    await moment();
    expect(useDrafts().of('gateway')).to.equal(null);
  });
});
