import { nth } from '../place/index.ts';
import { hostsIn } from './hosts.ts';
import type { ServiceEndpoint, Symptom } from '../case/index.ts';
import { formatAddress, parseAddress, parsePortRange, sameAddress, type Address } from '../net/index.ts';
import { checkDialled, type DialProblem } from './dialled.ts';
import {
  SYMPTOM_WORDS,
  JOINED,
  PORT_WORD,
  LONE,
  NAMED,
  PORTS,
  PORTS_BEHIND,
  SENDER,
  FROM_TO,
  BOTH_BEHIND,
  SENTENCE,
  PEOPLE,
} from './phrases.ts';

/** What one line of complaint says, for the technician to look over. */
export interface Intake {
  readonly service: string | null;
  readonly endpoints: readonly ServiceEndpoint[];
  /** What the client types: a name or an address, with its port where one was said. */
  readonly dials: string | null;
  /** Further names and addresses that are dialled. */
  readonly alsoDials: readonly string[];
  readonly client: string | null;
  /** Further addresses that try. */
  readonly others: readonly string[];
  readonly symptom: Symptom | null;
  /** What is wrong with the dialled text, and how it should read. */
  readonly dialProblems: readonly DialProblem[];
  /** What a case needs and the line does not say. */
  readonly missing: readonly ('endpoint' | 'dials' | 'client')[];
  readonly says: string;
}

/**
 * Picks protocols, ports, names, addresses, symptom and service out of one line in any order:
 *
 *     lantern reef, udp 28410 and tcp 28410, play.gannet.example.net from 198.51.100.23, times out
 */
