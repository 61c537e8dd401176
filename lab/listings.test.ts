import { expect } from 'chai';
import { compileNft } from '@bright-ferry/core/devices';
import type { Fact } from '@bright-ferry/core/facts';
import { readText } from '@bright-ferry/core/reading';
import type { Rule } from '@bright-ferry/core/rules';
import { Network } from './src/namespaces.ts';
import { random } from './src/random.ts';
import { randomSite } from './src/sites.ts';

/** Rule sets that are listed both ways. */
const SITES = 30;
const SEED = 41;

const plain = (_: string, value: unknown): unknown => (typeof value === 'bigint' ? value.toString() : value);

/** What a rule does, without its place and its words. */
const deeds = ({ steps }: Rule): string =>
  JSON.stringify(
    steps.filter((s) => s.do !== 'note'),
    (key, value: unknown) => (key === 'chain' ? (value as { name: string }).name : plain(key, value)),
  );

const rulesIn = (text: string): Map<string, string[]> => {
  const fact = readText(text)?.facts.find((f) => f.kind === 'nft');
  if (fact?.kind !== 'nft') return new Map();
  return new Map(compileNft(fact.objects, 'rules').chains.map((c) => [c.id, c.rules.map(deeds)]));
};

const factsIn = (text: string, kinds: readonly Fact['kind'][]): string[] =>
  (readText(text)?.facts ?? [])
    .filter((f) => kinds.includes(f.kind))
    .map(({ at: _, ...rest }) => JSON.stringify(Object.entries(rest).sort()))
    .sort();

describe(`the same machine, listed as text and as JSON (${SITES} sites)`, () => {
  it('has the same rules, rule by rule', () => {
    const network = new Network('list');
    let compared = 0;
    try {
      network.machine('m');
      for (let i = 0; i < SITES; i++)
        for (const { rules } of randomSite(random(SEED + i), i).machines) {
          if (rules === '') continue;
          network.run('m', 'nft flush ruleset; nft -f -', rules);
          const asText = rulesIn(network.run('m', 'nft -a list ruleset'));
          const asJson = rulesIn(network.run('m', 'nft -j list ruleset'));
          expect([...asText.keys()], rules).to.deep.equal([...asJson.keys()]);
          for (const [chain, list] of asText) {
            expect(list, `${chain} of\n${rules}`).to.deep.equal(asJson.get(chain));
            compared += list.length;
          }
        }
    } finally {
      network.close();
    }
    console.log(`      ${compared} rules`);
    expect(compared).to.be.greaterThan(200);
  });

  it('has the same addresses, routes, rules of routing and neighbours', () => {
    const network = new Network('both');
    try {
      for (const name of ['a', 'b']) network.machine(name);
      network.cable(
        { machine: 'a', device: 'wan', addresses: ['203.0.113.50/24', '203.0.113.51/24', '2001:db8::50/64'] },
        { machine: 'b', device: 'lan', addresses: ['203.0.113.1/24', '2001:db8::1/64'] },
      );
      network.settle();
      network.run(
        'a',
        [
          'ip route add default via 203.0.113.1',
          'ip -6 route add default via 2001:db8::1',
          'ip route add blackhole 10.0.0.0/8',
          'ip route add 192.0.2.0/24 via 203.0.113.1 metric 7 table 100',
          'ip route add 198.51.100.0/24 nexthop via 203.0.113.1 dev wan nexthop via 203.0.113.2 dev wan',
          'ip rule add from 203.0.113.51 lookup 100',
          'ip rule add fwmark 0x1/0xff iif wan prohibit',
          'ip neigh add 203.0.113.9 lladdr 02:48:4e:00:00:09 dev wan',
        ].join('; '),
      );
      const both = (text: string, json: string, ...kinds: Fact['kind'][]): void => {
        const listed = factsIn(network.run('a', text), kinds);
        expect(listed.length, text).to.be.greaterThan(0);
        expect(listed, text).to.deep.equal(factsIn(network.run('a', json), kinds));
      };
      both('ip addr', 'ip -j addr', 'address');
      both('ip route show table all', 'ip -j route show table all', 'route');
      both('ip -6 route show table all', 'ip -6 -j route show table all', 'route');
      both('ip rule', 'ip -j rule', 'policy');
      both('ip neigh', 'ip -j neigh', 'neighbour');
    } finally {
      network.close();
    }
  });
});
