import { clockText, EVERYTHING, logLayout, LogReader } from '../../traffic/index.ts';
import type { Reader } from '../reader.ts';
import { Tries } from './tries.ts';
import { unreadProblems } from './unread.ts';

/** The last field, `path`, says whether the machine received or sent the packet. */
const SENT = /\sSEND(?:\s|$)/;

/**
 * Logs in the W3C extended layout, as host firewalls write them: each kind of try once, with how often, what
 * was done with it, and when.
 */
export const w3cLog: Reader = {
  format: 'w3c-log',
  title: 'packets that a host firewall logged',
  recognise: (text) => (logLayout(text.slice(0, 20_000)) === 'w3c' ? 0.98 : 0),
  read(text) {
    const reader = new LogReader('w3c', { now: 0, wanted: EVERYTHING });
    reader.push(new TextEncoder().encode(text));
    reader.end();
    const summary = reader.summary(0);
    const tries = new Tries();
    for (const e of summary.entries)
      tries.add({
        line: e.line,
        protocol: e.protocol,
        from: e.source,
        fromPort: e.sourcePort || null,
        to: e.destination,
        port: e.port || null,
        action: e.action,
        when: clockText(e.seconds),
        isOutward: SENT.test(e.text),
        count: 1,
      });
    return {
      format: 'w3c-log',
      facts: tries.facts(),
      problems: [...unreadProblems(summary), ...tries.problems(summary.packets - summary.entries.length)],
      covers: [],
    };
  },
};
