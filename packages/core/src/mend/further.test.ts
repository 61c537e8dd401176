import { expect } from 'chai';
import { mendCases } from '../testing/index.ts';
import { mendWords } from '../words/index.ts';

const { mendSteps, names, told, WHOLE } = mendCases;

const guarded = (rules: string) =>
  mendSteps({
    files: {
      ...WHOLE,
      'host/rules':
        'table inet guard {\n chain input {\n  type filter hook input priority filter; policy drop;\n' +
        `${rules} }\n}\n`,
    },
  });

describe('mends of a connection that opens and does not last', () => {
  it('the service is let in whatever state its packets have', () => {
    const steps = guarded('  ct state new tcp dport 8214 accept\n');
    expect(told(steps)).to.deep.equal(['host-drop at host', 'answered']);
    expect(steps[0]?.trace.shown.ending).to.deep.include({ kind: 'policy', further: true });
    const [first] = steps;
    expect(first?.mend && JSON.stringify(mendWords(first.mend, names))).to.contain('tcp dport 8214 accept');
  });

  it('nothing is to mend where established connections go on', () =>
    expect(
      told(guarded('  ct state established,related accept\n  ct state new tcp dport 8214 accept\n')),
    ).to.deep.equal(['answered']));
});
