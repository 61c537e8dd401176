import { formatAddress, parseAddress } from '../../net/index.ts';
import type { Fact, Problem, TryRecord } from '../../facts/index.ts';
import type { Span } from '../../place/index.ts';
import { endpoint } from '../captures/told.ts';
import { spanOf } from '../text.ts';
import { once, problemAt, told, written } from '../noted.ts';
import type { Reader } from '../reader.ts';
import { tryText } from './tries.ts';

/** Different tries shown of one log; all lines are counted. */
const MOST_TRIES = 2000;
const NAMES: Readonly<Record<string, string>> = {
  '1': 'icmp',
  '6': 'tcp',
  '17': 'udp',
  '58': 'icmpv6',
  ICMPv6: 'icmpv6',
};

/**
 * What stands before a packet's fields: a time in any of the usual styles, the machine, `kernel:`, and the
 * seconds since boot. What is left between them and `IN=` is the words of the rule.
 */
const HEAD = new RegExp(
  String.raw`^\s*(?:(?:\d{4}-\d\d-\d\d[T ]\S+|[A-Z][a-z]{2}\s+\d{1,2}\s+[\d:.]{8,})\s+` +
    String.raw`(?:\S+\s+kernel(?:\[\d+\])?:\s*)?)?(?:kernel:\s*)?(?:<\d+>)?(?:\[[^\]]{3,40}\]\s*)?`,
);

interface Entry {
  readonly prefix: string;
  readonly fields: ReadonlyMap<string, string>;
}

/**
 * `… PREFIX IN=eth0 OUT= MAC=… SRC=198.51.100.23 DST=203.0.113.50 LEN=60 … PROTO=TCP SPT=40112 DPT=8299 …`
 * (the packet filter's own log format).
 */
function entryOf(text: string): Entry | null {
  const at = text.indexOf('IN=');
  if (at < 0 || !/\sSRC=\S+\sDST=\S+/.test(text)) return null;
  const fields = new Map<string, string>();
  for (const [, key = '', value = ''] of text.slice(at).matchAll(/\b([A-Z]+)=(\S*)/g))
    if (!fields.has(key)) fields.set(key, value);
  return { prefix: text.slice(0, at).replace(HEAD, ''), fields };
}

/** Addresses in their short form (RFC 5952); the log writes IPv6 in full. */
function shortEnd(text: string, port: string | undefined): string {
  const parsed = parseAddress(text);
  return endpoint(parsed ? formatAddress(parsed) : text, port === undefined ? undefined : Number(port));
}

type Writable<T> = { -readonly [K in keyof T]: T[K] };

/** Lines that a packet filter logged; each kind of try once, with how often. */
export const packetLog: Reader = {
  format: 'packet-log',
  title: 'packets that a filter logged',
  recognise(text) {
    const lines = written(text.slice(0, 20_000));
    const hits = lines.filter((l) => entryOf(l.text) !== null).length;
    if (hits > 0 && hits * 2 >= lines.length) return 0.96;
    return hits >= 3 ? 0.9 : 0;
  },
  read(text) {
    const tries = new Map<string, { value: Writable<TryRecord>; at: Span }>();
    const prefixes = new Map<string, number>();
    const inward = new Map<string, number>();
    const problems: Problem[] = [];
    let more = 0;
    for (const line of written(text)) {
      const entry = entryOf(line.text);
      if (!entry) {
        if (/\bIN=|\bSRC=/.test(line.text)) problems.push(problemAt(line, 'log-line-cut'));
        continue;
      }
      const { fields, prefix } = entry;
      const protocol = (NAMES[fields.get('PROTO') ?? ''] ?? fields.get('PROTO') ?? '').toLowerCase();
      prefixes.set(prefix, (prefixes.get(prefix) ?? 0) + 1);
      const device = fields.get('IN') ?? '';
      if (device !== '') inward.set(device, (inward.get(device) ?? 0) + 1);
      const source = fields.get('SRC') ?? '';
      const out = fields.get('OUT');
      const from = shortEnd(source, fields.get('SPT'));
      const to = shortEnd(fields.get('DST') ?? '', fields.get('DPT'));
      const key = `${protocol} ${from} ${to} ${prefix}`;
      const before = tries.get(key);
      if (before) before.value.count = (before.value.count ?? 0) + 1;
      else if (tries.size < MOST_TRIES)
        tries.set(key, {
          at: spanOf(line, `SRC=${source}`),
          value: {
            protocol,
            from,
            to,
            count: 1,
            prefix: prefix.trim(),
            ...(device === '' ? {} : { in: device }),
            ...(out ? { out } : {}),
          },
        });
      else more++;
    }
    const facts: Fact[] = [...tries.values()].map((t) => told('try', t.at, t.value, tryText(t.value)));
    const outside = [...inward].sort((a, b) => b[1] - a[1])[0]?.[0];
    if (prefixes.size > 0)
      facts.push(
        once(
          'lines',
          { line: 1 },
          Object.fromEntries(prefixes),
          [...prefixes].map(([p, n]) => `${p.trim() || 'no words'} ${n}`).join(', '),
        ),
      );
    if (outside) facts.push(once('outside', { line: 1 }, outside, `most came in by ${outside}`));
    if (more > 0)
      problems.push(problemAt({ number: 1, text: '' }, { is: 'not-listed', what: 'packets', more }));
    return { format: 'packet-log', facts, problems, covers: [] };
  },
};
