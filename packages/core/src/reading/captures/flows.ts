import { type CapturedPacket } from './container.ts';
import type { ConversationError } from '../../traffic/index.ts';
import { type Frame } from './frame.ts';

const SYN = 2;

const RST = 4;

const ACK = 16;

/** One conversation: who began it, and what came in both directions. */
export interface Flow {
  readonly protocol: string;
  readonly source: string;
  readonly sourcePort: number;
  readonly destination: string;
  readonly destinationPort: number;
  readonly first: CapturedPacket;
  packetsForward: number;
  packetsBack: number;
  syns: number;
  synAcks: number;
  resetsForward: number;
  resetsBack: number;
  firstSyn: CapturedPacket | null;
  /** The sequence number of its first SYN (RFC 9293 §3.4.1). */
  initialSequence: number | null;
  /** What its first UDP datagram says, as a hash. */
  readonly firstPayload: number | null;
  /** ICMP errors about it: which packet they quote, and who says which. */
  readonly errors: ConversationError[];
  firstSynAck: CapturedPacket | null;
  lastSynAck: CapturedPacket | null;
  /** By interface, where the capture tells them apart. */
  readonly per: Map<string, { forward: number; back: number; syns: number; synAcks: number }>;
  /** The same conversation behind a translation, on another interface of the capturing machine. */
  behind: Flow | null;
  /** Who answers, where it is not the one that was asked. */
  answeredBy: Flow | null;
}

export type Framed = { readonly packet: CapturedPacket; readonly frame: Frame | null };

export function flowsOf(frames: readonly Framed[], names: readonly (string | null)[]): Flow[] {
  const flows = new Map<string, Flow>();
  for (const { packet, frame: f } of frames) {
    if (!f || (f.protocol !== 'tcp' && f.protocol !== 'udp') || f.sourcePort === undefined) continue;
    const [there, back] = [
      `${f.protocol} ${f.source} ${f.sourcePort} ${f.destination} ${f.destinationPort}`,
      `${f.protocol} ${f.destination} ${f.destinationPort} ${f.source} ${f.sourcePort}`,
    ];
    const isSyn = f.flags !== undefined && (f.flags & (SYN | ACK)) === SYN;
    const isSynAck = f.flags !== undefined && (f.flags & (SYN | ACK)) === (SYN | ACK);
    let flow = flows.get(there);
    let forward = true;
    if (!flow && flows.has(back)) {
      flow = flows.get(back)!;
      forward = false;
    }
    if (!flow) {
      // What begins with an answer was begun by the other side.
      forward = !isSynAck;
      const [source, sourcePort, destination, destinationPort] = forward
        ? [f.source, f.sourcePort, f.destination, f.destinationPort!]
        : [f.destination, f.destinationPort!, f.source, f.sourcePort];
      flow = {
        protocol: f.protocol,
        source,
        sourcePort,
        destination,
        destinationPort,
        first: packet,
        packetsForward: 0,
        packetsBack: 0,
        syns: 0,
        synAcks: 0,
        resetsForward: 0,
        resetsBack: 0,
        firstSyn: null,
        initialSequence: null,
        firstPayload: f.payload ?? null,
        errors: [],
        firstSynAck: null,
        lastSynAck: null,
        per: new Map(),
        behind: null,
        answeredBy: null,
      };
      flows.set(forward ? there : back, flow);
    }
    const reset = f.flags !== undefined && (f.flags & RST) !== 0;
    if (forward) flow.packetsForward++;
    else flow.packetsBack++;
    if (isSyn && forward) {
      flow.syns++;
      flow.firstSyn ??= packet;
      flow.initialSequence ??= f.sequence ?? null;
    }
    if (isSynAck && !forward) {
      flow.synAcks++;
      flow.firstSynAck ??= packet;
      flow.lastSynAck = packet;
    }
    const name =
      f.interfaceName ??
      (f.interfaceIndex === undefined ? (names[packet.interface] ?? null) : String(f.interfaceIndex));
    if (name !== null) {
      const per = flow.per.get(name) ?? { forward: 0, back: 0, syns: 0, synAcks: 0 };
      flow.per.set(name, per);
      per[forward ? 'forward' : 'back']++;
      if (isSyn && forward) per.syns++;
      if (isSynAck && !forward) per.synAcks++;
    }
    if (reset && forward) flow.resetsForward++;
    if (reset && !forward) flow.resetsBack++;
  }
  for (const { frame } of frames) if (frame) noteError(flows, frame);
  return [...flows.values()];
}

