import { nth } from '../../place/index.ts';
import { addressKind, parseAddress } from '../../net/index.ts';
import type { Fact, Problem } from '../../facts/index.ts';
import type { Line } from '../text.ts';
import { lineAt, once, problemAt, told, written } from '../noted.ts';
import type { Reader } from '../reader.ts';

const ADDRESS = /(?<![\w.:])((?:\d{1,3}\.){3}\d{1,3}|[0-9a-fA-F]{0,4}(?::[0-9a-fA-F]{0,4}){2,7})(?![\w:.])/g;
/**
 * `1  198.51.100.1  0.1 ms`, ` 1:  198.51.100.1   0.1ms`, `1.|-- 198.51.100.1  0.0%`, `  1    <1 ms    <1 ms
 * 198.51.100.1`.
 */
const HOP = /^\s*(\d{1,2})(?:\?:|:|\.\|--|\s)(.*)/;

const OPENING = new RegExp(
  String.raw`^traceroute6? to |^[ \t]*1\?:\s+\[LOCALHOST\]|^HOST:\s+\S+\s+Loss%|` +
    String.raw`^[ \t]*\d+\.\|--\s|^[ \t]*1\s+(?:<?\d+ m?s\s+){2}`,
  'm',
);

/** Hops of traceroute, tracepath, mtr -r and the Windows tracert. */
export const pathTrace: Reader = {
  format: 'path-trace',
  title: 'the way to an address, hop by hop',
  recognise: (text) => (OPENING.test(text.slice(0, 4000)) ? 0.95 : 0),
  read(text) {
    const lines = written(text);
    const problems: Problem[] = [];
    const hops: string[] = [];
    let last = 0;
    let silent = false;
    let said = false;
    const target = targetOf(lines);
    for (const line of lines) {
      const match = HOP.exec(line.text);
      if (!match || /\[LOCALHOST\]/.test(line.text)) continue;
      const number = Number(match[1]);
      const address = addressesIn(nth(match, 2)).pop() ?? null;
      silent = address === null;
      if (/\breached\b/.test(line.text)) said = true;
      if (
        address &&
        (number !== last || hops[hops.length - 1] !== address) &&
        hops[hops.length - 1] !== address
      )
        hops.push(address);
      last = number;
    }
    if (last === 0) problems.push(problemAt(lines[0] ?? { number: 1, text: '' }, 'no-hops'));
    const reached = said || (target !== null ? hops[hops.length - 1] === target : !silent);
    const at = lineAt(lines[0] ?? { number: 1, text: '' });
    const shared = hops.find((h) => addressKind(parseAddress(h)!).kind === 'shared');
    const facts: Fact[] = [
      told('hops', at, hops, hops.join(' → ')),
      once('reached', at, reached, reached ? 'yes' : 'no'),
      ...(shared
        ? [
            once(
              'carrierGradeHop',
              at,
              shared,
              `${shared}: a hop of the carrier’s shared address space (RFC 6598)`,
            ),
          ]
        : []),
    ];
    return { format: 'path-trace', facts: last === 0 ? [] : facts, problems, covers: [] };
  },
};

const addressesIn = (text: string): string[] =>
  [...text.matchAll(ADDRESS)].map((m) => nth(m, 1)).filter((a) => parseAddress(a) !== null);

/** The address in the heading: `traceroute to NAME (ADDRESS), …`, `Tracing route to NAME [ADDRESS]`. */
function targetOf(lines: readonly Line[]): string | null {
  const head = lines.find(
    (l) => /\bto\b|\bnach\b|\bvers\b|\bhacia\b|\bpara\b|\[[^\][]*\]/i.test(l.text) && !HOP.test(l.text),
  );
  return head ? (addressesIn(head.text).pop() ?? null) : null;
}

/**
 * ping of Linux, BSD, macOS and Windows (in any language: the counts stand in one line with `=` or words
 * around them).
 */
export const ping: Reader = {
  format: 'ping',
  title: 'a ping',
  recognise: (text) =>
    /^PING \S+|^(?:--- )?\S+ ping statistics ---|packets transmitted, \d+ (?:packets )?received/m.test(
      text,
    ) || windowsCounts(text) !== null
      ? 0.94
      : 0,
  read(text) {
    const lines = written(text);
    const problems: Problem[] = [];
    const unix = /(?<!\d)(\d+) packets transmitted, (\d+) (?:packets )?received/.exec(text);
    const counts = unix ? { sent: Number(unix[1]), received: Number(unix[2]) } : answered(text);
    const at = lineAt(
      lines.find((l) => /transmitted|\(\d+\s*%/.test(l.text)) ?? lines[0] ?? { number: 1, text: '' },
    );
    const to = /^PING (\S+?)(?: ?\(|\s)/.exec(text)?.[1];
    if (!counts) problems.push(problemAt(lines[0] ?? { number: 1, text: '' }, 'ping-count-cut'));
    return {
      format: 'ping',
      facts: counts
        ? [
            once('sent', at, counts.sent),
            once('received', at, counts.received, `${counts.received} of ${counts.sent}`),
            ...(to ? [once('to', at, to)] : []),
          ]
        : [],
      problems,
      covers: [],
    };
  },
};

/** Windows counts "unreachable" among what came back; each echo has its own TTL, in every language. */
function answered(text: string): { sent: number; received: number } | null {
  const counts = windowsCounts(text);
  const replies = written(text).filter((l) => /^\S.{0,20}(?:\d{1,3}\.){3}\d{1,3}: /.test(l.text));
  if (!counts || replies.length === 0) return counts;
  return {
    ...counts,
    received: Math.min(counts.received, replies.filter((l) => /TTL\s?=/.test(l.text)).length),
  };
}

/**
 * `Packets: Sent = 4, Received = 4, Lost = 0 (0% loss)` in any language: three numbers after `=`, then a
 * percentage.
 */
function windowsCounts(text: string): { sent: number; received: number } | null {
  const match =
    /=\s?(\d{1,9})\s?,[^=\n]{0,60}=\s?(\d{1,9})\s?,[^=\n]{0,60}=\s?(\d{1,9})\s{0,40}\(?\s?\d{1,3}\s?%/.exec(
      text,
    );
  if (!match) return null;
  const [sent, received, lost] = [Number(match[1]), Number(match[2]), Number(match[3])];
  return sent === received + lost ? { sent, received } : null;
}
