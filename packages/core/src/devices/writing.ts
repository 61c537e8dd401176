import {
  formatAddress,
  formatPrefix,
  type Address,
  type Family,
  type PortSet,
  type Prefix,
  type Transport,
} from '../net/index.ts';
import { iptablesShell, nftShell, shellWord } from '../asks/index.ts';
import type { Chain, Origin, Rule } from '../rules/index.ts';

/** A rule for one service, as a mend wants it. */
export interface RuleWish {
  readonly family: Family;
  readonly transport: Transport;
  /** The other end: who asks, or whom the answer goes to. null: anyone */
  readonly peers: readonly Prefix[] | null;
  /** The address that the question is for; null: any. */
  readonly destination: Address | null;
  readonly port: number;
  /** Whether it is for questions to the port, or for answers from it. */
  readonly side: 'question' | 'answer';
  readonly then: { readonly do: 'accept' } | { readonly do: 'translate'; readonly to: Address };
}

/** Where a new rule goes. */
export interface Place {
  readonly chain: Chain;
  /** Right above this one; null: at the head of the chain. */
  readonly above: Rule | null;
}

type Of<P extends Origin['program']> = Extract<Origin, { readonly program: P }>;

/**
 * How one packet filter's rules are written, each word from evidence quoted for a shell (POSIX.1-2017, 2.2).
 */
interface RuleWriter<O> {
  readonly text: (wish: RuleWish) => string;
  /** The rule's text with other sources; null: for anyone. */
  readonly withSources: (text: string, sources: readonly Prefix[] | null) => string;
  /** The rule's text for another destination. */
  readonly withDestination: (text: string, destination: Address) => string;
  readonly insert: (origin: O, text: string, above: Rule | null) => string[];
  readonly replace: (origin: O, rule: Rule, text: string) => string[];
}

const nftSet = (prefixes: readonly Prefix[]): string => {
  const names = prefixes.map(formatPrefix);
  return names.length === 1 ? names.join('') : `{ ${names.join(', ')} }`;
};

const nft: RuleWriter<Of<'nft'>> = {
  text({ family, transport, peers, destination, port, side, then }) {
    const ip = family === 4 ? 'ip' : 'ip6';
    const asks = side === 'question';
    return [
      ...(peers ? [`${ip} ${asks ? 'saddr' : 'daddr'} ${nftSet(peers)}`] : []),
      ...(destination ? [`${ip} daddr ${formatAddress(destination)}`] : []),
      `${transport} ${asks ? 'dport' : 'sport'} ${port}`,
      then.do === 'accept' ? 'accept' : `dnat to ${formatAddress(then.to)}`,
    ].join(' ');
  },
  withSources: (text, sources) =>
    text.replace(/(ip6? saddr) (?:\{[^}]*\}|\S+) ?/, (_, field: string) =>
      sources ? `${field} ${nftSet(sources)} ` : '',
    ),
  withDestination: (text, to) => text.replace(/(ip6? daddr) (?:\{[^}]*\}|\S+)/, `$1 ${formatAddress(to)}`),
  insert({ family, table, chain }, text, above) {
    const place = [family, table, chain].map(shellWord).join(' ');
    const before = above?.handle === undefined ? '' : `handle ${above.handle} `;
    return [`nft insert rule ${place} ${before}${nftShell(text)}`];
  },
  replace(origin, { handle }, text) {
    const place = [origin.family, origin.table, origin.chain].map(shellWord).join(' ');
    if (handle !== undefined) return [`nft replace rule ${place} handle ${handle} ${nftShell(text)}`];
    // Without handles in the listing the corrected rule is put in, and the old one looked up for removal.
    return [
      ...nft.insert(origin, text, null),
      `nft -a list chain ${place}   # then: nft delete rule ${place} handle N of the old rule`,
    ];
  },
};

