import { nth } from '../../place/index.ts';
import type { IptablesRule } from '../../devices/index.ts';
import type { Family } from '../../net/index.ts';
import type { IptablesFact, NotedFact, Problem } from '../../facts/index.ts';
import { linesOf, type Line } from '../text.ts';
import { splitWords } from './iptablesSave.ts';
import { lineAt, once, problemAt } from '../noted.ts';
import type { Reader } from '../reader.ts';
import { isBesideNft, otherTables, type ForeignTables } from './otherTables.ts';

type Policy = 'ACCEPT' | 'DROP' | null;
interface OpenTable {
  readonly name: string;
  readonly chains: { name: string; policy: Policy; at: { line: number } }[];
  readonly rules: IptablesRule[];
  readonly complete: true;
}

const CHAIN = /^Chain (\S+) \((?:policy (\w+)(?: (\S+) packets, (\S+) bytes)?|(\d+) references)\)/;
const HEADING = /^(num\s+|\s+)?(pkts\s+bytes\s+)?target\s+prot\s+opt\s+(in\s+out\s+)?source\s+destination/;

/** The table that a listing is of, told by the chains that it has: `iptables -L` itself does not say. */
function tableOf(chains: readonly string[]): string {
  const has = (name: string): boolean => chains.includes(name);
  if (has('PREROUTING') && has('FORWARD')) return 'mangle';
  if (has('PREROUTING') && has('POSTROUTING')) return 'nat';
  if (has('PREROUTING')) return 'raw';
  return 'filter';
}

/**
 * `iptables -L` and `ip6tables -L`, with or without `-n`, `-v`, `--line-numbers`. Without `-v` the interfaces
 * are not shown: every rule then has a condition that is not known.
 */
export const iptablesList: Reader = {
  format: 'iptables-list',
  title: 'firewall rules (iptables -L)',
  recognise: (text) => (linesOf(text.slice(0, 50_000)).some((l) => CHAIN.test(l.text)) ? 0.97 : 0),
  read(text) {
    const problems: Problem[] = [];
    const chains: OpenTable['chains'] = [];
    const rules: IptablesRule[] = [];
    const counters: Record<string, { policy: Policy; policyPackets: number | null; rules: number[][] }> = {};
    let shape: Shape | null = null;
    let chain: string | null = null;
    for (const line of linesOf(text)) {
      if (line.text.trim() === '') continue;
      const head = CHAIN.exec(line.text);
      const heading = HEADING.exec(line.text.trim());
      if (head) {
        chain = nth(head, 1);
        const policy: Policy = head[2] === 'ACCEPT' || head[2] === 'DROP' ? head[2] : null;
        chains.push({ name: chain, policy, at: { line: line.number } });
        counters[chain] = { policy, policyPackets: head[3] === undefined ? null : count(head[3]), rules: [] };
      } else if (heading)
        shape = {
          numbers: heading[1] !== undefined,
          counters: heading[2] !== undefined,
          interfaces: heading[3] !== undefined,
        };
      else if (otherTables(line.text.trim()).length > 0) continue;
      else if (chain && shape) {
        const row = rowOf(line, chain, shape);
        if (!row) problems.push(problemAt(line, 'no-iptables-rule'));
        else {
          rules.push(row.rule);
          if (row.counts) counters[chain]!.rules.push(row.counts);
        }
      } else problems.push(problemAt(line, 'before-first-chain'));
    }
    const table: OpenTable = { name: tableOf(chains.map((c) => c.name)), chains, rules, complete: true };
    const family = familyOf(text, rules);
    const others = otherTables(text);
    problems.push(...others.map((o) => o.problem));
    const fact = tableFact(table, family, others);
    const counted: NotedFact[] = Object.values(counters).some(
      (c) => c.rules.length > 0 || c.policyPackets !== null,
    )
      ? [
          once(
            'counters',
            lineAt({ number: 1, text: '' }),
            { [table.name]: counters } as never,
            'packet counters of every rule',
          ),
        ]
      : [];
    const legacy = others.some((o) => o.of === 'legacy');
    // A nat table alone says nothing about the filter, and an empty listing beside legacy rules says nothing
    // at all.
    return {
      format: 'iptables-list',
      facts: [...(chains.length > 0 && !legacy ? [fact] : []), ...counted],
      problems,
      covers: table.name === 'filter' && others.length === 0 ? [family === 6 ? 'rules6' : 'rules4'] : [],
    };
  },
};

