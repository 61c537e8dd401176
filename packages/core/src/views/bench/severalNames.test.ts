import { expect } from 'chai';
import type { CaseDocument } from '../../case/index.ts';
import { bench, DOCUMENT, facts, WHOLE } from '../../testing/index.ts';
import { benchView } from './view.ts';
import { vantageGrid } from './vantages.ts';

const TWO: CaseDocument = { ...DOCUMENT, client: { ...DOCUMENT.client, alsoDials: ['203.0.113.51:8214'] } };

describe('a service that is dialled by several names', () => {
  it('has a place to try from for each, with a verdict of its own', () => {
    const view = bench(WHOLE, TWO);
    expect(view.viewpoints.map((v) => v.key)).to.include('dials/203.0.113.51:8214');
    expect(view.verdict.lamp).to.equal('lit');
    const other = benchView(facts(WHOLE, TWO), null, 'dials/203.0.113.51:8214');
    expect(other.verdict.lamp).to.not.equal('lit');
    expect(other.verdict.headline).to.contain('203.0.113.51');
  });

  it('has a row for each in the grid', () => {
    const rows = vantageGrid(facts(WHOLE, TWO)).rows.filter((r) => r.label.includes('203.0.113.51'));
    expect(rows.map((r) => r.cells.map((c) => c.to))).to.deep.equal([['203.0.113.51:8214/tcp']]);
  });
});
