import { nth } from '../../place/index.ts';
import { parseAddress } from '../../net/index.ts';
import type { Problem } from '../../facts/index.ts';
import { once, problemAt, written } from '../noted.ts';
import type { Reader } from '../reader.ts';
import type { CapturedPacket } from './container.ts';
import type { Frame } from './frame.ts';
import type { Line } from '../text.ts';
import { conversationFacts } from './index.ts';
import { type Framed } from './flows.ts';

/**
 * `198.51.100.23.40001 > 192.168.50.20.8211: Flags [S], …` or `…: UDP, length 6`; the port behind the last
 * dot.
 */
const PORTS =
  /(?<![\w.:])([0-9a-fA-F.:]{1,45})\.(\d{1,5}) > ([0-9a-fA-F.:]{1,45})\.(\d{1,5}): (?:Flags \[([^\]]*)\])?/;
/** Of a SYN it is written as it is, later ones as distances from it (tcpdump(8) -S). */
const SEQUENCE = /, seq (\d{1,10})[,:]/;
/** `203.0.113.50 > 198.51.100.23: ICMP 203.0.113.50 udp port 27016 unreachable`, and prohibited ones. */
const ICMP = /(?<![\w.:])([0-9a-fA-F.:]{1,45}) > ([0-9a-fA-F.:]{1,45}): ICMP6?,? (.*)/;
/** `1   0.000000 198.51.100.23 → 203.0.113.50 TCP 74 40001 → 8211 [SYN] …` */
const ARROWS = new RegExp(
  String.raw`^\s{0,20}\d{1,12}\s{1,20}[\d.:-]{1,30}(?:\s[\d.:]{1,30})?\s{1,20}` +
    String.raw`([0-9a-fA-F.:]{1,45})\s{1,20}(?:→|->)\s{1,20}([0-9a-fA-F.:]{1,45})\s{1,20}` +
    String.raw`(\w{1,30})\s{1,20}\d{1,9}(?:\s{1,20}(\d{1,5})\s{1,9}(?:→|->)\s{1,9}(\d{1,5}))?` +
    String.raw`(?:\s{1,20}\[([A-Z, ]{1,60})\])?`,
);
/** What begins the line of a packet: its time, then perhaps the interface and the direction. */
const HEAD = /^\s*(?:\d{4}-\d\d-\d\d )?\d\d:\d\d:\d\d\.\d+ (?:([\w.@-]+)\s+(?:In|Out|M|B|P)\s+)?/;
/** The time of day in it. */
const CLOCK = /^\s*(?:\d{4}-\d\d-\d\d )?(\d\d):(\d\d):(\d\d\.\d+) /;

/** Seconds since midnight; undefined where the line does not begin with its time. */
function clockIn(text: string): number | undefined {
  const [, hours, minutes, seconds] = CLOCK.exec(text) ?? [];
  return seconds === undefined ? undefined : Number(hours) * 3600 + Number(minutes) * 60 + Number(seconds);
}
const DUMP = /^\s*0x[0-9a-f]{4}:/;
const LETTERS: Readonly<Record<string, number>> = { F: 1, S: 2, R: 4, P: 8, '.': 16 };
const WORDS: Readonly<Record<string, number>> = { FIN: 1, SYN: 2, RST: 4, PSH: 8, ACK: 16 };

