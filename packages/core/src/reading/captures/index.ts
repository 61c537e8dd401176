import type { ConversationRecord, Fact, Plain, Problem, Reading } from '../../facts/index.ts';
import { listed, once, told } from '../noted.ts';
import { readCaptureFile, type CaptureFile, type CapturedPacket } from './container.ts';
import { frameOf, LINK_NAMES, type Frame } from './frame.ts';

export { isCapture } from './container.ts';

/** Conversations listed of one capture. */
const MOST_FLOWS = 500;
const SYN = 2;
const RST = 4;
const ACK = 16;

/** One conversation: who began it, and what came in both directions. */
interface Flow {
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
  firstSynAck: CapturedPacket | null;
  /** By interface, where the capture tells them apart. */
  readonly per: Map<string, { forward: number; back: number; syns: number; synAcks: number }>;
  /** The same conversation behind a translation, on another interface of the capturing machine. */
  behind: Flow | null;
  /** Who answers, where it is not the one that was asked. */
  answeredBy: Flow | null;
}

/**
 * Reads a packet capture (pcap or pcapng): each conversation with what came and what came back. Null where
 * the bytes are none.
 */
export function readCapture(bytes: Uint8Array): Reading | null {
  const file = readCaptureFile(bytes);
  if (!file) return null;
  const frames = file.packets.map((p) => ({ packet: p, frame: frameOf(p.link, p.bytes) }));
  const problems: Problem[] = [];
  if (file.brokenAt !== null)
    problems.push({
      line: 1,
      text: '',
      why: `the capture breaks off after ${file.packets.length} packets (byte ${file.brokenAt}); what came later is not in it`,
    });
  const { facts, more } = conversationFacts(
    frames,
    file.interfaces.map((i) => i.name),
  );
  if (more > 0)
    problems.push({ line: 1, text: '', why: `${more} further conversations are counted, not listed` });
  return { format: 'capture', facts: [...about(file, frames), ...facts], problems, covers: [] };
}

/**
 * What packets say of each conversation, of ICMP errors, and of the only conversation where there is one.
 * @param names of the interfaces that packets are numbered by
 * @param line where a packet stands in its listing; all of a capture file stand in its first line
 */
export function conversationFacts(
  frames: readonly Framed[],
  names: readonly (string | null)[],
  line: (packet: CapturedPacket) => number = () => 1,
): { facts: Fact[]; more: number } {
  const flows = merged(flowsOf(frames, names));
  const facts: Fact[] = flows
    .slice(0, MOST_FLOWS)
    .map((f) => told('conversation', { line: line(f.first) }, flowValue(f), flowText(f)));
  if (flows.length === 1) {
    const at = { line: line(flows[0]!.first) };
    facts.push(once('flow', at, flowValue(flows[0]!), flowText(flows[0]!)));
    if (flows[0]!.per.size > 0)
      facts.push(
        once(
          'perInterface',
          at,
          Object.fromEntries(flows[0]!.per),
          `${[...flows[0]!.per.keys()].join(', ')}`,
        ),
      );
  }
  for (const { packet, frame } of frames) {
    if (!frame?.icmp || !frame.quote) continue;
    const q = frame.quote;
    facts.push(
      listed(
        'icmp',
        { line: line(packet) },
        {
          family: frame.family,
          ...frame.icmp,
          from: frame.source,
          to: frame.destination,
          frame: packet.frame,
        },
        `${frame.source} says “${errorWord(frame)}” to ${frame.destination} about ${q.protocol} to ${endpoint(q.destination, q.destinationPort)}`,
      ),
    );
  }
  return { facts, more: Math.max(0, flows.length - MOST_FLOWS) };
}

export type Framed = { readonly packet: CapturedPacket; readonly frame: Frame | null };

function about(file: CaptureFile, frames: readonly Framed[]): Fact[] {
  const at = { line: 1 };
  const count = file.packets.length;
  const links = [
    ...new Set(
      file.packets.length > 0
        ? file.packets.map((p) => LINK_NAMES[p.link] ?? `link type ${p.link}`)
        : file.interfaces.map((i) => LINK_NAMES[i.link] ?? `link type ${i.link}`),
    ),
  ];
  const named = file.interfaces.flatMap((i) => (i.name === null ? [] : [i.name]));
  const indexes = [
    ...new Set(
      frames.flatMap((f) => (f.frame?.interfaceIndex === undefined ? [] : [f.frame.interfaceIndex])),
    ),
  ].sort((a, b) => a - b);
  const vlans = [...new Set(frames.flatMap((f) => (f.frame?.vlan === undefined ? [] : [f.frame.vlan])))].sort(
    (a, b) => a - b,
  );
  const cut = file.packets.filter((p) => p.bytes.length < p.length).length;
  const times = file.packets.flatMap((p) => (p.time === null ? [] : [p.time]));
  return [
    once('packets', at, count, `${count} packets`),
    once(
      'captureFile',
      at,
      {
        'File type': file.type === 'pcap' && file.resolution === 'nanoseconds' ? 'nsecpcap' : file.type,
        'File encapsulation': links.join(', '),
        'Number of packets': String(count),
      },
      `${file.type}, ${links.join(', ')}`,
    ),
    once('truncatedPackets', at, cut, cut === 0 ? 'none was cut' : `${cut} were cut`),
    once('timestampResolution', at, file.resolution),
    once('byteOrder', at, file.byteOrder),
    ...(named.length > 0 ? [once('interfaceNames', at, named, named.join(', '))] : []),
    ...(indexes.length > 0 ? [once('interfaceIndexes', at, indexes, indexes.join(', '))] : []),
    ...(vlans.length > 0 ? [once('vlan', at, vlans, vlans.join(', '))] : []),
    ...(times.length > 0
      ? [
          once('firstPacketTime', at, seconds(times[0]!)),
          once('lastPacketTime', at, seconds(times[times.length - 1]!)),
        ]
      : []),
  ];
}

