import { parseAddress } from '../../net/index.ts';
import type { Problem } from '../../facts/index.ts';
import { problemAt, written } from '../noted.ts';
import type { Reader } from '../reader.ts';
import { Tries } from './tries.ts';

/** What the packet filter did, and on which interface: `rule 4/0(match): block in on em0: ` */
const RULE =
  /\brule [\w./]{1,40}\(\w{1,20}\)[^:]{0,40}: (block|pass|match|rdr|nat) (in|out) on ([\w.]{1,20}): /;
const HEAD = /^\s*(?:(\d{4}-\d\d-\d\d) )?(\d\d:\d\d:\d\d)/;
/** `198.51.100.23.40001 > 203.0.113.50.8211: ` with the port behind the last dot, or without ports. */
const ENDS = /^(?:IP6? )?([\da-f.:]{2,60}) > ([\da-f.:]{2,60}): (.*)$/i;

interface End {
  readonly address: string;
  readonly port: number | null;
}

function endOf(text: string): End | null {
  if (parseAddress(text)) return { address: text, port: null };
  const dot = text.lastIndexOf('.');
  const [address, port] = [text.slice(0, dot), Number(text.slice(dot + 1))];
  return parseAddress(address) && Number.isInteger(port) && port <= 65535 ? { address, port } : null;
}

function protocolOf(rest: string, hasPorts: boolean): string {
  if (/^ICMP6/i.test(rest)) return 'icmpv6';
  if (/^ICMP/i.test(rest)) return 'icmp';
  if (/^Flags \[|\btcp\b/i.test(rest)) return 'tcp';
  return hasPorts ? 'udp' : 'other';
}

/** The log of the packet filter of BSD systems (pflog(4)), as tcpdump prints it with link headers (`-e`). */
export const bsdLog: Reader = {
  format: 'bsd-log',
  title: 'packets that a packet filter of BSD logged',
  recognise(text) {
    const lines = written(text.slice(0, 20_000));
    const hits = lines.filter((l) => RULE.test(l.text)).length;
    return hits > 0 && hits * 2 >= lines.length ? 0.98 : 0;
  },
  read(text) {
    const tries = new Tries();
    const problems: Problem[] = [];
    for (const line of written(text)) {
      const rule = RULE.exec(line.text);
      const ends = rule && ENDS.exec(line.text.slice(rule.index + rule[0].length));
      const [from, to] = [ends?.[1] ? endOf(ends[1]) : null, ends?.[2] ? endOf(ends[2]) : null];
      if (!rule || !ends || !from || !to) {
        // What tcpdump says about itself at both ends.
        if (/\b(?:listening on|reading from|packets (?:captured|received|dropped)|tcpdump)\b/.test(line.text))
          continue;
        problems.push(problemAt(line, 'no-bsd-log-line'));
        continue;
      }
      const [, action = '', direction, device = ''] = rule;
      const [, day, clock] = HEAD.exec(line.text) ?? [];
      tries.add({
        line: line.number,
        protocol: protocolOf(ends[3] ?? '', from.port !== null),
        from: from.address,
        fromPort: from.port,
        to: to.address,
        port: to.port,
        action,
        when: clock ? [day, clock].filter((t) => t).join(' ') : null,
        isOutward: direction === 'out',
        device,
        count: 1,
      });
    }
    return {
      format: 'bsd-log',
      facts: tries.facts(),
      problems: [...problems, ...tries.problems()],
      covers: [],
    };
  },
};
