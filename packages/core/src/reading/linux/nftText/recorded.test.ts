import { readFileSync } from 'node:fs';
import { expect } from 'chai';
import { compileNft, type Json, type NftObject } from '../../../devices/index.ts';
import { nftText } from './index.ts';

/** A rule as nft 1.0.6 of Debian printed it once it was loaded, as text and with `-j`. */
interface Recorded {
  readonly chain: keyof typeof HEADS;
  readonly text: string;
  readonly expr: readonly Json[];
}

const HEADS = {
  filter: 'type filter hook forward priority filter; policy accept;',
  nat: 'type nat hook prerouting priority dstnat; policy accept;',
  snat: 'type nat hook postrouting priority srcnat; policy accept;',
};

/** What is not taken apart as text: such a rule has an unknown outcome, and says from which word on. */
const NOT_READ = [
  'ct helper "ftp" accept',
  'exthdr frag exists drop',
  'meta hour "08:00"-"18:00" accept',
  'numgen random mod 2 0 accept',
  'jhash ip saddr mod 2 0 accept',
  'rt classid 1 accept',
  'synproxy mss 1460 wscale 7 timestamp sack-perm',
  'ct mark set numgen inc mod 2 offset 100',
];

const recorded = readFileSync(new URL('recorded-1.0.6.jsonl', import.meta.url), 'utf8')
  .split('\n')
  .filter((line) => line !== '')
  .map((line) => JSON.parse(line) as Recorded);

const listing = ({ chain, text }: Recorded): string => `table inet t {
	set offices {
		type ipv4_addr
		flags interval
		elements = { 192.0.2.64/27, 192.0.2.130 }
	}

	set pairs {
		type ipv4_addr . inet_service
		elements = { 192.0.2.7 . 8211 }
	}

	map inside {
		type inet_service : ipv4_addr
		elements = { 8211 : 192.168.50.20 }
	}

	map both {
		type inet_service : ipv4_addr . inet_service
		elements = { 8212 : 192.168.50.21 . 8211 }
	}

	map verdicts {
		type ipv4_addr : verdict
		elements = { 192.0.2.9 : drop, 192.0.2.10 : jump other }
	}

	chain other {
		counter
	}

	chain c {
		${HEADS[chain]}
		${text}
	}
}
`;

/** The steps of the rule in `c`, with the rule's own expressions or those of the JSON listing. */
function stepsOf(objects: readonly NftObject[], expr?: readonly Json[]): unknown {
  const own = objects.map((o) => (o.is === 'rule' && o.chain === 'c' && expr ? { ...o, steps: expr } : o));
  return compileNft(own, 'x').baseChains.map((b) => b.chain.rules.map((r) => r.steps));
}

describe('rules of nft as text mean what their JSON means', () => {
  for (const rule of recorded)
    it(rule.text, () => {
      const { facts, problems } = nftText.read(listing(rule));
      const [fact] = facts;
      if (fact?.kind !== 'nft') throw new Error('no rule set');
      if (NOT_READ.includes(rule.text)) {
        expect(problems.map((p) => (typeof p.why === 'string' ? p.why : p.why.is))).to.deep.equal([
          'rule-from',
        ]);
        expect(JSON.stringify(stepsOf(fact.objects))).to.contain('unmodelled');
      } else {
        expect(problems).to.deep.equal([]);
        expect(stepsOf(fact.objects)).to.deep.equal(stepsOf(fact.objects, rule.expr));
      }
    });
});