export function readComplaint(text: string): Intake {
  const says = text.trim();
  let rest = says;
  const cut = (part: string): void => void (rest = rest.replace(part, ' , '));
  const pair = FROM_TO.exec(rest);
  const sender = pair && parseAddress(pair[1] ?? '') ? pair : SENDER.exec(rest);
  const client = sender
    ? parseAddress(
        nth(sender, 1)
          .replace(/^\[/, '')
          .replace(/[[\].,;]{1,9}$/, ''),
      )
    : null;
  const others =
    sender && client ? furtherSenders(rest.slice(rest.indexOf(sender[0]) + sender[0].length)) : [];
  if (sender && client) cut(sender[0]);
  for (const o of others) cut(o.text);
  const endpoints: ServiceEndpoint[] = [];
  const add = (protocols: string, ports: string): void => {
    for (const protocol of protocolsOf(protocols)) {
      for (const piece of ports.split(/,|and|\+|&/).map((t) => t.trim())) {
        const range = parsePortRange(piece);
        if (
          range &&
          range.first > 0 &&
          !endpoints.some((e) => e.protocol === protocol && e.port === range.first)
        )
          endpoints.push({
            protocol,
            port: range.first,
            ...(range.last > range.first ? { portEnd: range.last } : {}),
          });
      }
    }
  };
  for (const m of [...rest.matchAll(JOINED)]) {
    add(nth(m, 2), nth(m, 1).replace('–', '-'));
    cut(m[0]);
  }
  for (const m of [...rest.matchAll(BOTH_BEHIND)]) {
    add('both', nth(m, 1));
    cut(m[0]);
  }
  for (const m of [...rest.matchAll(PORTS)]) {
    add(nth(m, 1), nth(m, 2));
    cut(m[0]);
  }
  for (const m of [...rest.matchAll(PORTS_BEHIND)]) {
    add(nth(m, 2), nth(m, 1));
    cut(m[0]);
  }
  const { hosts, listed } = hostsIn(rest);
  const dials = hosts[0] ?? null;
  let other: Address | null = null;
  for (const h of hosts) {
    cut(h);
    if (h !== dials) other ??= parseAddress(h);
  }
  const symptom = SYMPTOM_WORDS.find(([, words]) => words.test(rest))?.[0] ?? null;
  const dialPort = /[:;]\s*(\d{1,5})/.exec(dials?.replace(/^[a-z+.-]+:\/\//i, '') ?? '')?.[1];
  const said = /\b(tcp|udp)\b/i.exec(rest)?.[1]?.toLowerCase();
  if (endpoints.length === 0) {
    const lone = PORT_WORD.exec(rest) ?? LONE.exec(rest);
    const scheme = /^(https?|rtsp|ssh|ftp)s?:/i.exec(dials ?? '')?.[1] ?? null;
    endpoints.push(...unsaid(dialPort ?? lone?.[1] ?? null, said ?? null, scheme ?? rest, scheme !== null));
    if (dialPort === undefined && lone && endpoints.length > 0) cut(lone[0]);
  }
  const sent = client ?? other;
  const isSent = (host: string): boolean => {
    const address = parseAddress(host);
    return address !== null && sent !== null && sameAddress(address, sent);
  };
  return {
    service: serviceName(rest),
    endpoints,
    dials,
    alsoDials: listed.filter((h) => h !== dials && !isSent(h)),
    client: sent ? formatAddress(sent) : null,
    others: others.map((o) => formatAddress(o.address)),
    symptom,
    dialProblems: dials ? checkDialled(dials, endpoints) : [],
    says,
    missing: [
      ...(endpoints.length === 0 ? (['endpoint'] as const) : []),
      ...(dials === null ? (['dials'] as const) : []),
      ...(sent === null ? (['client'] as const) : []),
    ],
  };
}

/** The endpoint of a port without its protocol: as its name has it, else TCP, marked as nobody's word. */
function unsaid(
  port: string | null,
  said: string | null,
  words: string,
  isScheme: boolean,
): ServiceEndpoint[] {
  const named = NAMED.find(([name]) => name.test(words));
  const number = port === null ? (named?.[2] ?? null) : Number(port);
  // A port that the registry gives to one of them alone says it by itself.
  // A name says it of its own port only: “the web page over http works” tells nothing of the game's.
  const isNamed = port === null || isScheme;
  const protocol = (isNamed ? named : NAMED.find(([, , usual]) => usual === number))?.[1] ?? null;
  if (number === null || number < 1 || number > 65535) return [];
  if (said === 'tcp' || said === 'udp') return [{ protocol: said, port: number }];
  return protocol === null
    ? [{ protocol: 'tcp', port: number, guessed: true }]
    : [{ protocol, port: number }];
}

/** `… and 192.0.2.7, from 192.0.2.9`: addresses that follow the first sender. */
function furtherSenders(behind: string): { readonly text: string; readonly address: Address }[] {
  const out: { text: string; address: Address }[] = [];
  let left = behind;
  for (;;) {
    const next = /^\s*(?:,|and|&|\+)\s*(?:also\s+)?(?:from\s+)?([0-9a-f:.]{2,45})(?=[\s,;]|$)/i.exec(left);
    const address = next ? parseAddress(nth(next, 1).replace(/\.$/, '')) : null;
    if (!next || !address) return out;
    out.push({ text: next[0], address });
    left = left.slice(next[0].length);
  }
}

function protocolsOf(word: string): ('tcp' | 'udp')[] {
  const w = word.toLowerCase();
  if (w === 'both' || (w.includes('tcp') && w.includes('udp'))) return ['tcp', 'udp'];
  return w.startsWith('udp') ? ['udp'] : ['tcp'];
}

/** Where a stretch of words turns into a sentence about something: the name stands before it. */
function serviceName(rest: string): string | null {
  for (const piece of rest.split(/[,;.]| - |\band\b/)) {
    const verb = SENTENCE.exec(piece);
    const words = (verb ? piece.slice(0, verb.index) : piece)
      .replace(PEOPLE, ' ')
      .replace(
        /\b(ports?|on|at|to|via|over|my|our|the|server|is|from|dials?|cannot|can't|friends?|types?|then)\b/gi,
        ' ',
      )
      .replace(/(?<![\w-])\d+(?![\w-])/g, ' ')
      .replace(/\s+/g, ' ')
      .trim();
    if (/^[a-z][\w' -]{2,40}$/i.test(words) && !SYMPTOM_WORDS.some(([, s]) => s.test(piece)))
      return words.replace(/\b[a-z]/g, (c) => c.toUpperCase());
  }
  return null;
}