const iptables: RuleWriter<Of<'iptables'>> = {
  text({ transport, peers, destination, port, side, then }) {
    const asks = side === 'question';
    return [
      ...(peers ? [`${asks ? '-s' : '-d'} ${peers.map(formatPrefix).join(',')}`] : []),
      ...(destination ? [`-d ${formatAddress(destination)}`] : []),
      `-p ${transport} ${asks ? '--dport' : '--sport'} ${port}`,
      then.do === 'accept' ? '-j ACCEPT' : `-j DNAT --to-destination ${targetText(then.to)}`,
    ].join(' ');
  },
  withSources: (text, sources) =>
    text.replace(/-s \S+ ?/, sources ? `-s ${sources.map(formatPrefix).join(',')} ` : ''),
  withDestination: (text, to) =>
    text.replace(/-d \S+/, `-d ${formatPrefix({ ...to, length: to.family === 4 ? 32 : 128 })}`),
  insert({ command, table, chain }, text, above) {
    const number = above?.number === undefined ? '' : ` ${above.number}`;
    return [`${command} -t ${table} -I ${shellWord(chain)}${number} ${iptablesShell(bare(text))}`];
  },
  replace({ command, table, chain }, { number }, text) {
    return [
      `${command} -t ${table} -R ${shellWord(chain)} ${number ?? 'NUMBER'} ${iptablesShell(bare(text))}`,
    ];
  },
};

/** An IPv6 target stands in brackets (ip6tables-extensions(8), DNAT). */
const targetText = (to: Address): string => (to.family === 6 ? `[${formatAddress(to)}]` : formatAddress(to));

/** A rule without the `-A CHAIN` with which it is printed. */
const bare = (text: string): string => text.replace(/^-A \S+ /, '');

/** The commands and the text of a rule in its filter's own syntax. */
export interface Written {
  readonly text: string;
  readonly commands: readonly string[];
}

/** Which family's tool keeps rules of a family where a filter has no chain for them yet. */
const FRESH = { program: 'nft', table: 'nat', chain: 'prerouting' } as const;

/** A row of `ufw`, which keeps it by itself; above others where one of them decides before it (ufw(8)). */
function ufwRow({ transport, peers, port, side }: RuleWish, isFirst: boolean): Written | null {
  if (side === 'answer') return null;
  const rows = peers
    ? peers.map((p) => `allow from ${formatPrefix(p)} to any port ${port} proto ${transport}`)
    : [`allow ${port}/${transport}`];
  return { text: rows.join('; '), commands: rows.map((r) => `ufw ${isFirst ? 'prepend ' : ''}${r}`) };
}

/** A row of a zone, in force at once and after a restart (firewall-cmd(1)). */
function firewalldRow(
  { family, transport, peers, port, side }: RuleWish,
  zone: string | null,
): Written | null {
  if (side === 'answer') return null;
  const at = zone === null ? '' : ` --zone=${shellWord(zone)}`;
  const of = family === 4 ? 'ipv4' : 'ipv6';
  const rows = peers
    ? peers.map(
        (p) =>
          `--add-rich-rule='rule family="${of}" source address="${formatPrefix(p)}" port port="${port}" protocol="${transport}" accept'`,
      )
    : [`--add-port=${port}/${transport}`];
  return {
    text: rows.join('; '),
    commands: rows.flatMap((r) => [`firewall-cmd${at} ${r}`, `firewall-cmd --permanent${at} ${r}`]),
  };
}

/** A new rule at its place; null where the chain belongs to a device that takes rows and not rules. */
export function writeRule(wish: RuleWish, { chain, above }: Place): Written | null {
  const { origin } = chain;
  switch (origin.program) {
    case 'nft':
      return { text: nft.text(wish), commands: nft.insert(origin, nft.text(wish), above) };
    case 'iptables':
      return { text: iptables.text(wish), commands: iptables.insert(origin, iptables.text(wish), above) };
    case 'ufw':
      return ufwRow(wish, above !== null);
    case 'firewalld':
      return firewalldRow(wish, origin.zone);
    case 'bsd':
    case 'device':
      return null;
  }
}

/** A rule where there is no chain for it: the table and the chain are made first. */
export function writeFirstRule(wish: RuleWish, program: 'nft' | 'iptables'): Written {
  if (program === 'iptables') {
    const text = iptables.text(wish);
    const command = wish.family === 4 ? 'iptables' : 'ip6tables';
    const origin = { program, command, table: 'nat', chain: 'PREROUTING' } as const;
    return { text, commands: iptables.insert(origin, text, null) };
  }
  const text = nft.text(wish);
  const family = wish.family === 4 ? 'ip' : 'ip6';
  return {
    text,
    commands: [
      `nft add table ${family} ${FRESH.table}`,
      `nft add chain ${family} ${FRESH.table} ${FRESH.chain} '{ type nat hook prerouting priority dstnat; }'`,
      `nft add rule ${family} ${FRESH.table} ${FRESH.chain} ${nftShell(text)}`,
    ],
  };
}