/** Packets that belong to no conversation. */
const NO_PORTS = / (?:ARP|Request who-has|Reply|ICMP6?|STP|LLDP|IGMP|igmp|HBH)[ ,(]/;

const isHost = (text: string | undefined): text is string =>
  text !== undefined && parseAddress(text) !== null;

/** What a line says of a packet; null where it says nothing of one. */
function frameIn(text: string): Frame | null {
  const ports = PORTS.exec(text);
  if (ports && isHost(ports[1]) && isHost(ports[3])) {
    const tcp = ports[5] !== undefined;
    const sequence = SEQUENCE.exec(text);
    return {
      family: ports[1].includes(':') ? 6 : 4,
      source: ports[1],
      destination: ports[3],
      protocol: tcp ? 'tcp' : 'udp',
      sourcePort: Number(ports[2]),
      destinationPort: Number(ports[4]),
      ...(tcp ? { flags: [...nth(ports, 5)].reduce((n, c) => n | (LETTERS[c] ?? 0), 0) } : {}),
      ...(tcp && sequence?.[1] !== undefined ? { sequence: Number(sequence[1]) } : {}),
    };
  }
  const arrows = ARROWS.exec(text);
  if (arrows && isHost(arrows[1]) && isHost(arrows[2])) {
    let protocol: 'tcp' | 'udp' | 'other';
    if (arrows[4] === undefined) protocol = 'other';
    else if (arrows[3] === 'TCP' || arrows[6] !== undefined) protocol = 'tcp';
    else protocol = 'udp';
    return {
      family: arrows[1].includes(':') ? 6 : 4,
      source: arrows[1],
      destination: arrows[2],
      protocol,
      ...(arrows[4] === undefined
        ? {}
        : { sourcePort: Number(arrows[4]), destinationPort: Number(arrows[5]) }),
      ...(arrows[6] ? { flags: arrows[6].split(/,\s*/).reduce((n, w) => n | (WORDS[w] ?? 0), 0) } : {}),
    };
  }
  const icmp = ICMP.exec(text);
  return icmp && isHost(icmp[1]) && isHost(icmp[2]) ? icmpFrame(icmp[1], icmp[2], nth(icmp, 3)) : null;
}

const UNREACHABLE = new RegExp(
  String.raw`(?<![0-9a-fA-F.:])([0-9a-fA-F.:]{1,45}) (?:(tcp|udp) port (\d{1,5}) )?unreachable|` +
    String.raw`host ([0-9a-fA-F.:]{1,45}) unreachable`,
);

function icmpFrame(source: string, destination: string, says: string): Frame {
  const family = source.includes(':') ? 6 : 4;
  const about = UNREACHABLE.exec(says);
  const prohibited = /admin(?:istratively)? prohibited/.test(says);
  const base = { family, source, destination, protocol: family === 4 ? 'icmp' : 'icmpv6' } as const;
  if (!about && !prohibited) return base;
  let code;
  if (prohibited) code = family === 4 ? 13 : 1;
  else if (about?.[3]) code = family === 4 ? 3 : 4;
  else if (family === 4) code = 1;
  else code = 3;
  const host = about?.[4] ?? about?.[1] ?? source;
  return {
    ...base,
    icmp: { type: family === 4 ? 3 : 1, code },
    quote: {
      family,
      source: destination,
      destination: host,
      protocol: (about?.[2] as 'tcp' | 'udp' | undefined) ?? 'other',
      ...(about?.[3] ? { destinationPort: Number(about[3]) } : {}),
    },
  };
}

/**
 * The lines of a capture program on a terminal: with times of any kind, link-layer headers, details in a
 * second line, and dumps.
 */
export const captureListing: Reader = {
  format: 'capture-listing',
  title: 'a listing of captured packets',
  recognise(text) {
    const lines = written(text.slice(0, 20_000)).filter((l) => !DUMP.test(l.text));
    const hits = lines.filter((l) => frameIn(l.text) !== null).length;
    return hits > 0 && hits * 3 >= lines.length ? 0.96 : 0;
  },
  read(text) {
    const frames: (Framed & { readonly line: number })[] = [];
    const problems: Problem[] = [];
    let device: string | undefined;
    let clock: number | undefined;
    let count = 0;
    /** A packet whose headers are still to come in the next line. */
    let waiting: Line | null = null;
    const settle = (): void => {
      if (waiting) problems.push(problemAt(waiting, 'packet-unreadable'));
      waiting = null;
    };
    for (const line of written(text)) {
      if (DUMP.test(line.text)) continue;
      const head = HEAD.exec(line.text);
      const frame = frameIn(line.text);
      if (head) {
        settle();
        device = head[1];
        clock = clockIn(line.text);
      }
      if (head || (frame && waiting === null)) count++;
      if (frame) {
        const vlan = /\bvlan (\d+)/.exec(line.text)?.[1];
        const packet: CapturedPacket = {
          frame: frames.length + 1,
          time: null,
          ...(clock === undefined ? {} : { clock }),
          link: -1,
          interface: 0,
          bytes: new Uint8Array(),
          length: 0,
        };
        frames.push({
          packet,
          line: line.number,
          frame: {
            ...frame,
            ...(device ? { interfaceName: device } : {}),
            ...(vlan ? { vlan: Number(vlan) } : {}),
          },
        });
        waiting = null;
      } else if (head) waiting = NO_PORTS.test(line.text) ? null : line;
      else if (
        !/^\s|packets? (?:captured|received|dropped)|listening on|^tcpdump:|^reading from/.test(line.text)
      ) {
        settle();
        problems.push(problemAt(line, 'no-packet-line'));
      }
    }
    settle();
    const at = { line: frames[0]?.line ?? 1 };
    const { facts, more } = conversationFacts(frames, [], (p) => nth(frames, p.frame - 1).line);
    if (more > 0)
      problems.push({ line: 1, text: '', why: { is: 'not-listed', what: 'conversations', more } });
    const vlans = [...new Set(frames.flatMap((f) => (f.frame?.vlan === undefined ? [] : [f.frame.vlan])))];
    return {
      format: 'capture-listing',
      facts: [
        once('packets', at, count, `${count} packets`),
        ...(vlans.length > 0 ? [once('vlan', at, vlans, vlans.join(', '))] : []),
        ...facts,
      ],
      problems,
      covers: [],
    };
  },
};
