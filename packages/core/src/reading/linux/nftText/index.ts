import type { NftObject } from '../../../devices/index.ts';
import type { Problem, Reading } from '../../../facts/index.ts';
import type { Reader } from '../../reader.ts';
import { Listing, STRAY } from './listing.ts';

/** `nft list ruleset` as text, also with `-a` (handles), `-n`, `-s` (nft(8)). */
export const nftText: Reader = {
  format: 'nft',
  title: 'firewall rules (nft list ruleset)',
  recognise: (text) => {
    if (/^table (?:ip|ip6|inet|arp|bridge|netdev) \S+ \{(?: # handle \d+)?\s*$/m.test(text.slice(0, 100_000)))
      return 0.97;
    return /^[ \t]*table\s+(?:(?:ip|ip6|inet|arp|bridge|netdev)\s+)?[\w.-]+\s*\{/m.test(
      text.slice(0, 100_000),
    )
      ? 0.95
      : 0;
  },
  read(text): Reading {
    const reader = new Listing(text);
    reader.run();
    return {
      format: 'nft',
      facts: [{ kind: 'nft', at: { line: 1 }, objects: reader.objects }],
      ...wholeOrPart(reader.objects, reader.problems),
    };
  },
};

/**
 * A listing with chains, none of which hangs on a hook, is a chain or a set asked for by itself: it says
 * nothing about the rest.
 */
function wholeOrPart(
  objects: readonly NftObject[],
  problems: readonly Problem[],
): Pick<Reading, 'problems' | 'covers'> {
  const chains = objects.filter((o) => o.is === 'chain');
  const part =
    objects.length > 0 &&
    (chains.length > 0
      ? chains.every((c) => c.is === 'chain' && c.base === null)
      : objects.some((o) => o.is === 'set' || o.is === 'map'));
  return part
    ? {
        covers: [],
        problems: [...problems, { line: 1, text: '', why: 'nft-part' }],
      }
    : { covers: problems.some((p) => p.why === STRAY) ? [] : ['rules4', 'rules6'], problems };
}
