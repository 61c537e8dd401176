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
    const words = first?.mend && mendWords(first.mend, names);
    expect(words?.values[0]?.mended).to.equal('tcp dport 8214 accept');
    expect(words?.wrong).to.equal(
      '“guard input” lets new connections to TCP 8214 in, and drops what follows',
    );
  });

  it('a rule that ends what follows is told of as such', () => {
    const [first] = guarded('  ct state established drop\n  tcp dport 8214 accept\n');
    expect(first?.mend && mendWords(first.mend, names).wrong).to.match(
      /^connections to TCP 8214 open, and the rule “ct state established drop” ends them$/,
    );
  });

  it('nothing is to mend where established connections go on', () =>
    expect(
      told(guarded('  ct state established,related accept\n  ct state new tcp dport 8214 accept\n')),
    ).to.deep.equal(['answered']));
});