/** A rule for another destination; null where its text names it in a way that is not written here. */
export function writeDestination(rule: Rule, chain: Chain, to: Address): Written | null {
  const { origin } = chain;
  if (origin.program !== 'nft' && origin.program !== 'iptables') return null;
  const text = (origin.program === 'nft' ? nft : iptables).withDestination(rule.text, to);
  if (text === rule.text) return null;
  const commands =
    origin.program === 'nft' ? nft.replace(origin, rule, text) : iptables.replace(origin, rule, text);
  return { text, commands };
}

/**
 * A rule with other sources; null where its text names them in a way that is not written here.
 * @param replaces whether the old rule goes: where it does not, the new one stands beside it
 */
export function writeSources(
  rule: Rule,
  chain: Chain,
  sources: readonly Prefix[] | null,
  replaces: boolean,
): Written | null {
  const { origin } = chain;
  switch (origin.program) {
    case 'nft': {
      const text = nft.withSources(rule.text, sources);
      if (text === rule.text) return null;
      return { text, commands: replaces ? nft.replace(origin, rule, text) : nft.insert(origin, text, rule) };
    }
    case 'iptables': {
      const text = iptables.withSources(rule.text, sources);
      if (text === rule.text) return null;
      const commands = replaces ? iptables.replace(origin, rule, text) : iptables.insert(origin, text, rule);
      return { text, commands };
    }
    case 'ufw':
    case 'firewalld':
    case 'bsd':
    case 'device':
      return null;
  }
}

/** A change of one part of a rule. */
export type RuleEdit =
  | { readonly edit: 'protocol'; readonly to: Transport }
  | { readonly edit: 'port'; readonly to: PortSet }
  /** null: for anyone */
  | { readonly edit: 'source'; readonly to: readonly Prefix[] | null }
  | { readonly edit: 'address'; readonly to: Address }
  /** It holds on every interface. */
  | { readonly edit: 'line' };

const nftPorts = (ports: PortSet): string => {
  const list = ports.map((p) => (p.first === p.last ? `${p.first}` : `${p.first}-${p.last}`));
  return list.length === 1 ? list.join('') : `{ ${list.join(', ')} }`;
};

function nftEdited(text: string, e: RuleEdit): string {
  switch (e.edit) {
    case 'protocol':
      return text
        .replace(/\b(?:tcp|udp) (dport|sport)/g, `${e.to} $1`)
        .replace(/\b(l4proto|protocol) (?:tcp|udp)\b/g, `$1 ${e.to}`);
    case 'port':
      return text.replace(/dport (?:\{[^}]*\}|\S+)/, `dport ${nftPorts(e.to)}`);
    case 'source':
      return nft.withSources(text, e.to);
    case 'address':
      return nft.withDestination(text, e.to);
    case 'line':
      return text.replace(/\biif(?:name)? (?:"[^"]*"|\S+) ?/, '');
  }
}

function iptablesEdited(text: string, e: RuleEdit): string | null {
  switch (e.edit) {
    case 'protocol':
      return text.replace(/-p (?:tcp|udp)/, `-p ${e.to}`).replace(/-m (?:tcp|udp)\b/, `-m ${e.to}`);
    case 'port': {
      const [only] = e.to;
      // Several ports need another match (iptables-extensions(8), multiport).
      if (e.to.length !== 1 || !only) return null;
      const ports = only.first === only.last ? `${only.first}` : `${only.first}:${only.last}`;
      return text.replace(/--dport \S+/, `--dport ${ports}`);
    }
    case 'source':
      return iptables.withSources(text, e.to);
    case 'address':
      return iptables.withDestination(text, e.to);
    case 'line':
      return text.replace(/-i \S+ ?/, '');
  }
}

/** A rule with one part changed; null where its text has that part in a way that is not written here. */
export function writeEdited(rule: Rule, chain: Chain, edit: RuleEdit): Written | null {
  const { origin } = chain;
  if (origin.program === 'nft') {
    const text = nftEdited(rule.text, edit);
    return text === rule.text ? null : { text, commands: nft.replace(origin, rule, text) };
  }
  if (origin.program !== 'iptables') return null;
  const text = iptablesEdited(rule.text, edit);
  return text === null || text === rule.text
    ? null
    : { text, commands: iptables.replace(origin, rule, text) };
}
