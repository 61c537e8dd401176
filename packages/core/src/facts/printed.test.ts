import { expect } from 'chai';
import { GROUPS, known, open, openFields, printed, saidOr, type Fact } from './index.ts';

const at = { line: 3 };

describe('stated fields', () => {
  it('are known or open, and say so', () => {
    const doubt = { doubt: 'word', field: 'action', text: 'mull over' } as const;
    const record = { action: open(doubt), port: known(80), name: 'Tide' };
    expect(saidOr(record.port, 1)).to.equal(80);
    expect(saidOr(record.action, 'drop')).to.equal('drop');
    expect(openFields(record)).to.deep.equal([doubt]);
    expect(openFields({ name: 'Tide' })).to.deep.equal([]);
  });
});

describe('what a list of what was read prints', () => {
  it('known fields as they are, open and empty ones not at all', () => {
    const doubt = { doubt: 'word', field: 'ports', text: 'many' } as const;
    const fact: Fact = {
      kind: 'allow-row',
      at,
      group: GROUPS['allow-row'].group,
      text: 'tcp many',
      value: {
        name: null,
        protocol: known('tcp'),
        ports: open(doubt),
        sources: known(['any']),
        further: known(null),
      },
    };
    expect(printed(fact)).to.deep.equal({
      group: 'allowRows',
      once: false,
      value: { protocol: 'tcp', sources: ['any'] },
      open: [doubt],
      text: 'tcp many',
    });
  });

  it('plain values, lists and records without stated fields as they are', () => {
    const of = (fact: Fact) => printed(fact)?.value;
    expect(of({ kind: 'outcome', at, group: 'outcome', text: '', value: 'refused' })).to.equal('refused');
    expect(of({ kind: 'hops', at, group: 'hops', text: '', value: ['192.0.2.1', null] })).to.deep.equal([
      '192.0.2.1',
      null,
    ]);
    expect(
      of({ kind: 'mapping', at, group: 'mappings', text: '', value: { protocol: 'UDP', lease: 0 } }),
    ).to.deep.equal({ protocol: 'UDP', lease: 0 });
    expect(of({ kind: 'noted', at, topic: 'lines', once: true, text: '', value: { a: 1 } })).to.deep.equal({
      a: 1,
    });
    expect(printed({ kind: 'setting', at, key: 'k', value: 'v' })).to.equal(null);
  });

  it('a group of its own stands for the program’s own word', () =>
    expect(
      printed({ kind: 'program-bind', at, group: 'bind-address', text: '', value: '127.0.0.1' })?.group,
    ).to.equal('bind-address'));
});
