import { nth } from '../../place/index.ts';
import { parseAddress, parsePrefix } from '../../net/index.ts';
import type { NeighbourFact, PolicyFact, Problem } from '../../facts/index.ts';
import { spanOf, type Line } from '../text.ts';
import { once, problemAt, written } from '../noted.ts';
import type { Reader } from '../reader.ts';

const HEAD = /^\s*(\d+):\s+(not\s+)?from\s+(\S+)(?:\s(.*)|$)/;
const ACTIONS = new Set(['blackhole', 'unreachable', 'prohibit', 'nop']);

/** `ip rule`: `1000: from all fwmark 0x2a lookup 142`. */
export const ipRule: Reader = {
  format: 'ip-rule',
  title: 'routing rules (ip rule)',
  recognise(text) {
    const lines = written(text.slice(0, 10_000));
    const hits = lines.filter((l) => HEAD.test(l.text)).length;
    return hits > 0 && hits * 2 > lines.length ? 0.93 : 0;
  },
  read(text) {
    const facts: PolicyFact[] = [];
    const problems: Problem[] = [];
    for (const line of written(text)) {
      const fact = ruleOf(line);
      if (fact) facts.push(fact);
      else problems.push(problemAt(line, 'no-routing-rule'));
    }
    // The IPv4 list alone ends with `default`; IPv6 has no such table.
    const six = facts.some((f) => f.family === 6) || !facts.some((f) => f.table === 'default');
    const family = six ? (6 as const) : (4 as const);
    return {
      format: 'ip-rule',
      facts: facts.map((f) => ({ ...f, family: f.family ?? family })),
      problems,
      covers: [six ? 'policy6' : 'policy4'],
    };
  },
};

function ruleOf(line: Line): PolicyFact | null {
  const head = HEAD.exec(line.text);
  if (!head) return null;
  const words = (head[4] ?? '')
    .trim()
    .split(/\s+/)
    .filter((w) => w !== '');
  const fact: { -readonly [K in keyof PolicyFact]: PolicyFact[K] } = {
    kind: 'policy',
    at: spanOf(line, line.text.trim()),
    family: nth(head, 3).includes(':') ? 6 : null,
    priority: Number(head[1]),
    action: 'lookup',
    ...(head[2] ? { not: true } : {}),
    ...(head[3] !== 'all' ? { from: nth(head, 3) } : {}),
  };
  const unknown: string[] = [];
  for (let i = 0; i < words.length; i++) {
    const word = nth(words, i);
    const next = (): string => words[++i] ?? '';
    if (word === 'to') {
      fact.to = next();
      if (fact.to.includes(':')) fact.family = 6;
    } else if (word === 'iif') fact.iif = next();
    else if (word === 'oif') fact.oif = next();
    else if (word === 'fwmark') {
      const [value, mask] = next().split('/');
      fact.fwmark = { value: Number(value), mask: mask === undefined ? 0xffff_ffff : Number(mask) };
    } else if (word === 'lookup' || word === 'table') fact.table = next();
    else if (word === 'ipproto') fact.protocol = next();
    else if (word === 'sport' || word === 'dport') {
      const [first = NaN, last = first] = next().split('-').map(Number);
      fact[word] = { first, last };
    } else if (word === 'suppress_prefixlength') fact.suppress = Number(next());
    else if (word === 'goto') {
      fact.action = 'goto';
      fact.goto = Number(next());
    } else if (ACTIONS.has(word)) fact.action = word as PolicyFact['action'];
    else if (word === 'proto' || word === 'realms') i++;
    else if (word !== '[detached]' && word !== '[unresolved]') unknown.push(word);
  }
  if (unknown.length > 0) fact.unmodelled = unknown.join(' ');
  return fact;
}

const NEIGHBOUR = /^([0-9a-fA-F.:]+)\s+dev\s+(\S+)(?:\s(.*)|$)/;
const STATES = /\b(PERMANENT|NOARP|REACHABLE|STALE|NONE|INCOMPLETE|DELAY|PROBE|FAILED)\b/g;

/** `ip neigh`: `192.168.50.20 dev eth1 lladdr 4a:88:… REACHABLE`. */
export const ipNeigh: Reader = {
  format: 'ip-neigh',
  title: 'neighbours (ip neigh)',
  recognise(text) {
    const lines = written(text.slice(0, 10_000));
    const hits = lines.filter(
      (l) =>
        NEIGHBOUR.test(l.text) &&
        /\b(lladdr|PERMANENT|NOARP|REACHABLE|STALE|INCOMPLETE|DELAY|PROBE|FAILED)\b/.test(l.text),
    ).length;
    return hits > 0 && hits * 2 >= lines.length ? 0.93 : 0;
  },
  read(text) {
    const facts: NeighbourFact[] = [];
    const problems: Problem[] = [];
    for (const line of written(text)) {
      const match = NEIGHBOUR.exec(line.text);
      if (!match || !parseAddress(nth(match, 1))) {
        problems.push(problemAt(line, 'no-neighbour'));
        continue;
      }
      facts.push({
        kind: 'neighbour',
        at: spanOf(line, nth(match, 1)),
        address: nth(match, 1),
        dev: nth(match, 2),
        mac: /\blladdr\s+([0-9a-f:]{17})/i.exec(match[3] ?? '')?.[1] ?? null,
        states: [...(match[3] ?? '').matchAll(STATES)].map((m) => nth(m, 1)),
      });
    }
    return { format: 'ip-neigh', facts, problems, covers: ['neighbours'] };
  },
};

const GET = new RegExp(
  String.raw`^((?:local|broadcast|multicast|unreachable|blackhole|prohibit)\s+)?([0-9a-fA-F.:]+)` +
    String.raw`(?:\s+from\s+\S+)?(?:\s+via\s+(\S+))?\s+dev\s+(\S+)(?:\s+table\s+\S+)?(?:\s(.*)|$)`,
);

/** `ip route get ADDRESS`: the one route that the kernel picks. */
export const ipRouteGet: Reader = {
  format: 'ip-route-get',
  title: 'the route to one address (ip route get)',
  recognise(text) {
    const lines = written(text.slice(0, 2000));
    const first = lines[0] ? GET.exec(lines[0].text.trim()) : null;
    return first &&
      lines.length <= 3 &&
      parseAddress(nth(first, 2)) &&
      (/\buid \d+/.test(first[5] ?? '') || /^\s*cache\b/.test(lines[1]?.text ?? ''))
      ? 0.96
      : 0;
  },
  read(text) {
    const line = written(text)[0] ?? { number: 1, text: '' };
    const match = GET.exec(line.text.trim());
    if (!match)
      return {
        format: 'ip-route-get',
        facts: [],
        problems: [problemAt(line, 'no-route-to')],
        covers: [],
      };
    const [, , to = '', via, dev = '', rest = ''] = match;
    const source = /\bsrc\s+(\S+)/.exec(rest)?.[1] ?? null;
    const at = { line: line.number };
    return {
      format: 'ip-route-get',
      problems: [],
      covers: [],
      facts: [
        once('to', at, to),
        once('via', at, via ?? null, via ?? 'directly'),
        once('dev', at, dev),
        ...(source ? [once('source', at, source)] : []),
      ].filter((f) => parsePrefix(to) !== null || f.topic === 'dev'),
    };
  },
};
