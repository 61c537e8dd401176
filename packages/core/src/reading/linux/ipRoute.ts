import { nth } from '../../place/index.ts';
import { parseAddress, parsePrefix } from '../../net/index.ts';
import { ROUTE_TYPES } from '../../site/index.ts';
import type { Problem, RouteFact } from '../../facts/index.ts';
import { isLastLineEnded, linesOf, spanOf, type Line } from '../text.ts';
import type { Reader } from '../reader.ts';

const TYPES: ReadonlySet<string> = new Set(ROUTE_TYPES);
/** Options with one value that do not decide where a packet goes. */
const PLAIN = new Set([
  'proto',
  'scope',
  'pref',
  'mtu',
  'advmss',
  'hoplimit',
  'expires',
  'error',
  'realm',
  'window',
  'rtt',
  'initcwnd',
  'initrwnd',
  'weight',
  'congctl',
  'quickack',
  'features',
  'rto_min',
]);

/** The usual origins and scopes of routes (rt_protos and rt_scopes of iproute2). */
const ORIGIN =
  'unspec|redirect|kernel|boot|static|gated|ra|mrt|zebra|bird|dnrouted|xorp|ntk|dhcp|keepalived|' +
  'mrouted|babel|ovn|openr|bgp|isis|ospf|rip|eigrp|\\d+';
/** A last line that ends inside one of these words, or before its value: behind it more may have stood. */
const BROKEN_WORD = new RegExp(
  `\\s(?:(?:via|dev|src|table|metric|nexthop|${[...PLAIN].join('|')})$|` +
    `proto\\s+(?!(?:${ORIGIN})$)\\S+$|scope\\s+(?!(?:global|nowhere|host|link|site|\\d+)$)\\S+$)`,
);

/**
 * `ip route` and `ip -6 route`, of one table or all:
 *
 *     default via 192.168.50.1 dev eno1
 *     10.0.0.0/8 via 192.168.50.9 dev eno1 metric 20
 *     blackhole 192.0.2.0/24
 */
export const ipRoute: Reader = {
  format: 'ip-route',
  title: 'routes (ip route)',
  recognise(text) {
    const lines = linesOf(text.slice(0, 20_000)).filter((l) => l.text.trim() !== '');
    if (lines.some((l) => / lladdr [0-9a-f:]{17}\b/.test(l.text))) return 0;
    const hits = lines.filter((l) => {
      const r = parseLine(l);
      return (
        r !== null && (r.hops.some((h) => h.dev !== null) || TYPES.has(nth(l.text.trim().split(/\s+/), 0)))
      );
    }).length;
    return hits > 0 && hits * 2 >= lines.length ? 0.85 : 0;
  },
  read(text) {
    const facts: RouteFact[] = [];
    const problems: Problem[] = [];
    const isEnded = isLastLineEnded(text);
    const lines = linesOf(text).filter((l) => l.text.trim() !== '');
    for (const line of lines) {
      const last = facts[facts.length - 1] ?? null;
      const hop = /^\s+nexthop\s+(?:via\s+(?:inet6?\s+)?(\S+)\s+)?dev\s+(\S+)/.exec(line.text);
      if (hop && last) {
        facts[facts.length - 1] = {
          ...last,
          hops: [...last.hops.filter((h) => h.dev !== null), { via: hop[1] ?? null, dev: nth(hop, 2) }],
        };
        continue;
      }
      const breaksOff = !isEnded && line === lines[lines.length - 1] && BROKEN_WORD.test(line.text);
      const parsed = breaksOff ? null : parseLine(line);
      if (parsed) facts.push(parsed);
      else
        problems.push({
          line: line.number,
          text: line.text.trim().slice(0, 200),
          why: 'no-route-line',
        });
    }
    const families = facts.map((f) => f.family);
    const six = families.includes(6) || problems.some((p) => /^[0-9a-f]*:[0-9a-f:]*\//i.test(p.text));
    const four = facts.some((f) => f.family === 4 && f.to !== 'default') || !six;
    const settled = facts.map((f) => (f.to === 'default' && six && !four ? { ...f, family: 6 as const } : f));
    return {
      format: 'ip-route',
      facts: settled,
      problems,
      covers: [...(four ? ['routes4' as const] : []), ...(six ? ['routes6' as const] : [])],
    };
  },
};

function parseLine(line: Line): RouteFact | null {
  const words = line.text.trim().split(/\s+/);
  let i = 0;
  const type = TYPES.has(words[0] ?? '') ? nth(words, i++) : 'unicast';
  const to = words[i++] ?? '';
  if (to !== 'default' && !parsePrefix(to)) return null;
  let via: string | null = null;
  let dev: string | null = null;
  let table = 'main';
  let metric = 0;
  let src: string | undefined;
  let dead = false;
  let linkDown = false;
  let unmodelled: string | undefined;
  while (i < words.length) {
    const word = nth(words, i++);
    if (word === 'via') {
      via = words[i++] ?? '';
      if (via === 'inet' || via === 'inet6') via = words[i++] ?? '';
      if (!parseAddress(via)) return null;
    } else if (word === 'dev') dev = words[i++] ?? null;
    else if (word === 'table') table = words[i++] ?? 'main';
    else if (word === 'metric') metric = Number(words[i++] ?? 0);
    else if (word === 'src') src = words[i++];
    else if (word === 'dead') dead = true;
    else if (word === 'linkdown') linkDown = true;
    else if (word === 'onlink' || word === 'offload' || word === 'trap' || word === 'notify') continue;
    else if (word === 'tos' || word === 'encap' || word === 'nhid') {
      unmodelled = word;
      i++;
    } else if (PLAIN.has(word)) i += words[i] === 'lock' ? 2 : 1;
    else return null;
  }
  if (type === 'unicast' && dev === null && via === null && words.length > i) return null;
  // An IPv4 destination may have an IPv6 next hop (RFC 5549); a default route has the family of its hop.
  const family = (to === 'default' ? (via ?? '') : to).includes(':') ? 6 : 4;
  return {
    kind: 'route',
    at: spanOf(line, line.text.trim()),
    family,
    table,
    type,
    to,
    hops: [{ via, dev }],
    metric,
    ...(src ? { src } : {}),
    ...(dead ? { dead: true } : {}),
    ...(linkDown ? { linkDown: true } : {}),
    ...(unmodelled ? { unmodelled } : {}),
  };
}
