import {
  formatAddress,
  parseAddress,
  parseEndpoint,
  sameAddress,
  type Address,
  type Transport,
} from '../net/index.ts';
import type { SourceRef } from '../place/index.ts';
import type { ConversationRecord, SessionRecord, TryRecord } from '../facts/index.ts';
import {
  conversationEnd,
  endingError,
  fateOf,
  type ConversationEnd,
  type ConversationError,
} from '../traffic/index.ts';
import { factsOf, type CaseFacts } from './caseFacts.ts';

/** What a machine saw become of a packet: as its log, its session table or a capture taken on it tells. */
export type Became = 'came' | 'kept-out' | 'let-in' | ConversationEnd;

/** Packets that a machine on the way saw. */
export interface TrafficRecord {
  readonly stop: string;
  readonly by: 'log' | 'capture' | 'sessions';
  readonly became: Became;
  readonly transport: Transport;
  readonly from: Address;
  /** As that machine saw it. */
  readonly to: Address | null;
  readonly port: number;
  readonly count: number;
  /** When the last of them came, as the record writes it. */
  readonly last: string | null;
  /** By which interface the question came, and by which other one its answer leaves; null: not said. */
  readonly ways: { readonly in: string; readonly out: string } | null;
  readonly source: SourceRef;
}

const FATES = { 'kept-out': 'kept-out', 'let-in': 'let-in', 'not-said': 'came' } as const;

const isTransport = (text: string): text is Transport => text === 'tcp' || text === 'udp';

/** A bare host, `host:port` or `[host]:port`. */
function endOf(text: string): { readonly address: Address | null; readonly port: number | null } {
  const whole = parseEndpoint(text);
  if (whole) return whole;
  const port = /:(\d+)$/.exec(text)?.[1];
  return { address: parseAddress(text.replace(/^\[([^\]]+)\]$/, '$1')), port: port ? Number(port) : null };
}

type Seen = Omit<TrafficRecord, 'stop' | 'source'>;

function ofTry(value: TryRecord): Seen[] {
  const [from, to] = [endOf(value.from), endOf(value.to)];
  if (!isTransport(value.protocol) || !from.address || to.port === null || value.isOutward) return [];
  return [
    {
      by: 'log',
      became: value.fate ?? FATES[fateOf(value.prefix ?? value.action ?? '')],
      transport: value.protocol,
      from: from.address,
      to: to.address,
      port: to.port,
      count: value.count ?? 1,
      last: value.last ?? null,
      ways: null,
    },
  ];
}

function ofConversation(value: ConversationRecord): Seen[] {
  const { protocol, source, destination, destinationPort } = value.forwardTuple;
  const from = parseAddress(source);
  if (!isTransport(protocol) || !from || destinationPort === undefined) return [];
  const n = (key: string): number => Number(value[key] ?? 0);
  const counts = {
    there: { packets: value.packetsForward, syns: n('syns'), resets: n('resetsForward') },
    back: {
      packets: value.packetsBack,
      synAcks: n('synAcks'),
      resets: n('resetsBack'),
      synAckSpan: Number(value['synAckSpan'] ?? NaN),
    },
  };
  const became = errorEnd(value, counts) ?? conversationEnd(counts);
  return [
    {
      by: 'capture',
      became,
      transport: protocol,
      from,
      to: parseAddress(destination),
      port: destinationPort,
      count: value.packetsForward,
      last: null,
      ways: waysOf(value),
    },
  ];
}

/** What an ICMP error of the asked machine itself, or of somebody about its answer, says became of it. */
function errorEnd(
  { icmpErrors, forwardTuple }: ConversationRecord,
  counts: Parameters<typeof conversationEnd>[0],
): Became | null {
  const errors = (icmpErrors ?? []) as unknown as readonly ConversationError[];
  const error = endingError(counts, forwardTuple.source, errors);
  if (error?.about === 'answer') return 'answer-lost';
  return error && error.from === forwardTuple.destination ? 'refused' : null;
}

/** By which interfaces a conversation came and left, where the capture names them and each is one alone. */
function waysOf({ perInterface }: ConversationRecord): TrafficRecord['ways'] {
  const counts = Object.entries((perInterface ?? {}) as Record<string, { forward: number; back: number }>);
  const [inward, ...moreIn] = counts.filter(([, c]) => c.forward > 0).map(([name]) => name);
  const [outward, ...moreOut] = counts.filter(([, c]) => c.back > 0).map(([name]) => name);
  if (inward === undefined || outward === undefined || moreIn.length + moreOut.length > 0) return null;
  return inward === outward ? null : { in: inward, out: outward };
}

function ofSession(value: SessionRecord): Seen[] {
  const { original } = value;
  const from = parseAddress(original.source);
  if (!isTransport(original.protocol) || !from || original.destinationPort === undefined) return [];
  return [
    {
      by: 'sessions',
      became: value.unreplied ? 'not-answered' : 'answered',
      transport: original.protocol,
      from,
      to: parseAddress(original.destination),
      port: original.destinationPort,
      count: 1,
      last: null,
      ways: null,
    },
  ];
}

/** What the machines of the way saw of packets to them or through them. */
export function trafficRecords(facts: CaseFacts): TrafficRecord[] {
  const stops = new Set(facts.document.path.map((s) => s.id));
  const all: { stop: string; source: SourceRef; seen: Seen[] }[] = [
    ...factsOf(facts, 'try').map((f) => ({ ...f, seen: ofTry(f.fact.value) })),
    ...factsOf(facts, 'conversation').map((f) => ({ ...f, seen: ofConversation(f.fact.value) })),
    ...factsOf(facts, 'session').map((f) => ({ ...f, seen: ofSession(f.fact.value) })),
  ];
  return all
    .filter((f) => stops.has(f.stop))
    .flatMap(({ stop, source, seen }) => seen.map((s) => ({ ...s, stop, source })));
}

/**
 * What a log last said of a sender's packets to a service: kept out, and not let in since. Where a log has no
 * times, a packet that was let in leaves it open.
 * @param from the sender; null: whoever came, where it was one alone
 */
export function keptOut(
  facts: CaseFacts,
  isServed: (transport: Transport, port: number) => boolean,
  from: Address | null,
): TrafficRecord | null {
  const logged = recordsOf(facts, isServed).filter((r) => r.by === 'log');
  const kept = logged.filter((r) => r.became === 'kept-out');
  const record = from ? kept.find((r) => sameAddress(r.from, from)) : kept[0];
  const others = new Set(logged.map((r) => formatAddress(r.from)));
  if (!record || (from === null && others.size > 1)) return null;
  const isLetIn = logged.some(
    (r) =>
      r.became !== 'kept-out' &&
      r.stop === record.stop &&
      r.transport === record.transport &&
      r.port === record.port &&
      sameAddress(r.from, record.from) &&
      (r.last === null || record.last === null || r.last >= record.last),
  );
  return isLetIn ? null : record;
}

/** Records of one service, those of the same sender, fate and place as one. */
export function recordsOf(
  facts: CaseFacts,
  isServed: (transport: Transport, port: number) => boolean,
): TrafficRecord[] {
  const out = new Map<string, TrafficRecord>();
  for (const r of trafficRecords(facts)) {
    if (!isServed(r.transport, r.port)) continue;
    const key = JSON.stringify([r.stop, r.by, r.became, r.transport, r.port, formatAddress(r.from)]);
    const had = out.get(key);
    out.set(key, had ? { ...had, count: had.count + r.count, last: r.last ?? had.last } : r);
  }
  return [...out.values()];
}
