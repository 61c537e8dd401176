import type { NeighbourFact, Problem } from '../../facts/index.ts';
import { parseAddress } from '../../net/index.ts';
import { nth } from '../../place/index.ts';
import { problemAt, written } from '../noted.ts';
import type { Reader } from '../reader.ts';
import { spanOf, type Line } from '../text.ts';

/** `? (192.168.50.1) at 2:0:5e:0:0:1 on en0 ifscope [ethernet]`; `gateway (…) at … [ether] on eth0`. */
const UNIX = new RegExp(
  String.raw`^\S+ \((\d{1,3}(?:\.\d{1,3}){3})\) at (\(incomplete\)|<incomplete>|` +
    String.raw`[0-9a-f]{1,2}(?::[0-9a-f]{1,2}){5})(?=\s|$)(.*)$`,
  'i',
);
/** `192.168.50.1  ether  02:00:5e:00:00:01  C  eth0` below its own heading. */
const LINUX = new RegExp(
  String.raw`^(\d{1,3}(?:\.\d{1,3}){3})\s+(?:ether\s+([0-9a-f:]{17})|(\(incomplete\)))\s+` +
    String.raw`(?:[CMP]+\s+)?(?:\S+\s+)?(\S+)\s*$`,
  'i',
);
const LINUX_HEADING = /^Address\s+HWtype\s+HWaddress/;
/** `192.168.50.1  02-00-5e-00-00-01  dynamic`, below `Interface: 192.168.50.20 --- 0xb` in any language. */
const WINDOWS = /^\s+(\d{1,3}(?:\.\d{1,3}){3})\s+((?:[0-9a-f]{2}-){5}[0-9a-f]{2})\s+(\S+)\s*$/i;
const WINDOWS_HEADING = /^\S.{0,20}: \d{1,3}(?:\.\d{1,3}){3} --- 0x[0-9a-f]+\s*$/i;

/** Groups and broadcast addresses are no machines. */
const isGroup = (address: string, mac: string): boolean =>
  /^(?:22[4-9]|23\d|255)\./.test(address) || /^ff[:-]ff|^01[:-]00[:-]5e/i.test(mac);

const padded = (mac: string): string =>
  mac
    .toLowerCase()
    .split(/[:-]/)
    .map((part) => part.padStart(2, '0'))
    .join(':');

/** Neighbours of a machine, as arp(8) of Linux, BSD, macOS and Windows lists them: no leases of a gateway. */
export const arp: Reader = {
  format: 'arp',
  title: 'neighbours (arp)',
  recognise(text) {
    const lines = written(text.slice(0, 10_000));
    if (lines.some((l) => WINDOWS_HEADING.test(l.text))) return 0.97;
    const hits = lines.filter((l) => UNIX.test(l.text) || LINUX_HEADING.test(l.text)).length;
    return hits > 0 && (hits * 2 >= lines.length || LINUX_HEADING.test(lines[0]?.text ?? '')) ? 0.96 : 0;
  },
  read(text) {
    const facts: NeighbourFact[] = [];
    const problems: Problem[] = [];
    for (const line of written(text)) {
      const fact = neighbourOf(line);
      if (fact === 'group' || LINUX_HEADING.test(line.text) || WINDOWS_HEADING.test(line.text)) continue;
      if (fact) facts.push(fact);
      else if (/\d\.\d{1,3}\.\d{1,3}\.\d/.test(line.text)) problems.push(problemAt(line, 'no-neighbour'));
    }
    return { format: 'arp', facts, problems, covers: ['neighbours'] };
  },
};

function neighbourOf(line: Line): NeighbourFact | 'group' | null {
  const unix = UNIX.exec(line.text);
  const row = unix ?? LINUX.exec(line.text) ?? WINDOWS.exec(line.text);
  if (!row || !parseAddress(nth(row, 1))) return null;
  const said = unix ? nth(row, 2) : (row[2] ?? '');
  const mac = /incomplete/.test(said) || said === '' ? null : padded(said);
  if (mac !== null && isGroup(nth(row, 1), mac)) return 'group';
  const dev = unix ? (/\bon (\S+)/.exec(nth(row, 3))?.[1] ?? null) : (row[4] ?? null);
  return {
    kind: 'neighbour',
    at: spanOf(line, nth(row, 1)),
    address: nth(row, 1),
    dev,
    mac,
    // None of them tells how fresh it is; without a link address nobody has answered.
    states: [mac === null ? 'INCOMPLETE' : 'STALE'],
  };
}
