import type { IptablesRule } from '../../devices/index.ts';
import { nth } from '../../place/index.ts';
import type { Line } from '../text.ts';

export const SERVICES: Readonly<Record<string, string>> = {
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

export const serviceOr = (text: string): string =>
  text
    .split(':')
    .map((p) => SERVICES[p] ?? p)
    .join(':');
export const isProtocol = (word: string): boolean =>
  /^!?(all|tcp|udp|udplite|icmp|icmpv6|ipv6-icmp|esp|ah|sctp|gre|igmp|\d{1,3})$/.test(word);

/** Where the text goes on behind the destination column. */
export function placeOf(text: string, destination: string): number {
  const at = text.lastIndexOf(` ${destination} `);
  return at < 0 ? text.length : at + destination.length + 1;
}

/**
 * What `-L` prints behind the addresses, back in the words of the command line. Unknown words become a
 * condition that is not modelled.
 */
export function extras(text: string): { matches: string[]; targets: string[] } {
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

export function rowOf(
  line: Line,
  chain: string,
  shape: Shape,
): { rule: IptablesRule; counts: readonly [number, number] | null } | null {
  const words = line.text.trim().split(/\s+/);
  let i = shape.numbers ? 1 : 0;
  const counts = shape.counters ? ([count(words[i++] ?? ''), count(words[i++] ?? '')] as const) : null;
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

export interface Shape {
  readonly numbers: boolean;
  readonly counters: boolean;
  readonly interfaces: boolean;
}

/** `12K` is rounded: it still tells whether anything was counted. */
export function count(text: string): number {
  const match = /^(\d+)([KMGT]?)$/.exec(text);
  return match ? Number(match[1]) * ({ '': 1, K: 1000, M: 1e6, G: 1e9, T: 1e12 }[nth(match, 2)] ?? 1) : 0;
}
