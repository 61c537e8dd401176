import type { NftObject } from '../../devices/index.ts';
import { problemAt, written } from '../noted.ts';
import type { Reader } from '../reader.ts';
import type { Line } from '../text.ts';

/** What a rule looks at (nft(8), "Expressions"). */
const LOOKS = new RegExp(
  String.raw`\b(?:[io]if(?:name|group|type)?|ip6? [sd]addr|(?:tcp|udp|th|sctp) [sd]port|` +
    String.raw`meta [a-z]\w*|ct (?:state|status|mark|direction)|fib \w+)\b`,
);
/** What it does (nft(8), "Statements"). */
const DOES = new RegExp(
  String.raw`\b(?:[ds]nat (?:ip6? )?to|redirect to|masquerade|jump [\w-]+|goto [\w-]+)\b|` +
    String.raw`\b(?:accept|drop|reject|return)(?: comment .*)?$|\btype \w+ hook \w+ priority\b`,
);

const isRule = ({ text }: Line): boolean => LOOKS.test(text) && DOES.test(text.trimEnd());

/**
 * Lines that somebody picked out of `nft list ruleset`. That there are rules they show; of which table and
 * chain they are, and what stands beside them, they do not say.
 */
export const nftLines: Reader = {
  format: 'nft-lines',
  title: 'single lines of a rule set (nft)',
  recognise(text) {
    const lines = written(text.slice(0, 100_000));
    const hits = lines.filter(isRule).length;
    return hits > 0 && hits * 2 >= lines.length && !lines.some((l) => /^\s*table\s/.test(l.text)) ? 0.85 : 0;
  },
  read(text) {
    const table: NftObject = { is: 'table', at: { line: 1 }, family: 'inet', name: '', dormant: false };
    const why = 'nft-line-alone';
    return {
      format: 'nft-lines',
      facts: [{ kind: 'nft', at: { line: 1 }, objects: [table] }],
      problems: written(text).map((l) => problemAt(l, why)),
      covers: [],
    };
  },
};
