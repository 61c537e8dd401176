import { readFileSync } from 'node:fs';
import { expect } from 'chai';
import type { Fact } from '../../facts/index.ts';
import { readText } from '../recognise.ts';

/**
 * What iproute2 6.1 and net-tools 2.10 of Debian print of one machine, with and without `-j`: labels, peers,
 * secondary and tentative addresses, links without carrier and switched off, ways of every kind, rules of
 * routing.
 */
const factsOf = (name: string): readonly Fact[] => {
  const reading = readText(readFileSync(new URL(`recorded/${name}.txt`, import.meta.url), 'utf8'));
  expect(reading?.problems, name).to.deep.equal([]);
  return reading?.facts ?? [];
};

const parts = (name: string, kind: Fact['kind'], ...leaveOut: readonly string[]): string[] =>
  factsOf(name)
    .filter((f) => f.kind === kind)
    .map((f) =>
      JSON.stringify(
        Object.entries(f)
          .filter(([key, value]) => key !== 'at' && value !== undefined && !leaveOut.includes(key))
          .sort(([a], [b]) => a.localeCompare(b)),
      ),
    )
    .sort();

describe('what Linux prints of its network, in every form', () => {
  const same: readonly (readonly [string, string, Fact['kind'], readonly string[]])[] = [
    ['addr', 'addr-j', 'interface', []],
    // `-j` does not tell the label of an address from the name of its interface.
    ['addr', 'addr-j', 'address', ['label']],
    ['addr', 'addr-o', 'address', []],
    ['addr', 'addr-br', 'address', ['label', 'scope', 'secondary', 'unusable']],
    ['route4', 'route4-j', 'route', []],
    ['route6', 'route6-j', 'route', []],
    ['rule4', 'rule4-j', 'policy', ['unmodelled']],
    ['rule6', 'rule6-j', 'policy', []],
    ['neigh', 'neigh-j', 'neighbour', []],
  ];
  for (const [one, other, kind, leaveOut] of same)
    it(`${one} and ${other}: ${kind}`, () => {
      const expected = parts(one, kind, ...leaveOut);
      expect(expected).to.not.deep.equal([]);
      expect(parts(other, kind, ...leaveOut)).to.deep.equal(expected);
    });

  it('a rule of routing that looks at more than is worked out says so in both forms', () => {
    for (const form of ['rule4', 'rule4-j'])
      expect(
        factsOf(form).flatMap((f) => (f.kind === 'policy' && f.unmodelled ? [f.priority] : [])),
        form,
      ).to.deep.equal([111, 112]);
  });

  /** Interfaces: switched on, off or not said; with carrier, without, or not said. */
  const links = (name: string): Record<string, string> =>
    Object.fromEntries(
      factsOf(name).flatMap((f) =>
        f.kind === 'interface' ? [[f.name, `${f.adminUp ?? '?'} ${f.carrier ?? '?'}`]] : [],
      ),
    );

  it('a link is off, without carrier, or up, as far as each form tells', () => {
    expect(links('addr')).to.include({
      wan0: 'true true',
      lan0: 'true false',
      lan1: 'true false',
      lan2: 'false ?',
      dm0: 'false ?',
      tun0: 'true false',
    });
    expect(links('link-br')).to.include({ wan0: 'true true', lan0: 'true false', lan2: 'false ?' });
    // Without its flags a link that is down may be either: no carrier is certain.
    expect(links('addr-br')).to.include({ wan0: 'true true', lan0: '? false', dm0: '? false' });
    expect(links('ifconfig')).to.include({ wan0: 'true true', lan0: 'true false', dm0: 'false false' });
  });

  it('the old tools show the addresses, but not which of them are not usable yet', () => {
    const of = (name: string): string[] =>
      factsOf(name)
        .flatMap((f) => (f.kind === 'address' ? [`${f.interface} ${f.address}/${f.prefix}`] : []))
        .sort();
    expect(of('ifconfig')).to.deep.equal(of('addr').filter((a) => !a.includes('203.0.113.51')));
  });

  it('a way that the old table cannot print whole is open', () => {
    const ways = factsOf('routen').flatMap((f) =>
      f.kind === 'route'
        ? [`${f.to} ${f.type} ${f.hops[0]?.via ?? '-'} ${f.unmodelled ? 'open' : 'whole'}`]
        : [],
    );
    expect(ways).to.include.members([
      'default unicast 203.0.113.1 whole',
      '10.66.0.0/16 unicast - open',
      '10.67.0.0/16 unreachable - whole',
      '10.68.0.0/16 unreachable - whole',
      '10.69.0.0/16 unicast - open',
      '10.72.0.0/16 unicast - open',
      '192.168.50.0/24 unicast - whole',
    ]);
  });
});
