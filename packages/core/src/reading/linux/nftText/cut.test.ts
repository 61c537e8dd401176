import { readFileSync } from 'node:fs';
import { expect } from 'chai';
import { compileNft, type NftObject } from '../../../devices/index.ts';
import { nftText } from './index.ts';

/** Rules as nft 1.0.6 printed them, all in one chain, among the objects that they name. */
const RULES = readFileSync(new URL('recorded-1.0.6.jsonl', import.meta.url), 'utf8')
  .split('\n')
  .filter((line) => line !== '')
  .map((line) => (JSON.parse(line) as { text: string }).text);

const LISTING = `table inet t {
	flowtable fast {
		hook ingress priority filter
		devices = { eth0, eth1 }
	}

	counter seen {
		packets 3 bytes 180
	}

	set offices {
		type ipv4_addr
		flags interval
		elements = { 192.0.2.64/27, 192.0.2.130 timeout 1h expires 59m counter packets 1 bytes 60 }
	}

	map verdicts {
		type ipv4_addr : verdict
		elements = { 192.0.2.9 : drop, 192.0.2.10 : jump other }
	}

	chain other {
		comment "for the office"
		counter packets 0 bytes 0
	}

	chain early {
		type filter hook ingress devices = { eth0, eth1 } priority filter + 10; policy accept;
	}

	chain c {
		type filter hook forward priority filter - 5; policy drop;
${RULES.map((r) => `\t\t${r}`).join('\n')}
	}
}
`;

const objectsOf = (text: string): readonly NftObject[] => {
  const [fact] = nftText.read(text).facts;
  return fact?.kind === 'nft' ? fact.objects : [];
};
/** The rules; what stands for all that may have come after a cut is none of them. */
const rulesOf = (objects: readonly NftObject[]): string[] =>
  objects.flatMap((o) => (o.is === 'rule' && !isMark(o.chain) ? [JSON.stringify([o.chain, o.steps])] : []));
const isMark = (chain: string): boolean => chain.startsWith('(');
const isMarked = (objects: readonly NftObject[]): boolean =>
  objects.some((o) => o.is === 'rule' && isMark(o.chain));

describe('a listing of nft that ends in the middle', () => {
  const whole = rulesOf(objectsOf(LISTING));
  const ends = [...LISTING.matchAll(/\s+|(?<=[{};:,.])/g)].map((m) => m.index).filter((at) => at > 0);

  it('says the rules before the cut as the whole does, wherever it ends; base chains compile', () => {
    expect(whole.length).to.be.greaterThan(100);
    for (const end of ends) {
      const objects = objectsOf(LISTING.slice(0, end));
      const rules = rulesOf(objects);
      // The words at the cut may be of a rule or of a chain's head.
      while (rules[rules.length - 1]?.includes('unparsed: ')) rules.pop();
      const sure = Math.max(0, rules.length - 1);
      expect(rules.slice(0, sure), LISTING.slice(Math.max(0, end - 40), end)).to.deep.equal(
        whole.slice(0, sure),
      );
      compileNft(objects, 'x');
    }
  });

  it('never makes of its last rule one that does something else without a word', () => {
    for (const end of ends) {
      const objects = objectsOf(LISTING.slice(0, end));
      const rules = rulesOf(objects);
      const lastRule = rules[rules.length - 1];
      if (lastRule === undefined || lastRule === whole[rules.length - 1]) continue;
      expect(isMarked(objects), LISTING.slice(Math.max(0, end - 40), end)).to.equal(true);
    }
  });
});
