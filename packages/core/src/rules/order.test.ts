import { expect } from 'chai';
import { nftProgram, outcome, run, testMachine } from '../testing/index.ts';
import { hookPlan } from './index.ts';

const chain = (table: string, name: string, head: string, rules = ''): string =>
  `table inet ${table} {\n\tchain ${name} {\n\t\ttype ${head}\n${rules
    .split('; ')
    .filter((r) => r !== '')
    .map((r) => `\t\t${r}\n`)
    .join('')}\t}\n}\n`;
const INPUT = 'filter hook input priority filter; policy accept;';

describe('the order of base chains at a hook (nf_tables, net/netfilter/core.c)', () => {
  it('lower priorities come first; of one priority the one that was registered last', () => {
    const program = nftProgram(
      chain('a', 'one', INPUT) +
        chain('b', 'two', 'filter hook input priority -10; policy accept;') +
        chain('c', 'three', INPUT),
    );
    expect(hookPlan(program, 'input', 4).filters.map((c) => c.chain.name)).to.deep.equal([
      'b two',
      'c three',
      'a one',
    ]);
  });

  it('translations stand apart from filters, and each family sees its own', () => {
    const program = nftProgram(
      chain('a', 'pre', 'nat hook prerouting priority dstnat; policy accept;') +
        chain('b', 'pre', 'filter hook prerouting priority raw; policy accept;'),
    );
    const plan = hookPlan(program, 'prerouting', 4);
    expect([plan.filters.map((c) => c.chain.name), plan.translations.map((c) => c.chain.name)]).to.deep.equal(
      [['b pre'], ['a pre']],
    );
    expect(hookPlan(program, 'input', 4).filters).to.deep.equal([]);
  });

  it('an accept ends its own chain alone, a drop ends the packet', () => {
    const site = (first: string, second: string) => {
      const program = nftProgram(
        chain('a', 'one', 'filter hook input priority -1; policy accept;', first) +
          chain('b', 'two', INPUT, second),
      );
      const host = testMachine('host', {
        interfaces: { eth0: ['198.51.100.9/24'] },
        sockets: ['tcp 0.0.0.0:80'],
      });
      return {
        machines: [
          testMachine('client', { role: 'client', interfaces: { eth0: ['198.51.100.23/24'] } }),
          { ...host, program: { 4: program, 6: program } },
        ],
        sharedAddresses: [],
        internet: null,
      };
    };
    const told = (first: string, second: string): string =>
      outcome(run(site(first, second), '198.51.100.23:40000', '198.51.100.9:80/tcp'));
    expect(told('tcp dport 80 accept', 'tcp dport 80 drop')).to.equal('lost at host');
    expect(told('tcp dport 80 drop', 'tcp dport 80 accept')).to.equal('lost at host');
    expect(told('tcp dport 22 drop', 'tcp dport 80 accept')).to.equal('answered at host');
  });
});
