import { expect } from 'chai';
import { withTyped } from '@bright-ferry/core/case';
import { DOCUMENT, freshStores, until, type TestServices } from '../testing/stores.ts';
import { useAnalysis } from './analysis.ts';
import { useCabinet } from './cabinet.ts';
import { found, groupOf, useDesk, type DeskCase } from './desk.ts';
import { useHistory } from './history.ts';

describe('the desk', () => {
  let services: TestServices;
  const LINE = {
    lamp: 'fogged',
    word: 'Not known yet',
    place: null,
    waits: 'the forwards',
    turn: 'owner',
  } as const;
  const CASE: DeskCase = {
    id: 'a',
    updatedAt: '2026-11-01T10:00:00Z',
    title: 'Gullcast, the harbour radio',
    service: 'Gullcast',
    dials: 'radio.gannet.example.net:8214',
    from: '198.51.100.23',
    closed: null,
    retest: null,
    line: LINE,
  };

  beforeEach(async () => {
    services = await freshStores();
  });

  it('works out the cases that were never on the bench, and keeps what it found', async () => {
    await services.cabinet.add({ document: DOCUMENT, files: new Map() }, '2026-11-01T10:00:00Z');
    await useDesk().load();
    const [line] = useDesk().cases;
    expect(line?.line).to.deep.include({ lamp: 'fogged', turn: 'owner' });
    const asked = services.analyst.asked.length;
    await useDesk().load();
    expect(services.analyst.asked.length, 'it is not worked out twice').to.equal(asked);
  });

  it('follows the bench', async () => {
    const id = await services.cabinet.add({ document: DOCUMENT, files: new Map() }, '2026-11-01T10:00:00Z');
    await useHistory().open(id);
    const analysis = useAnalysis();
    await analysis.settled();
    await useHistory().change((d) => withTyped(d, 'gateway', { text: 'WAN IP 192.168.1.2' }), '');
    await analysis.settled();
    await useCabinet().refresh();
    await until(() => useDesk().cases[0]?.line !== null);
    expect(useDesk().cases[0]?.updatedAt).to.equal(useHistory().keptAt);
  });

  it('says whose turn it is', () => {
    expect(groupOf(CASE)).to.equal('owner');
    expect(groupOf({ ...CASE, line: { ...LINE, turn: 'client' } })).to.equal('client');
    expect(groupOf({ ...CASE, retest: '2026-11-02T10:00:00Z' }), 'a change waits for a try').to.equal(
      'client',
    );
    expect(groupOf({ ...CASE, closed: '2026-11-02T10:00:00Z' })).to.equal('closed');
    expect(groupOf({ ...CASE, line: null }), 'what is not worked out is looked at').to.equal('ours');
  });

  it('finds cases by all words that were typed, in any place', () => {
    const other = { ...CASE, id: 'b', title: 'Tide book', from: '198.51.100.77' };
    const ids = (query: string): string[] => found([CASE, other], query).map((c) => c.id);
    expect(ids('')).to.deep.equal(['a', 'b']);
    expect(ids('radio .77')).to.deep.equal(['b']);
    expect(ids('HARBOUR')).to.deep.equal(['a']);
    expect(ids('forwards not')).to.deep.equal(['a', 'b']);
    expect(ids('harbour .77')).to.deep.equal([]);
  });

  it('a returning caller gets a case about the same site, without what was tried then', async () => {
    const seen = { vantage: 'client', to: 'x', outcome: 'lost' } as const;
    const document = { ...DOCUMENT, observations: [seen], closed: '2026-11-02T10:00:00Z' };
    const id = await services.cabinet.add({ document, files: new Map() }, '2026-11-01T10:00:00Z');
    const added = await useCabinet().again(id);
    const kept = await services.cabinet.open(added!);
    expect(kept?.document.path).to.deep.equal(DOCUMENT.path);
    expect(kept?.document.title).to.equal('Gullcast, again');
    expect(kept?.document).to.not.have.any.keys('observations', 'closed');
    expect(await useCabinet().again('nothing')).to.equal(null);
  });
});