/** Seconds with nine digits behind the point. */
const seconds = (nanoseconds: bigint): string =>
  `${nanoseconds / 1_000_000_000n}.${String(nanoseconds % 1_000_000_000n).padStart(9, '0')}`;

function flowsOf(frames: readonly Framed[], names: readonly (string | null)[]): Flow[] {
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
        firstSynAck: null,
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
    }
    if (isSynAck && !forward) {
      flow.synAcks++;
      flow.firstSynAck ??= packet;
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
  return [...flows.values()];
}

/**
 * An answer that comes from another address than was asked belongs to the question, which the client does not
 * see (RFC 9293 §3.10.7).
 */
function merged(flows: readonly Flow[]): Flow[] {
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

const tuple = (f: Flow) => ({
  protocol: f.protocol,
  source: f.source,
  sourcePort: f.sourcePort,
  destination: f.destination,
  destinationPort: f.destinationPort,
});

function flowValue(f: Flow): ConversationRecord {
  const by = f.answeredBy ?? f;
  const value: Record<string, Plain> = {};
  if (f.packetsBack > 0)
    value['backTuples'] = [by, ...(f.behind && f.behind.packetsBack > 0 ? [f.behind] : [])].map((b) => ({
      protocol: f.protocol,
      source: b.destination,
      sourcePort: b.destinationPort,
      destination: f.source,
      destinationPort: f.sourcePort,
    }));
  if (f.protocol === 'tcp')
    Object.assign(value, {
      syns: f.syns,
      synAcks: f.synAcks,
      resetsForward: f.resetsForward,
      resetsBack: f.resetsBack,
    });
  if (f.firstSyn)
    Object.assign(value, { firstSynFrame: f.firstSyn.frame, ...timed('firstSynTime', f.firstSyn) });
  if (f.firstSynAck) Object.assign(value, timed('firstSynAckTime', f.firstSynAck));
  Object.assign(value, { firstFrame: f.first.frame, ...timed('firstTime', f.first) });
  if (f.behind)
    value['translation'] = {
      before: `${endpoint(f.destination, f.destinationPort)}/${f.protocol}`,
      after: `${endpoint(f.behind.destination, f.behind.destinationPort)}/${f.protocol}`,
    };
  if (f.per.size > 0) value['perInterface'] = Object.fromEntries(f.per);
  return {
    forwardTuple: tuple(f),
    packetsForward: f.packetsForward,
    packetsBack: f.packetsBack,
    ...value,
  };
}

const timed = (key: string, packet: CapturedPacket): Record<string, Plain> =>
  packet.time === null ? {} : { [key]: seconds(packet.time) };

const endpoint = (host: string, port: number | undefined): string => {
  if (port === undefined) return host;
  return host.includes(':') ? `[${host}]:${port}` : `${host}:${port}`;
};

/** What became of a conversation, as far as this one place saw it. */
function flowText(f: Flow): string {
  const who = `${f.protocol.toUpperCase()} ${endpoint(f.source, f.sourcePort)} → ${endpoint(f.destination, f.destinationPort)}${f.behind ? ` (sent on to ${endpoint(f.behind.destination, f.behind.destinationPort)})` : ''}`;
  if (f.answeredBy)
    return `${who}: answered from ${endpoint(f.answeredBy.destination, f.answeredBy.destinationPort)} instead, which the client does not take`;
  if (f.packetsBack === 0) return `${who}: ${f.packetsForward} out, nothing back`;
  if (f.protocol === 'tcp' && f.resetsBack > 0 && f.synAcks === 0) return `${who}: refused with a reset`;
  return `${who}: ${f.packetsForward} out, ${f.packetsBack} back${f.synAcks > 0 ? ', answered' : ''}`;
}

const UNREACHABLE4: Readonly<Record<number, string>> = {
  0: 'network unreachable',
  1: 'host unreachable',
  2: 'protocol unreachable',
  3: 'port unreachable',
  4: 'packet too big',
  9: 'network prohibited',
  10: 'host prohibited',
  13: 'administratively prohibited',
};
const UNREACHABLE6: Readonly<Record<number, string>> = {
  0: 'no route',
  1: 'administratively prohibited',
  3: 'address unreachable',
  4: 'port unreachable',
};

/** RFC 792, RFC 1812 §5.2.7.1, RFC 4443 §3 */
function errorWord({ family, icmp }: Frame): string {
  const { type, code } = icmp!;
  if (family === 4) {
    if (type === 3) return UNREACHABLE4[code] ?? `unreachable (code ${code})`;
    return type === 11 ? 'time exceeded' : `type ${type} code ${code}`;
  }
  if (type === 1) return UNREACHABLE6[code] ?? `unreachable (code ${code})`;
  if (type === 2) return 'packet too big';
  return type === 3 ? 'time exceeded' : `type ${type} code ${code}`;
}