/** What a listing of one table says. */
const tableFact = (table: OpenTable, family: Family, others: readonly ForeignTables[]): IptablesFact => ({
  kind: 'iptables',
  at: { line: 1 },
  family,
  tables: [table],
  oneTable: true,
  ...(isBesideNft(others) ? { isBesideNft: true } : {}),
});

interface Shape {
  readonly numbers: boolean;
  readonly counters: boolean;
  readonly interfaces: boolean;
}

/** `12K` is rounded: it still tells whether anything was counted. */
function count(text: string): number {
  const match = /^(\d+)([KMGT]?)$/.exec(text);
  return match ? Number(match[1]) * ({ '': 1, K: 1000, M: 1e6, G: 1e9, T: 1e12 }[nth(match, 2)] ?? 1) : 0;
}

const familyOf = (text: string, rules: readonly IptablesRule[]): Family =>
  /\s::\/0\s/.test(text) || rules.some((r) => r.words.some((w) => /^[0-9a-f]*:[0-9a-f:]*:/i.test(w))) ? 6 : 4;

function rowOf(
  line: Line,
  chain: string,
  shape: Shape,
): { rule: IptablesRule; counts: number[] | null } | null {
  const words = line.text.trim().split(/\s+/);
  let i = shape.numbers ? 1 : 0;
  const counts = shape.counters ? [count(words[i++] ?? ''), count(words[i++] ?? '')] : null;
  // A rule without a target leaves the column blank: the next word is then the protocol.
  const target =
    isProtocol(words[i] ?? '') && (words[i + 1] === '--' || words[i + 1] === '-f' || words[i + 1] === '!f')
      ? null
      : nth(words, i++);
  const protocol = words[i++] ?? '';
  if (words[i] === '--' || words[i] === '-f' || words[i] === '!f') i++;
  const [inside, outside] = shape.interfaces ? [words[i++], words[i++]] : [null, null];
  const [source, destination] = [words[i++], words[i++]];
  if (!isProtocol(protocol) || source === undefined || destination === undefined) return null;
  const out: string[] = [];
  const condition = (option: string, value: string | null | undefined, any: readonly string[]): void => {
    if (!value || any.includes(value)) return;
    if (value.startsWith('!')) out.push('!');
    out.push(option, value.replace(/^!/, ''));
  };
  condition('-s', source, ['0.0.0.0/0', '::/0', 'anywhere']);
  condition('-d', destination, ['0.0.0.0/0', '::/0', 'anywhere']);
  condition('-p', protocol, ['all', '0']);
  if (shape.interfaces) {
    condition('-i', inside, ['*', 'any']);
    condition('-o', outside, ['*', 'any']);
  }
  // A module that is not known takes the options behind it for its own: it has to stand last.
  const hidden = shape.interfaces ? [] : ['-m', 'interfaces-not-shown'];
  const rest = line.text.slice(placeOf(line.text, destination)).trim();
  const { matches, targets } = extras(rest);
  return {
    rule: {
      chain,
      words: [...out, ...matches, ...hidden, ...(target ? ['-j', target, ...targets] : [])],
      text: line.text.trim().replace(/\s+/g, ' '),
      at: { line: line.number },
    },
    counts,
  };
}

const isProtocol = (word: string): boolean =>
  /^!?(all|tcp|udp|udplite|icmp|icmpv6|ipv6-icmp|esp|ah|sctp|gre|igmp|\d{1,3})$/.test(word);

