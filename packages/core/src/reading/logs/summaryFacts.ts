import type { Fact, Problem, TryRecord } from '../../facts/index.ts';
import {
  clockText,
  type CapturedFlow,
  type CaptureSummary,
  type LogGroup,
  type LogSummary,
} from '../../traffic/index.ts';
import { once, told } from '../noted.ts';
import { LINK_NAMES } from '../captures/frame.ts';
import { endpoint } from '../captures/told.ts';
import { tryText } from './tries.ts';
import { unreadProblems } from './unread.ts';

/** Different tries and conversations shown of one file; all are counted. */
const MOST_TRIES = 2000;
const MOST_FLOWS = 500;
/** Groups printed of one log. */
const MOST_GROUPS = 100_000;

/** What a log says that was read as a stream: its groups, its tries, and when they came. */
export function logFacts(summary: LogSummary): { readonly facts: Fact[]; readonly problems: Problem[] } {
  const { groups, packets, lines, timeline, beyond, layout } = summary;
  const at = { line: 1 };
  const facts: Fact[] = groups
    .slice(0, MOST_TRIES)
    .map((g) => told('try', { line: g.line }, tryOf(g), tryText(tryOf(g))));
  const actions = new Map<string, number>();
  for (const g of groups) actions.set(g.action, (actions.get(g.action) ?? 0) + g.count);
  facts.push(
    once('lines', at, Object.fromEntries(actions)),
    once('log', at, { layout, lines, packets }, `${packets} packets in ${lines} lines`),
    once(
      'groups',
      at,
      groups.slice(0, MOST_GROUPS).map((g) => ({
        source: g.source,
        protocol: g.protocol,
        port: g.port === 0 ? null : g.port,
        action: g.action,
        count: g.count,
      })),
      `${groups.length} kinds of tries`,
    ),
  );
  if (timeline)
    facts.push(
      once(
        'timeline',
        at,
        {
          from: clockText(timeline.from),
          seconds: timeline.width,
          keptOut: timeline.counts[0] ?? [],
          letIn: timeline.counts[1] ?? [],
          notSaid: timeline.counts[2] ?? [],
        },
        `from ${clockText(timeline.from)}`,
      ),
    );
  const problems = unreadProblems(summary);
  const beside = beyond + Math.max(0, groups.length - MOST_GROUPS);
  if (beside > 0)
    problems.push({
      line: 1,
      text: '',
      why: { is: 'not-listed', what: 'packets-or-tries', more: beside },
    });
  return { facts, problems };
}

function tryOf(g: LogGroup): TryRecord {
  return {
    protocol: g.protocol,
    from: g.source,
    to: g.port === 0 ? '*' : `*:${g.port}`,
    count: g.count,
    action: g.action,
    ...(g.fate === 'not-said' ? {} : { fate: g.fate }),
    ...(Number.isNaN(g.first) ? {} : { first: clockText(g.first) ?? '', last: clockText(g.last) ?? '' }),
  };
}

const precise = (seconds: number): string => seconds.toFixed(6);

/** What a capture says that was read as a stream. */
export function captureFacts(summary: CaptureSummary): {
  readonly facts: Fact[];
  readonly problems: Problem[];
} {
  const at = { line: 1 };
  const { flows, packets } = summary;
  const links = summary.links.map((l) => LINK_NAMES[l] ?? `link type ${l}`).join(', ');
  const facts: Fact[] = [
    once('packets', at, packets, `${packets} packets`),
    once(
      'captureFile',
      at,
      { 'File type': summary.type, 'File encapsulation': links, 'Number of packets': String(packets) },
      `${summary.type}, ${links}`,
    ),
    once('truncatedPackets', at, summary.cut),
    once('conversationsTried', at, flows.length, `${flows.length} conversations`),
    ...(summary.names.length > 0
      ? [once('interfaceNames', at, summary.names, summary.names.join(', '))]
      : []),
    ...(Number.isNaN(summary.first)
      ? []
      : [
          once('firstPacketTime', at, precise(summary.first)),
          once('lastPacketTime', at, precise(summary.last)),
        ]),
    ...[...flows]
      .sort((a, b) => tellingFirst(a) - tellingFirst(b) || a.frame - b.frame)
      .slice(0, MOST_FLOWS)
      .map((f) => told('conversation', at, conversationOf(f), flowText(f))),
  ];
  const problems: Problem[] = [];
  if (summary.brokenAt !== null)
    problems.push({
      line: 1,
      text: '',
      why: { is: 'capture-cut', packets, byte: summary.brokenAt, damaged: true },
    });
  const more = Math.max(0, flows.length - MOST_FLOWS);
  if (more + summary.beyond > 0)
    problems.push({ line: 1, text: '', why: { is: 'not-listed', what: 'conversations', more } });
  return { facts, problems };
}

/** What failed tells more than what worked. */
const tellingFirst = ({ back, errors }: CapturedFlow): number => {
  if (errors.length > 0 || back.resets > 0) return 0;
  return back.packets === 0 ? 1 : 2;
};

const conversationOf = (f: CapturedFlow) => ({
  forwardTuple: {
    protocol: f.protocol,
    source: f.source,
    sourcePort: f.sourcePort,
    destination: f.destination,
    destinationPort: f.destinationPort,
  },
  packetsForward: f.there.packets,
  packetsBack: f.back.packets,
  ...(f.protocol === 'tcp'
    ? {
        syns: f.there.syns,
        synAcks: f.back.synAcks,
        resetsForward: f.there.resets,
        resetsBack: f.back.resets,
        ...(Number.isNaN(f.back.synAckSpan) ? {} : { synAckSpan: f.back.synAckSpan }),
      }
    : {}),
  ...(f.initialSequence === null ? {} : { initialSequence: f.initialSequence }),
  ...(f.firstPayload === null ? {} : { firstPayload: f.firstPayload }),
  firstFrame: f.frame,
  ...(Number.isNaN(f.first) ? {} : { firstTime: precise(f.first) }),
  ...(f.errors.length > 0 ? { icmpErrors: f.errors.map((e) => ({ ...e })) } : {}),
});

function flowText(f: CapturedFlow): string {
  const who =
    `${f.protocol.toUpperCase()} ${endpoint(f.source, f.sourcePort)} → ` +
    `${endpoint(f.destination, f.destinationPort)}`;
  const [error] = f.errors;
  if (error)
    return (
      `${who}: ${error.from} says an ICMP error of the ${error.about} ` +
      `(type ${error.type}, code ${error.code})`
    );
  if (f.back.packets === 0) return `${who}: ${f.there.packets} out, nothing back`;
  if (f.back.resets > 0 && f.back.synAcks === 0) return `${who}: refused with a reset`;
  return `${who}: ${f.there.packets} out, ${f.back.packets} back`;
}
