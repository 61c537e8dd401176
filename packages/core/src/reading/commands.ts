import type { Coverage } from '../facts/index.ts';

/** What a command leaves out of what its program could show. */
export type Selection = 'everything' | ReadonlySet<Coverage>;

/** Programs that pass on some of the lines that they are given. */
const PIPE = new RegExp(
  String.raw`\|\s*(?:sudo\s+)?(?:e?grep|fgrep|rg|ag|awk|gawk|sed|head|tail|findstr|find|` +
    String.raw`select-string|sls|where-object|where|\?|cut|sort\s+-u|uniq|less\s+\+|` +
    String.raw`more\s+\+)(?=\s|$)`,
  'i',
);
/** PowerShell keeps rows by number, not by the properties that it shows. */
const SOME_ROWS = /select-object\b[^|]*\s-(?:first|last|skip|unique|index)\b/i;
const REDIRECTED = /\|\s*select(?:-object)?\b[^|]*\s-(?:first|last|skip|index)\b/i;

const TCP: Coverage = 'sockets-tcp';
const UDP: Coverage = 'sockets-udp';
const NONE: ReadonlySet<Coverage> = new Set();
const BOTH: ReadonlySet<Coverage> = new Set([TCP, UDP]);

/** Short options of a command, joined ones taken apart: `-tulpn -4` → t u l p n 4. */
const options = (words: readonly string[]): ReadonlySet<string> =>
  new Set(words.filter((w) => /^-[a-z\d]+$/i.test(w)).flatMap((w) => w.slice(1).split('')));

type Rule = (words: readonly string[], text: string) => Selection;

/**
 * ss(8): a filter expression, a state or a family selects; without `-a` or `-l` nothing that listens is
 * shown.
 */
