import { expect } from 'chai';
import { withTyped } from '@bright-ferry/core/case';
import { bytes, DOCUMENT, freshStores, type TestServices } from '../testing/stores.ts';
import { useAnalysis } from './analysis.ts';
import { useHistory } from './history.ts';
import { useIntake } from './intake.ts';
import { useNotices } from './notices.ts';
import { useSelection } from './selection.ts';

const STATUS = 'WAN IP 203.0.113.50\nLAN IP 192.168.50.1\n';

describe('what is made of the case', () => {
  let services: TestServices;
  let id = '';

  beforeEach(async () => {
    services = await freshStores();
    id = await services.cabinet.add({ document: DOCUMENT, files: new Map() }, '2026-11-01T10:00:00Z');
    useAnalysis();
  });

  it('follows the case by itself, with every step', async () => {
    const analysis = useAnalysis();
    await useHistory().open(id);
    await analysis.settled();
    expect(analysis.view?.verdict.lamp).to.equal('fogged');
    expect(analysis.working).to.equal(false);
    await useIntake().typeFact('WAN IP 203.0.113.50');
    const facts = analysis.view?.stops.find((s) => s.id === 'gateway')?.facts.map((f) => f.value);
    expect(facts).to.include('203.0.113.50 (public)');
  });

  it('of two answers the one of the newest state stands, whichever comes last', async () => {
    const analysis = useAnalysis();
    await useHistory().open(id);
    await analysis.settled();
    let go: () => void = () => undefined;
    services.analyst.hold = new Promise((resolve) => (go = resolve));
    void useHistory().change((d) => ({ ...d, title: 'first' }), '');
    const held = services.analyst.hold;
    services.analyst.hold = Promise.resolve();
    void useHistory().change((d) => ({ ...d, title: 'second' }), '');
    await analysis.settled();
    expect(analysis.view?.title).to.equal('second');
    go();
    await held;
    await new Promise((resolve) => setTimeout(resolve, 20));
    expect(analysis.view?.title).to.equal('second');
  });

  it('another case begins with an empty view, and with nothing looked at', async () => {
    const analysis = useAnalysis();
    await useHistory().open(id);
    await analysis.settled();
    useSelection().toggle('shelf');
    const other = await services.cabinet.add(
      { document: { ...DOCUMENT, title: 'Ebbtide' }, files: new Map() },
      '2026-11-01T11:00:00Z',
    );
    const opened = useHistory().open(other);
    await opened;
    expect(useSelection().panel).to.equal(null);
    await analysis.settled();
    expect(analysis.view?.title).to.equal('Ebbtide');
    useHistory().close();
    expect(analysis.view).to.equal(null);
  });

  it('a stop that new evidence shows is put on the crossing in the step that brought it', async () => {
    await useHistory().open(id);
    await useIntake().takeIn(bytes('WAN IP 192.168.1.2\nLAN IP 192.168.50.1\n'));
    await useIntake().takeIn(bytes('seen from outside 203.0.113.50\n'));
    expect(useHistory().document?.path).to.have.length(5);
    expect(useNotices().notice?.text).to.contain('On the crossing now:');
    await useHistory().undo();
    expect(useHistory().document?.path).to.have.length(4);
  });

  it('openings have a lane of their own: stopping them stops nothing else', async () => {
    const analysis = useAnalysis();
    await useHistory().open(id);
    await analysis.settled();
    let go: () => void = () => undefined;
    services.analyst.hold = new Promise((resolve) => (go = resolve));
    const openings = analysis.ask('openings', {});
    const shelf = analysis.ask('shelf', {});
    await Promise.resolve();
    analysis.stopOpenings();
    expect(await openings).to.equal(null);
    go();
    expect((await shelf)?.pieces).to.deep.equal([]);
  });

  it('a case that cannot be worked out says so, and loses nothing', async () => {
    const analysis = useAnalysis();
    await useHistory().open(id);
    await analysis.settled();
    services.analyst.ask = () => Promise.reject(new Error('the desk broke\nat a line'));
    await useHistory().change((d) => withTyped(d, 'gateway', { text: STATUS, at: '2026-11-01' }), 'Noted.');
    await analysis.settled();
    expect(useNotices().notice).to.deep.include({ kind: 'trouble', canUndo: true });
    expect(useNotices().notice?.text).to.contain('the desk broke. Nothing is lost');
    expect(analysis.failed).to.contain('the desk broke');
    expect(analysis.working).to.equal(false);
  });

  it('asks nothing where no case is open', async () => {
    expect(await useAnalysis().ask('shelf', {})).to.equal(null);
    expect(services.analyst.asked).to.deep.equal([]);
  });
});
