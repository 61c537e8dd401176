import { expect } from 'chai';
import { caseFacts, HOME, serverEvidence } from '../../testing/index.ts';
import { benchView } from './view.ts';

const FORWARDS = 'Name\tProtocol\tOutside port\tInside address\tInside port\n';
const SERVICE = {
  service: { name: 'Gullcast', endpoints: [{ protocol: 'tcp', port: 8214 }] },
  client: { address: '198.51.100.23', dials: '203.0.113.50:8214' },
};
const evidence = (listens: string, forwards = 'web\tTCP\t80\t192.168.50.20\t80\n') => ({
  'gateway/forwards': FORWARDS + forwards,
  ...serverEvidence('192.168.50.20/24', '192.168.50.1', [`tcp ${listens}:8214 gullcast`]),
});
const AT = '2026-11-20T10:00:00Z';

/** The bench once its mend is said to be made. */
function afterMade(files: Record<string, string>, more: Record<string, unknown> = {}) {
  const next = benchView(caseFacts(HOME, files, SERVICE)).next;
  if (next.kind !== 'mend') throw new Error('no mend');
  const { stop, shownBy, title } = next.mend;
  const change = { stop, yields: shownBy, title, at: AT };
  return benchView(caseFacts(HOME, files, { ...SERVICE, changes: [change], ...more }));
}

describe('what was said to be made is held true until a try', () => {
  it('one fault: it would be answered, and the client is asked to try', () => {
    const view = afterMade(evidence('0.0.0.0'));
    expect(view.verdict.headline).to.equal('Would be answered, once it is made as it was said.');
    expect(view.verdict).to.include({ lamp: 'lit', sure: false });
    expect(view.verdict.detail).to.contain('Add a forward for TCP 8214');
    expect(view.next.kind).to.equal('done');
    const gateway = view.crossing.stops.find((s) => s.id === 'gateway');
    expect(gateway).to.include({ beyond: true, word: 'as it was made' });
  });

  it('two faults: the next one is named and mended at once', () => {
    const view = afterMade(evidence('127.0.0.1'));
    expect(view.verdict.lamp).to.equal('shut');
    expect(view.verdict.headline).to.contain('127.0.0.1');
    expect(view.verdict.detail).to.contain('Held true since it was said to be made');
    expect(view.next.kind === 'mend' && view.next.mend.stop).to.equal('host');
  });

  it('a try that still fails contradicts it', () => {
    const seen = {
      vantage: 'client',
      to: '203.0.113.50:8214/tcp',
      outcome: 'lost',
      at: '2026-11-20T11:00:00Z',
    };
    const view = afterMade(evidence('0.0.0.0'), { observations: [seen] });
    expect(view.verdict.lamp).to.not.equal('lit');
  });

  it('a change that nothing called for leaves its place open', () => {
    const change = { stop: 'gateway', yields: 'forwards', title: 'something else', at: AT };
    const view = benchView(caseFacts(HOME, evidence('0.0.0.0'), { ...SERVICE, changes: [change] }));
    expect(view.verdict.lamp).to.equal('fogged');
  });
});