const ss: Rule = (words, text) => {
  const set = options(words);
  if (/\b(?:sport|dport|state|src|dst|exclude|autobound|dev)\b|'|"/.test(text)) return 'everything';
  if (['4', '6', 'f', 'F', 'K'].some((o) => set.has(o)) || /--(?:ipv4|ipv6|family)/.test(text))
    return 'everything';
  if (!set.has('l') && !set.has('a') && !/--(?:listening|all)/.test(text)) return BOTH;
  return transports(set.has('t') || /--tcp/.test(text), set.has('u') || /--udp/.test(text));
};

const transports = (tcp: boolean, udp: boolean): Selection => {
  if (tcp === udp) return NONE;
  return new Set([tcp ? UDP : TCP]);
};

/** netstat(8) of Linux, BSD and Windows: families and protocols select. */
const netstat: Rule = (words, text) => {
  const set = options(words);
  if (set.has('r') || set.has('i')) return NONE;
  // Alone or joined with others: `-an -p tcp`, `-anp tcp`.
  const named = /\s-[a-z]{0,8}[pf]\s+(tcpv6|udpv6|tcp|udp|inet6|inet|ipv6|ip|icmp)\b/i
    .exec(text)?.[1]
    ?.toLowerCase();
  if (named === 'tcp' || named === 'udp') return new Set([named === 'tcp' ? UDP : TCP]);
  if (named === 'inet') return NONE;
  if (named !== undefined || set.has('4') || set.has('6')) return 'everything';
  if (!set.has('l') && !set.has('a')) return BOTH;
  return transports(set.has('t'), set.has('u'));
};

/** PowerShell: a parameter that names a value keeps the rows that have it. */
const parameters =
  (selecting: RegExp): Rule =>
  (_words, text) =>
    selecting.test(text) ? 'everything' : NONE;

const RULES: readonly (readonly [RegExp, Rule])[] = [
  [/^ss$/, ss],
  [/^netstat(?:\.exe)?$/i, netstat],
  [
    /^(?:lsof|sockstat)$/,
    (words, text) => (/-i\s*\S*:|-[cpu]\s|-p\b|-[46]/.test(text) || words.length === 1 ? 'everything' : NONE),
  ],
  [
    /^Get-NetTCPConnection$/i,
    (_w, text) =>
      /-(?:local|remote)(?:port|address)|-owningprocess|-state\s+(?!listen)|-appliedsetting/i.test(text)
        ? 'everything'
        : new Set([UDP]),
  ],
  [
    /^Get-NetUDPEndpoint$/i,
    (_w, text) => (/-local(?:port|address)|-owningprocess/i.test(text) ? 'everything' : new Set([TCP])),
  ],
  // Inward rows and rows that are on are what a question about inward packets needs; any other choice
  // leaves out.
  [
    /^Get-NetFirewallRule$/i,
    parameters(
      new RegExp(
        String.raw`-(?:action|displayname|name|displaygroup|group|direction\s+outbound|enabled\s+false|` +
          String.raw`associated\w*|description|all\s|policystore\s+(?!activestore))`,
        'i',
      ),
    ),
  ],
  [
    /^netsh(?:\.exe)?$/i,
    (_w, text) => {
      if (!/show\s+rule/i.test(text)) return NONE;
      const isAll = /name\s*=\s*"?all"?/i.test(text);
      return isAll && !/\b(?:profile|type)\s*=|\bdir\s*=\s*out/i.test(text) ? NONE : 'everything';
    },
  ],
  [/^nft$/, (_w, text) => (/\blist\s+(?!ruleset)/.test(text) ? 'everything' : NONE)],
  [
    /^ip6?tables$/,
    (words) =>
      words.some((w, i) => /^-[SL]$/.test(w) && /^[A-Z]/i.test(words[i + 1] ?? '')) ? 'everything' : NONE,
  ],
  [
    /^ip$/,
    (_w, text) =>
      /\broute\s+get\b|\broute\s+show\s+(?!table)(?:\S)|\broute\s+list\s+(?!table)\S/.test(text)
        ? 'everything'
        : NONE,
  ],
  [/^route$/i, (_w, text) => (/\bprint\s+(?!-4|-6)\S/i.test(text) ? 'everything' : NONE)],
  [/^ufw$/, (_w, text) => (/\bstatus\b/.test(text) ? NONE : 'everything')],
  [
    /^firewall-cmd$/,
    (_w, text) =>
      /--list-(?:ports|services|rich-rules|sources|interfaces|forward-ports)/.test(text)
        ? 'everything'
        : NONE,
  ],
];

/** What stands before the command on its line: a prompt, `sudo`, a path, an assignment. */
const PROMPT =
  /^[^\s#$%:>@\u276f\u279c]*[:@][^#$%>\u276f\u279c]*[$#>%❯➜]|^(?:PS )?[A-Za-z]:\\[^>]*>|^[$#%❯➜>]/;
const FRONT = /^(?:(?:sudo|doas)|-[A-Za-z]+|[A-Z_]+=\S+)$/;

/** The words of a command without what stands before it. */
function wordsOf(line: string): string[] {
  const text = line.trim().replace(PROMPT, '').trim();
  const words = text.split(/\s+/);
  while (words.length > 1 && FRONT.test(words[0] ?? '')) words.shift();
  const [name = '', ...rest] = words;
  return [name.slice(name.lastIndexOf('/') + 1), ...rest];
}

/**
 * What a command line leaves out of what its programs could show: the one table of options, parameters
 * and pipes that select. Several commands, parted by `;` or `&&`, leave out what any of them leaves out.
 */
export function selectionOf(command: string): Selection {
  if (PIPE.test(command) || SOME_ROWS.test(command) || REDIRECTED.test(command)) return 'everything';
  const all = command.split(/;|&&/).map((one): Selection => {
    const [first = ''] = one.split(/\s\|/);
    const words = wordsOf(first);
    const text = words.join(' ');
    const rule = RULES.find(([name]) => name.test(words[0] ?? ''))?.[1];
    return rule ? rule(words, text) : NONE;
  });
  if (all.includes('everything')) return 'everything';
  return new Set(all.flatMap((s) => (s === 'everything' ? [] : [...s])));
}
