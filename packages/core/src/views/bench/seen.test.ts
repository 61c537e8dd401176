import { expect } from 'chai';
import type { CaseDocument } from '../../case/index.ts';
import { DOCUMENT, WHOLE, bench } from '../../testing/index.ts';

describe('what was seen when it was tried', () => {
  const to = '203.0.113.50:8214/tcp';
  const from = '198.51.100.23';
  const stray = { ...WHOLE, 'gateway/forwards': 'tcp 8214 192.168.50.31 8214\n' };
  const seen = (outcome: 'answered' | 'lost' | 'refused', more: object = {}) => [
    { vantage: 'client-by-name' as const, from, to, outcome, at: '2026-11-01T11:00:00Z', ...more },
  ];

  it('is what a try from there would be, until one was made', () => {
    expect(bench(WHOLE).trial).to.deep.equal({ vantage: 'client-by-name', from, to, last: null });
    expect(bench({}).trial).to.equal(null);
  });

  it('agrees with what is known, and nothing changes', () => {
    const view = bench(WHOLE, { ...DOCUMENT, observations: seen('answered') });
    expect(view.verdict).to.include({ lamp: 'lit', sure: true });
    expect(view.trial?.last).to.include({ outcome: 'answered', stale: false });
  });

  it('speaks against what is known: that is said, and nothing is sure', () => {
    const fails = bench(WHOLE, { ...DOCUMENT, observations: seen('lost') });
    expect(fails.verdict).to.include({ lamp: 'fogged', sure: false });
    expect(fails.verdict.headline).to.match(
      /^Seen otherwise: the try was lost, and by what is known it is answered/,
    );
    const works = bench(stray, { ...DOCUMENT, observations: seen('answered') });
    expect(works.verdict).to.include({ lamp: 'fogged', sure: false });
    expect(works.next).to.include({ kind: 'check', id: 'gateway/forwards' });
    expect(works.verdict.headline).to.match(
      /^Seen to work; by what is known it cannot, at the gateway: its forward/,
    );
  });

  it('that something else answers says nothing about the service', () => {
    const view = bench(stray, { ...DOCUMENT, observations: seen('answered', { other: true }) });
    expect(view.verdict.headline).to.match(/^Astray/);
    expect(view.trial?.last?.other).to.equal(true);
  });

  it('since a change was made proves it', () => {
    const made: CaseDocument = {
      ...DOCUMENT,
      changes: [{ stop: 'gateway', yields: 'forwards', title: 'row put right', at: '2026-11-01T10:30:00Z' }],
    };
    const view = bench(stray, { ...made, observations: seen('answered') });
    expect(view.verdict).to.include({ lamp: 'lit', sure: true });
    expect(view.verdict.headline).to.equal('Answered: seen to work since the change (row put right).');
    expect(view.crossing.stops.map((s) => s.lamp)).to.not.include('shut');
    const before = bench(stray, {
      ...made,
      observations: seen('answered', { at: '2026-11-01T10:00:00Z' }),
    });
    expect(before.verdict.lamp).to.equal('fogged');
  });
});
