import { expect } from 'chai';
import { bytes, DOCUMENT, freshStores } from '../testing/stores.ts';
import { useHistory } from './history.ts';
import { useTraffic } from './traffic.ts';

/** Stands in for the browser's worker: notes what it was given, and answers nothing. */
class Silent {
  static given: unknown[] = [];
  addEventListener(): void {
    return undefined;
  }
  postMessage(request: unknown): void {
    Silent.given.push(request);
  }
  terminate(): void {
    return undefined;
  }
}

describe('records of traffic', () => {
  const before = globalThis.Worker;
  beforeEach(() => {
    Silent.given = [];
    Object.assign(globalThis, { Worker: Silent });
  });
  after(() => Object.assign(globalThis, { Worker: before }));

  it('what is brought while its case is being opened is kept, selected, and waits for it', async () => {
    const services = await freshStores();
    const evidence = [{ stop: 'gateway', file: 'evidence/gateway/log.txt' }];
    const files = new Map([['evidence/gateway/log.txt', bytes('a log\n')]]);
    const id = await services.cabinet.add(
      { document: { ...DOCUMENT, evidence }, files },
      '2026-11-01T10:00:00Z',
    );
    const traffic = useTraffic();
    traffic.begin();
    traffic.bring(new File(['brought\n'], 'brought.log'));
    expect(Silent.given).to.have.length(0);
    await useHistory().open(id);
    traffic.open();
    expect(traffic.sources.map((s) => s.name)).to.deep.equal(['log.txt', 'brought.log']);
    expect(traffic.current?.name).to.equal('brought.log');
    expect(Silent.given).to.have.length(1);
  });

  it('another case begins without what was brought for the one before', async () => {
    const services = await freshStores();
    const id = await services.cabinet.add({ document: DOCUMENT, files: new Map() }, '2026-11-01T10:00:00Z');
    await useHistory().open(id);
    const traffic = useTraffic();
    traffic.begin();
    traffic.open();
    traffic.bring(new File(['brought\n'], 'brought.log'));
    expect(Silent.given).to.have.length(1);
    traffic.begin();
    traffic.open();
    expect(traffic.sources).to.deep.equal([]);
  });
});
