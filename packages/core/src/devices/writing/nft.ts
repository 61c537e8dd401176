import { type Address, formatAddress, formatPrefix, type PortSet, type Prefix } from '../../net/index.ts';
import { nftShell, shellWord } from '../../asks/index.ts';
import type { Rule } from '../../rules/index.ts';
import type { Of, RuleWish, RuleWriter, Served } from './wish.ts';

type Origin = Of<'nft'>;

const setOf = (prefixes: readonly Prefix[]): string => {
  const names = prefixes.map(formatPrefix);
  return names.length === 1 ? names.join('') : `{ ${names.join(', ')} }`;
};

const portsOf = (ports: PortSet): string => {
  const list = ports.map((p) => (p.first === p.last ? `${p.first}` : `${p.first}-${p.last}`));
  return list.length === 1 ? list.join('') : `{ ${list.join(', ')} }`;
};

const placeOf = ({ family, table, chain }: Origin): string => [family, table, chain].map(shellWord).join(' ');

/** Whether the rule that is changed writes its target as `[ADDRESS]`. */
const isBracketed = (text: string, { family }: Address): boolean => family === 6 && /\bto \[/.test(text);

/** What a rule that was written here carries in its comment: by it the rule is found again. */
const markOf = ({ transport, port }: Served): string => `bright-ferry-${transport}-${port}`;

/** The longest comment of a rule (nft(8), COMMENT). */
const LONGEST = 128;

/** The rule with the mark in its comment, behind what stands there already. */
function marked(text: string, mark: string): string {
  const at = text.lastIndexOf(' comment "');
  if (at < 0 || !text.endsWith('"')) return `${text} comment ${mark}`;
  const own = text.slice(at + ' comment "'.length, -1).slice(0, LONGEST - mark.length - 3);
  return `${text.slice(0, at)} comment "${own} (${mark})"`;
}

/** For the shell: the handle of the first rule with the mark, as nft prints it behind the rule. */
const handleOfMark = (place: string, mark: string): string =>
  `$(nft -a list chain ${place} | sed -n '/${mark}/{s/.*# handle //p;q}')`;

/** For the shell: the handle of the first rule of that text. Counters go on, and are left out. */
const handleOfText = (place: string, text: string): string => {
  const still = text.replace(/counter packets \d+ bytes \d+/, 'counter');
  return `$(nft -s -a list chain ${place} | grep -F -- ${shellWord(still)} | sed -n '1s/.*# handle //p')`;
};

const handleOf = (place: string, { handle, text }: Rule): string =>
  handle === undefined ? handleOfText(place, text) : `${handle}`;

function ruleText({ family, transport, peers, destination, port, side, then }: RuleWish): string {
  const ip = family === 4 ? 'ip' : 'ip6';
  const asks = side === 'question';
  return [
    ...(peers ? [`${ip} ${asks ? 'saddr' : 'daddr'} ${setOf(peers)}`] : []),
    ...(destination ? [`${ip} daddr ${formatAddress(destination)}`] : []),
    `${transport} ${asks ? 'dport' : 'sport'} ${port}`,
    thenText(then),
  ].join(' ');
}

function thenText(then: RuleWish['then']): string {
  if (then.do !== 'translate') return then.do;
  const to = formatAddress(then.to);
  if (then.port === undefined) return `dnat to ${to}`;
  return `dnat to ${then.to.family === 6 ? `[${to}]` : to}:${then.port}`;
}

/**
 * Rules of nftables (nft(8)). What is made carries a mark in its comment: its handle is known only then.
 */
export const nft: RuleWriter<Origin> = {
  text: ruleText,
  edited(text, e) {
    switch (e.edit) {
      case 'protocol':
        return text
          .replace(/\b(?:tcp|udp) (dport|sport)/g, `${e.to} $1`)
          .replace(/\b(l4proto|protocol) (?:tcp|udp)\b/g, `$1 ${e.to}`);
      case 'port':
        return text.replace(/dport (?:\{[^}]*\}|\S+)/, `dport ${portsOf(e.to)}`);
      case 'source': {
        const { to } = e;
        return text.replace(/(ip6? saddr) (?:\{[^}]*\}|\S+) ?/, (_, field: string) =>
          to ? `${field} ${setOf(to)} ` : '',
        );
      }
      case 'address':
        return text.replace(/(ip6? daddr) (?:\{[^}]*\}|\S+)/, `$1 ${formatAddress(e.to)}`);
      case 'line':
        return text.replace(/\biif(?:name)? (?:\{[^}]*\}|"[^"]*"|\S+) ?/, '');
      case 'target':
        return text.replace(
          /\b(dnat (?:ip6? )?to) (?:\[[^\]]*\]|\d+(?:\.\d+){3}|[\da-f]*:[\da-f:.]*(?=\s|$))/i,
          `$1 ${isBracketed(text, e.to) ? `[${formatAddress(e.to)}]` : formatAddress(e.to)}`,
        );
      case 'target-port':
        return text.replace(/\b(dnat (?:ip6? )?to (?:\[[^\]]*\]|\d+(?:\.\d+){3})):\d+/, '$1');
    }
  },
  insert(origin, text, above, served) {
    const place = placeOf(origin);
    const before = above?.handle === undefined ? '' : `handle ${above.handle} `;
    const mark = markOf(served);
    return {
      commands: [`nft insert rule ${place} ${before}${nftShell(marked(text, mark))}`],
      undo: [`nft delete rule ${place} handle ${handleOfMark(place, mark)}`],
    };
  },
  replace(origin, rule, text, served) {
    const place = placeOf(origin);
    const mark = markOf(served);
    return {
      commands: [`nft replace rule ${place} handle ${handleOf(place, rule)} ${nftShell(marked(text, mark))}`],
      undo: [`nft replace rule ${place} handle ${handleOfMark(place, mark)} ${nftShell(rule.text)}`],
    };
  },
  move(origin, rule, above, served) {
    const place = placeOf(origin);
    const mark = markOf(served);
    const text = nftShell(marked(rule.text, mark));
    return {
      // A copy above it is enough: the one below is not asked any more, and stays for the way back.
      commands: [`nft insert rule ${place} handle ${handleOf(place, above)} ${text}`],
      undo: [`nft delete rule ${place} handle ${handleOfMark(place, mark)}`],
    };
  },
};

/** The table and the chains that a first translation goes into. */
const FRESH = {
  table: 'nat',
  destination: { chain: 'prerouting', type: 'type nat hook prerouting priority dstnat;' },
  source: { chain: 'postrouting', type: 'type nat hook postrouting priority srcnat;' },
} as const;

/** A translation where there is no chain for it yet: the table and the chain are made first. */
export function firstNft(wish: RuleWish): { text: string; commands: string[]; undo: string[] } {
  const text = ruleText(wish);
  const place = `${wish.family === 4 ? 'ip' : 'ip6'} ${FRESH.table}`;
  const { chain, type } = wish.then.do === 'masquerade' ? FRESH.source : FRESH.destination;
  return {
    text,
    commands: [
      `nft add table ${place}`,
      `nft add chain ${place} ${chain} '{ ${type} }'`,
      `nft add rule ${place} ${chain} ${nftShell(text)}`,
    ],
    // The chain is new; a table of that name may have held others before.
    undo: [`nft flush chain ${place} ${chain}`, `nft delete chain ${place} ${chain}`],
  };
}
