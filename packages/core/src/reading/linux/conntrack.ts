import { nth } from '../../place/index.ts';
import type { Fact, Problem, SessionRecord } from '../../facts/index.ts';
import { linesOf, type Line } from '../text.ts';
import { lineAt, once, told, problemAt } from '../noted.ts';
import type { Reader } from '../reader.ts';

interface Tuple {
  source: string;
  destination: string;
  sourcePort?: number;
  destinationPort?: number;
  packets?: number;
  bytes?: number;
}

const LINE = new RegExp(
  String.raw`^(?:\s*\[(NEW|UPDATE|DESTROY)\]\s+)?(?:ipv[46]\s+\d+\s+)?(tcp|udp|icmp|icmpv6|` +
    String.raw`ipv6-icmp|sctp|dccp|gre|udplite|unknown)\s+(\d+)\s+(\S.*)`,
);

/**
 * `conntrack -L` (also extended, with ids) and `conntrack -E` (RFC 2663 sessions): first the original tuple,
 * then the reply's.
 */
export const conntrack: Reader = {
  format: 'conntrack',
  title: 'tracked connections (conntrack)',
  recognise: (text) => {
    if (linesOf(text.slice(0, 10_000)).some((l) => LINE.test(l.text) && /\bsrc=\S+ dst=\S+/.test(l.text)))
      return 0.97;
    return /^conntrack v[\d.]+ .*flow entries/m.test(text) ? 0.9 : 0;
  },
  read(text) {
    const facts: Fact[] = [];
    const problems: Problem[] = [];
    const seen = new Set<string>();
    for (const line of linesOf(text)) {
      if (line.text.trim() === '' || /^conntrack v/.test(line.text)) continue;
      const fact = flowOf(line, seen);
      if (fact === null) problems.push(problemAt(line, 'no-whole-session'));
      else if (fact !== 'seen') facts.push(fact);
    }
    const flows = facts.filter((f) => f.kind === 'session');
    if (flows.length > 0)
      facts.push(
        once('count', { line: 1 }, flows.length, `${flows.length} connections`),
        once('unreplied', { line: 1 }, flows.filter((f) => f.value.unreplied).length),
      );
    return { format: 'conntrack', facts, problems, covers: [] };
  },
};

function flowOf(line: Line, seen: Set<string>): Fact | 'seen' | null {
  const match = LINE.exec(line.text);
  if (!match) return null;
  const [original, reply] = tuplesOf(nth(match, 4));
  if (!original || !reply) return null;
  const state = /^(?:\d+\s+)?([A-Z_0-9]+)\s+src=/.exec(nth(match, 4))?.[1];
  const value = flowValue(
    nth(match, 2),
    original,
    reply,
    state ?? null,
    /\[UNREPLIED\]/.test(line.text),
    /\[ASSURED\]/.test(line.text),
  );
  if (match[1] === undefined)
    return told(
      'session',
      lineAt(line),
      value,
      flowText(nth(match, 2), original, reply, /\[UNREPLIED\]/.test(line.text)),
    );
  // Events tell of one connection several times; the first one is the try.
  const key =
    `${match[2]} ${original.source}:${original.sourcePort} ` +
    `${original.destination}:${original.destinationPort}`;
  if (seen.has(key)) return 'seen';
  seen.add(key);
  const at = (host: string, port: number | undefined): string => {
    if (port === undefined) return host;
    return host.includes(':') ? `[${host}]:${port}` : `${host}:${port}`;
  };
  return told(
    'try',
    lineAt(line),
    {
      protocol: nth(match, 2),
      from: at(original.source, original.sourcePort),
      to: at(original.destination, original.destinationPort),
      translatedTo: at(reply.source, reply.sourcePort),
    },
    flowText(nth(match, 2), original, reply, false),
  );
}

