import { last, nth } from '../../place/index.ts';
import type { Fact, Problem, Reading } from '../../facts/index.ts';
import { listed, once, told } from '../noted.ts';
import { readCaptureFile, type CaptureFile, type CapturedPacket } from './container.ts';
import { frameOf, LINK_NAMES, type Frame } from './frame.ts';
import { type Framed, flowsOf, merged } from './flows.ts';
import { flowValue, seconds, endpoint, flowText } from './told.ts';

export { isCapture } from './container.ts';

/** Conversations listed of one capture. */
const MOST_FLOWS = 500;

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
      why: { is: 'capture-cut', packets: file.packets.length, byte: file.brokenAt, damaged: false },
    });
  const { facts, more } = conversationFacts(
    frames,
    file.interfaces.map((i) => i.name),
  );
  if (more > 0) problems.push({ line: 1, text: '', why: { is: 'not-listed', what: 'conversations', more } });
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
    const at = { line: line(nth(flows, 0).first) };
    facts.push(once('flow', at, flowValue(nth(flows, 0)), flowText(nth(flows, 0))));
    if (nth(flows, 0).per.size > 0)
      facts.push(
        once(
          'perInterface',
          at,
          Object.fromEntries(nth(flows, 0).per),
          `${[...nth(flows, 0).per.keys()].join(', ')}`,
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
        `${frame.source} says “${errorWord(frame)}” to ${frame.destination} about ${q.protocol} to ` +
          `${endpoint(q.destination, q.destinationPort)}`,
      ),
    );
  }
  return { facts, more: Math.max(0, flows.length - MOST_FLOWS) };
}

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
          once('firstPacketTime', at, seconds(nth(times, 0))),
          once('lastPacketTime', at, seconds(last(times))),
        ]
      : []),
  ];
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