/** An ICMP error stands with the conversation that it quotes (RFC 792, RFC 4443 §2.4). */
function noteError(flows: ReadonlyMap<string, Flow>, { source, icmp, quote: q }: Frame): void {
  if (!icmp || q?.sourcePort === undefined) return;
  const asked = flows.get(`${q.protocol} ${q.source} ${q.sourcePort} ${q.destination} ${q.destinationPort}`);
  const flow =
    asked ?? flows.get(`${q.protocol} ${q.destination} ${q.destinationPort} ${q.source} ${q.sourcePort}`);
  flow?.errors.push({ about: asked ? 'question' : 'answer', from: source, ...icmp });
}

/**
 * An answer that comes from another address than was asked belongs to the question, which the client does not
 * see (RFC 9293 §3.10.7).
 */
export function merged(flows: readonly Flow[]): Flow[] {
  const strays = new Set<Flow>();
  for (const asked of flows.filter((f) => f.protocol === 'tcp' && f.syns > 0 && f.synAcks === 0)) {
    const stray = flows.find(
      (f) =>
        f !== asked &&
        f.protocol === 'tcp' &&
        f.syns === 0 &&
        f.synAcks > 0 &&
        f.source === asked.source &&
        f.sourcePort === asked.sourcePort,
    );
    if (!stray) continue;
    strays.add(stray);
    asked.answeredBy = stray;
    addCounts(asked, stray);
    asked.firstSynAck = stray.firstSynAck;
    asked.lastSynAck = stray.lastSynAck;
  }
  for (const before of flows) {
    const behind = strays.has(before)
      ? undefined
      : flows.find((f) => f !== before && !strays.has(f) && f.behind === null && isBehind(before, f));
    if (!behind) continue;
    strays.add(behind);
    before.behind = behind;
    addCounts(before, behind);
  }
  return flows.filter((f) => !strays.has(f));
}

/** Adds what one conversation counts to another. */
function addCounts(to: Flow, from: Flow): void {
  for (const key of [
    'packetsForward',
    'packetsBack',
    'syns',
    'synAcks',
    'resetsForward',
    'resetsBack',
  ] as const)
    to[key] += from[key];
  for (const [name, counts] of from.per) {
    const had = to.per.get(name);
    to.per.set(
      name,
      had
        ? {
            forward: had.forward + counts.forward,
            back: had.back + counts.back,
            syns: had.syns + counts.syns,
            synAcks: had.synAcks + counts.synAcks,
          }
        : counts,
    );
  }
}

/** A packet is translated and sent on within this time, nanoseconds. */
const ONWARD = 50_000_000n;

/**
 * Whether a conversation is another one after a destination translation: the same sender and port, right
 * behind it, on another interface.
 */
function isBehind(before: Flow, after: Flow): boolean {
  if (
    after.protocol !== before.protocol ||
    after.source !== before.source ||
    after.sourcePort !== before.sourcePort ||
    before.per.size === 0 ||
    after.per.size === 0
  )
    return false;
  const [a, b] = [before.first.time, after.first.time];
  if (a === null || b === null || b < a || b - a > ONWARD || after.first.frame < before.first.frame)
    return false;
  return [...after.per.keys()].some((k) => !before.per.has(k));
}