/** Where the text goes on behind the destination column. */
function placeOf(text: string, destination: string): number {
  const at = text.lastIndexOf(` ${destination} `);
  return at < 0 ? text.length : at + destination.length + 1;
}

/**
 * What `-L` prints behind the addresses, back in the words of the command line. Unknown words become a
 * condition that is not modelled.
 */
function extras(text: string): { matches: string[]; targets: string[] } {
  const matches: string[] = [];
  const targets: string[] = [];
  let left = text.replace(/\/\*.*?\*\//g, ' ');
  const take = (pattern: RegExp, use: (m: RegExpExecArray) => void): void => {
    for (let m = pattern.exec(left); m; m = pattern.exec(left)) {
      use(m);
      left = `${left.slice(0, m.index)} ${left.slice(m.index + m[0].length)}`;
    }
  };
  const not = (mark: string | undefined): string[] => (mark === '!' ? ['!'] : []);
  take(/\bLOG flags \d+ level \d+(?: prefix "[^"]*")?/, () => undefined);
  take(/\bmultiport (!)?\s*(sports|dports|ports) (!)?(\S+)/, (m) =>
    matches.push('-m', 'multiport', ...not(m[1] ?? m[3]), `--${m[2]}`, nth(m, 4)),
  );
  take(/\b(tcp|udp|udplite|sctp) (dpt|spt|dpts|spts):(!)?(\S+)/, (m) =>
    matches.push(...not(m[3]), nth(m, 2).startsWith('d') ? '--dport' : '--sport', serviceOr(nth(m, 4))),
  );
  take(/(?<=^|\s)(dpt|spt|dpts|spts):(!)?(\S+)/, (m) =>
    matches.push(...not(m[2]), nth(m, 1).startsWith('d') ? '--dport' : '--sport', serviceOr(nth(m, 3))),
  );
  take(/(?<=^|\s)(!\s*)?(ctstate|state) (\S+)/, (m) =>
    matches.push('-m', 'conntrack', ...not(m[1]?.trim()), '--ctstate', nth(m, 3)),
  );
  take(/(?<=^|\s)(!\s*)?ctstatus (\S+)/, (m) =>
    matches.push('-m', 'conntrack', ...not(m[1]?.trim()), '--ctstatus', nth(m, 2)),
  );
  take(/(?<=^|\s)(!\s*)?(icmptype|ipv6-icmptype) (\d+)(?: code (\d+))?/, (m) =>
    matches.push(
      ...not(m[1]?.trim()),
      m[2] === 'icmptype' ? '--icmp-type' : '--icmpv6-type',
      m[4] ? `${m[3]}/${m[4]}` : nth(m, 3),
    ),
  );
  take(/\bicmp (?:!)?echo-request\b/, () => matches.push('--icmp-type', 'echo-request'));
  take(/(?<=^|\s)ADDRTYPE match dst-type (!)?(\S+)/, (m) =>
    matches.push('-m', 'addrtype', ...not(m[1]), '--dst-type', nth(m, 2)),
  );
  take(/(?<=^|\s)ADDRTYPE match src-type (!)?(\S+)/, (m) =>
    matches.push('-m', 'addrtype', ...not(m[1]), '--src-type', nth(m, 2)),
  );
  take(/(?<=^|\s)mark match (!)?\s*(0x[0-9a-f]+(?:\/0x[0-9a-f]+)?)/i, (m) =>
    matches.push('-m', 'mark', ...not(m[1]), '--mark', nth(m, 2)),
  );
  take(/(?<=^|\s)(source|destination) IP range (\S+)/, (m) =>
    matches.push('-m', 'iprange', m[1] === 'source' ? '--src-range' : '--dst-range', nth(m, 2)),
  );
  take(/(?<=^|\s)limit: avg (\S+)(?: burst \d+)?/, (m) => matches.push('-m', 'limit', '--limit', nth(m, 1)));
  take(/(?<=^|\s)reject-with (\S+)(?: (?:port-unreachable|unreachable))?/, (m) =>
    targets.push('--reject-with', nth(m, 1)),
  );
  take(/(?<=^|\s)to:(\S+)/, (m) => targets.push('--to-destination', nth(m, 1)));
  take(/(?<=^|\s)redir ports (\S+)/, (m) => targets.push('--to-ports', nth(m, 1)));
  take(/(?<=^|\s)masq ports: (\S+)/, (m) => targets.push('--to-ports', nth(m, 1)));
  take(/(?<=^|\s)MARK set (0x[0-9a-f]+)/i, (m) => targets.push('--set-mark', nth(m, 1)));
  take(/(?<=^|\s)(?:tcp|udp|icmp|ipv6-icmp)(?=\s|$)/, () => undefined);
  if (left.trim() !== '') matches.push('-m', `listed-as: ${left.trim().replace(/\s+/g, ' ')}`);
  return { matches, targets };
}

const SERVICES: Readonly<Record<string, string>> = {
  ssh: '22',
  http: '80',
  https: '443',
  domain: '53',
  'http-alt': '8080',
  mysql: '3306',
  postgresql: '5432',
  smtp: '25',
  imap: '143',
  imaps: '993',
};
const serviceOr = (text: string): string =>
  text
    .split(':')
    .map((p) => SERVICES[p] ?? p)
    .join(':');

/** `iptables -S`: the commands that would make the table; the table itself is not said. */
export const iptablesCommands: Reader = {
  format: 'iptables-commands',
  title: 'firewall rules (iptables -S)',
  recognise: (text) =>
    /^-P (INPUT|FORWARD|OUTPUT|PREROUTING|POSTROUTING) (ACCEPT|DROP)/m.test(text.slice(0, 20_000)) ? 0.96 : 0,
  read(text) {
    const problems: Problem[] = [];
    const chains: OpenTable['chains'] = [];
    const rules: IptablesRule[] = [];
    for (const line of linesOf(text)) {
      const t = line.text.trim();
      if (t === '' || t.startsWith('#')) continue;
      const chain = /^(?:-P (\S+) (ACCEPT|DROP)|-N (\S+))/.exec(t);
      const rule = /^-A (\S+)(?:\s(.*)|$)/.exec(t);
      if (chain)
        chains.push({
          name: chain[1] ?? nth(chain, 3),
          policy: (chain[2] as Policy | undefined) ?? null,
          at: { line: line.number },
        });
      else if (rule) {
        const words = splitWords(rule[2] ?? '');
        if (!words) problems.push(problemAt(line, 'quote-open'));
        // `-c` prints counters among the words.
        rules.push({
          chain: nth(rule, 1),
          words: words ? withoutCounters(words) : ['-j', '(cut off)'],
          text: t,
          at: { line: line.number },
        });
      } else problems.push(problemAt(line, 'no-iptables-command'));
    }
    const table: OpenTable = { name: tableOf(chains.map((c) => c.name)), chains, rules, complete: true };
    const family: Family = rules.some((r) =>
      r.words.some((w) => /^[0-9a-f]*:[0-9a-f:]*:|^ipv6-icmp$|^icmp6-/i.test(w)),
    )
      ? 6
      : 4;
    const others = otherTables(text);
    problems.push(...others.map((o) => o.problem));
    const legacy = others.some((o) => o.of === 'legacy');
    const fact = tableFact(table, family, others);
    return {
      format: 'iptables-commands',
      facts: chains.length > 0 && !legacy ? [fact] : [],
      problems,
      covers: table.name === 'filter' && others.length === 0 ? [family === 6 ? 'rules6' : 'rules4'] : [],
    };
  },
};

function withoutCounters(words: readonly string[]): string[] {
  const at = words.indexOf('-c');
  return at < 0 ? [...words] : [...words.slice(0, at), ...words.slice(at + 3)];
}
