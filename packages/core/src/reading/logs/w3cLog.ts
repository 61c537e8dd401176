import type { Fact, TryRecord } from '../../facts/index.ts';
import { logLayout, LogReader, type LogGroup } from '../../traffic/index.ts';
import { once, told } from '../noted.ts';
import type { Reader } from '../reader.ts';
import { linesOf, type Line } from '../text.ts';
import { unreadProblems } from './unread.ts';

/** Different tries shown of one log; all lines are counted. */
const MOST_TRIES = 2000;

/** The fields where a text holds only the last lines, without the ones that name them. */
const USUAL = 'date time action protocol src-ip dst-ip src-port dst-port';
/** Behind which field the log says whether the machine received or sent the packet. */
const PATH = 'path';

const HEAD = '#Fields:';

/** The names of the fields that hold for a line: of the last heading above it. */
function fieldsAbove(lines: readonly Line[], line: number): readonly string[] {
  const head = lines.findLast((l) => l.number < line && l.text.startsWith(HEAD));
  return (head?.text.slice(HEAD.length) ?? USUAL).trim().toLowerCase().split(/\s+/);
}

const endpoint = (address: string, port: string | undefined): string => {
  if (!port || port === '-') return address;
  return address.includes(':') ? `[${address}]:${port}` : `${address}:${port}`;
};

const tryText = ({ protocol, from, to, count, action }: TryRecord): string =>
  `${protocol} ${from} → ${to}, ${count === 1 ? 'once' : `${count} times`} (${action})`;

/** The tries of one group, as its first line tells the rest. */
function tryOf(group: LogGroup, lines: readonly Line[], byNumber: ReadonlyMap<number, Line>): TryRecord {
  const names = fieldsAbove(lines, group.line);
  const cells = (byNumber.get(group.line)?.text ?? '').trim().split(/\s+/);
  const cell = (name: string): string | undefined => cells[names.indexOf(name)];
  const path = cells[names.indexOf(PATH)] ?? cells.find((c) => /^(?:SEND|RECEIVE|FORWARD)$/.test(c));
  const time = (seconds: number): string | undefined =>
    Number.isNaN(seconds) ? undefined : new Date(seconds * 1000).toISOString().slice(0, 19).replace('T', ' ');
  const [first, last] = [time(group.first), time(group.last)];
  return {
    protocol: group.protocol,
    from: endpoint(group.source, group.count === 1 ? cell('src-port') : undefined),
    to: endpoint(cell('dst-ip') ?? '', group.port === 0 ? undefined : `${group.port}`),
    count: group.count,
    action: group.action,
    ...(group.fate === 'not-said' ? {} : { fate: group.fate }),
    ...(first ? { first } : {}),
    ...(last ? { last } : {}),
    ...(path === 'SEND' ? { isOutward: true } : {}),
  };
}

/**
 * Logs in the W3C extended layout, as host firewalls write them: each kind of try once, with how often, what
 * was done with it, and when.
 */
export const w3cLog: Reader = {
  format: 'w3c-log',
  title: 'packets that a host firewall logged',
  recognise: (text) => (logLayout(text.slice(0, 20_000)) === 'w3c' ? 0.98 : 0),
  read(text) {
    const reader = new LogReader('w3c', { now: 0 });
    reader.push(new TextEncoder().encode(text));
    reader.end();
    const summary = reader.summary();
    const { groups, packets } = summary;
    const lines = linesOf(text);
    const heads = lines.filter((l) => l.text.startsWith(HEAD));
    const byNumber = new Map(lines.map((l) => [l.number, l]));
    const tries = groups
      .slice(0, MOST_TRIES)
      .map((g) => ({ line: g.line, value: tryOf(g, heads, byNumber) }));
    const facts: Fact[] = tries.map((t) => told('try', { line: t.line }, t.value, tryText(t.value)));
    const actions = new Map<string, number>();
    for (const g of groups) actions.set(g.action, (actions.get(g.action) ?? 0) + g.count);
    if (packets > 0)
      facts.push(
        once(
          'lines',
          { line: 1 },
          Object.fromEntries(actions),
          [...actions].map(([action, n]) => `${action} ${n}`).join(', '),
        ),
      );
    const problems = unreadProblems(summary);
    if (groups.length > MOST_TRIES)
      problems.push({
        line: 1,
        text: '',
        why: `${groups.length - MOST_TRIES} further kinds of tries are counted, not listed (${MOST_TRIES} are)`,
      });
    return { format: 'w3c-log', facts, problems, covers: [] };
  },
};