function tuplesOf(text: string): Tuple[] {
  const out: Tuple[] = [];
  for (const m of text.matchAll(/\b(src|dst|sport|dport|packets|bytes)=(\S+)/g)) {
    if (m[1] === 'src') out.push({ source: nth(m, 2), destination: '' });
    const tuple = out[out.length - 1];
    if (!tuple) continue;
    if (m[1] === 'dst') tuple.destination = nth(m, 2);
    else if (m[1] === 'sport') tuple.sourcePort = Number(m[2]);
    else if (m[1] === 'dport') tuple.destinationPort = Number(m[2]);
    else if (m[1] === 'packets' || m[1] === 'bytes') tuple[m[1]] = Number(m[2]);
  }
  return out.filter((t) => t.destination !== '');
}

function flowValue(
  protocol: string,
  original: Tuple,
  reply: Tuple,
  state: string | null,
  unreplied: boolean,
  assured: boolean,
): SessionRecord {
  return {
    original: { ...original, protocol },
    reply: { ...reply, protocol },
    ...(state ? { state } : {}),
    unreplied,
    assured,
    destinationTranslated:
      reply.source !== original.destination || reply.sourcePort !== original.destinationPort,
    sourceTranslated: reply.destination !== original.source || reply.destinationPort !== original.sourcePort,
  };
}

function flowText(protocol: string, o: Tuple, r: Tuple, unreplied: boolean): string {
  const isTurned = r.source !== o.destination || r.sourcePort !== o.destinationPort;
  return (
    `${protocol} ${o.source}:${o.sourcePort ?? ''} → ` +
    `${o.destination}:${o.destinationPort ?? ''}` +
    `${isTurned ? `, sent to ${r.source}:${r.sourcePort ?? ''}` : ''}` +
    `${unreplied ? ', no answer yet' : ''}`
  );
}

/** `conntrack -L -o xml`: one `<flow>` a connection with a `<meta>` for each direction. */
export const conntrackXml: Reader = {
  format: 'conntrack-xml',
  title: 'tracked connections (conntrack, XML)',
  recognise: (text) => (/<conntrack>/.test(text.slice(0, 2000)) && /<flow\b/.test(text) ? 0.98 : 0),
  read(text) {
    const facts: Fact[] = [];
    const problems: Problem[] = [];
    for (const line of linesOf(text)) {
      for (const flow of line.text.matchAll(/<flow\b[^>]*>(.*?)<\/flow>/g)) {
        const side = (direction: string): { tuple: Tuple; protocol: string } | null => {
          const meta = new RegExp(`<meta direction="${direction}">(.*?)</meta>`).exec(nth(flow, 1))?.[1];
          const value = (tag: string): string | undefined =>
            meta ? new RegExp(`<${tag}>([^<]*)</${tag}>`).exec(meta)?.[1] : undefined;
          const [source, destination] = [value('src'), value('dst')];
          if (!meta || !source || !destination) return null;
          const number = (tag: string): number | undefined =>
            value(tag) === undefined ? undefined : Number(value(tag));
          return {
            tuple: {
              source,
              destination,
              sourcePort: number('sport'),
              destinationPort: number('dport'),
              packets: number('packets'),
              bytes: number('bytes'),
            },
            protocol:
              /protoname="([^"]+)"><sport>/.exec(meta)?.[1] ??
              /<layer4[^>]*protoname="([^"]+)"/.exec(meta)?.[1] ??
              'unknown',
          };
        };
        const [original, reply] = [side('original'), side('reply')];
        if (!original || !reply) {
          problems.push(problemAt(line, 'half-a-flow'));
          continue;
        }
        const clean = (t: Tuple): Tuple =>
          Object.fromEntries(Object.entries(t).filter(([, v]) => v !== undefined)) as unknown as Tuple;
        const unreplied = /<unreplied\s*\/>/.test(nth(flow, 1));
        facts.push(
          told(
            'session',
            lineAt(line),
            flowValue(
              original.protocol,
              clean(original.tuple),
              clean(reply.tuple),
              /<state>([^<]+)<\/state>/.exec(nth(flow, 1))?.[1] ?? null,
              unreplied,
              /<assured\s*\/>/.test(nth(flow, 1)),
            ),
            flowText(original.protocol, original.tuple, reply.tuple, unreplied),
          ),
        );
      }
    }
    return { format: 'conntrack-xml', facts, problems, covers: [] };
  },
};
