import { serves } from '../../case/index.ts';
import type { ConversationRecord, SessionRecord } from '../../facts/index.ts';
import { factsOf, type CaseFacts } from '../../ledger/index.ts';
import type { SourceRef } from '../../place/index.ts';
import { placesText, type StopNames } from '../../words/index.ts';

/** What one machine saw of the client's try: the headers as they were there, and how many went each way. */
export interface SeenThere {
  readonly stop: string;
  readonly name: string;
  readonly by: 'capture' | 'sessions';
  readonly question: HeaderText;
  /** null: nothing came back. */
  readonly answer: HeaderText | null;
  readonly there: number;
  readonly back: number;
  readonly isReset: boolean;
  readonly source: SourceRef;
}

/** Both ends as the packet has them: `198.51.100.23:51514`. */
export interface HeaderText {
  readonly from: string;
  readonly to: string;
  /** Whether this end is another than at the place before. */
  readonly isFromTurned: boolean;
  readonly isToTurned: boolean;
}

/** The client's try, place by place. */
export interface PlacesView {
  readonly headline: string;
  readonly places: readonly SeenThere[];
}

interface Ends {
  readonly protocol: string;
  readonly from: string;
  readonly fromPort: number;
  readonly to: string;
  readonly toPort: number;
}

interface Seen {
  readonly stop: string;
  readonly by: SeenThere['by'];
  readonly ends: Ends;
  /** The header behind a translation of that machine, where it tells it. */
  readonly behind: Ends | null;
  readonly there: number;
  readonly back: number;
  readonly isReset: boolean;
  /**
   * The sequence number with which it began, of UDP what its first datagram says, where it is known;
   * translations keep both (RFC 3022 §4.1).
   */
  readonly mark: number | null;
  readonly source: SourceRef;
}

/**
 * What captures and session tables of a way saw of one try: the same question at each place, matched across
 * translations by the end that stayed what it was. null: fewer than two places saw it.
 */
export function placesView(facts: CaseFacts, names: StopNames): PlacesView | null {
  const seen = seenOf(facts);
  const ids = facts.document.path.map((s) => s.id);
  const first = ids.flatMap((id) => seen.filter((s) => s.stop === id)).find((s) => isTry(s, facts));
  if (!first) return null;
  const chain = [first];
  for (const id of ids.slice(ids.indexOf(first.stop) + 1)) {
    const before = chain[chain.length - 1] ?? first;
    const own = addressesOf(facts, before.stop);
    const isAlone = isDistinct(before, seen);
    const next = seen.filter((s) => s.stop === id && isSame(before, s, own, isAlone && isDistinct(s, seen)));
    // Of several that may be it, none is taken.
    if (next.length === 1 && next[0]) chain.push(next[0]);
  }
  if (chain.length < 2) return null;
  const places = chain.map((s, i): SeenThere => {
    const before = chain[i - 1]?.ends ?? s.ends;
    const { from, fromPort, to, toPort } = s.ends;
    const isFromTurned = from !== before.from || fromPort !== before.fromPort;
    const isToTurned = to !== before.to || toPort !== before.toPort;
    const [a, b] = [endText(from, fromPort), endText(to, toPort)];
    return {
      stop: s.stop,
      name: names(s.stop),
      by: s.by,
      question: { from: a, to: b, isFromTurned, isToTurned },
      answer: s.back === 0 ? null : { from: b, to: a, isFromTurned: isToTurned, isToTurned: isFromTurned },
      there: s.there,
      back: s.back,
      isReset: s.isReset,
      source: s.source,
    };
  });
  return { headline: placesText(places), places };
}

function seenOf(facts: CaseFacts): Seen[] {
  return [
    ...factsOf(facts, 'conversation').flatMap(({ stop, source, fact }) =>
      ofConversation(stop, source, fact.value),
    ),
    ...factsOf(facts, 'session').flatMap(({ stop, source, fact }) => ofSession(stop, source, fact.value)),
  ].flatMap(({ stop, ...rest }) => (stop === null ? [] : [{ stop, ...rest }]));
}

function ofConversation(stop: string, source: SourceRef, value: ConversationRecord): Seen[] {
  const { protocol, source: from, sourcePort, destination, destinationPort } = value.forwardTuple;
  if (sourcePort === undefined || destinationPort === undefined) return [];
  const isReset = Number(value['resetsBack'] ?? 0) > 0 && Number(value['synAcks'] ?? 0) === 0;
  return [
    {
      stop,
      by: 'capture',
      ends: { protocol, from, fromPort: sourcePort, to: destination, toPort: destinationPort },
      behind: null,
      there: value.packetsForward,
      back: value.packetsBack,
      isReset,
      mark: markOf(value),
      source,
    },
  ];
}

function markOf(value: ConversationRecord): number | null {
  const mark = value['initialSequence'] ?? value['firstPayload'];
  return typeof mark === 'number' ? mark : null;
}

/** A session's answer goes back to where the question came from behind the translation (RFC 3022 §2). */
function ofSession(stop: string, source: SourceRef, { original, reply, unreplied }: SessionRecord): Seen[] {
  const { sourcePort, destinationPort } = original;
  if (sourcePort === undefined || destinationPort === undefined) return [];
  const { protocol } = original;
  const ends = {
    protocol,
    from: original.source,
    fromPort: sourcePort,
    to: original.destination,
    toPort: destinationPort,
  };
  const behind =
    reply.sourcePort === undefined || reply.destinationPort === undefined
      ? null
      : {
          protocol,
          from: reply.destination,
          fromPort: reply.destinationPort,
          to: reply.source,
          toPort: reply.sourcePort,
        };
  return [
    {
      stop,
      by: 'sessions',
      ends,
      behind,
      there: 1,
      back: unreplied ? 0 : 1,
      isReset: false,
      mark: null,
      source,
    },
  ];
}

/** The client's question to a port of the service. */
function isTry({ ends }: Seen, { document: { client, service } }: CaseFacts): boolean {
  return serves(service?.endpoints, ends.protocol, ends.toPort) && ends.from === client?.address;
}

/** What a machine is known to hold: a source that it translates becomes one of these. */
const addressesOf = (facts: CaseFacts, stop: string): ReadonlySet<string> =>
  new Set([
    ...factsOf(facts, 'address').flatMap((a) => (a.stop === stop ? [a.fact.address] : [])),
    ...factsOf(facts, 'labelled').flatMap((l) =>
      l.stop === stop && (l.fact.what === 'lan-address' || l.fact.what === 'wan-address')
        ? [l.fact.value]
        : [],
    ),
  ]);

/** Whether nobody else at that place began alike. */
const isDistinct = ({ stop, mark }: Seen, seen: readonly Seen[]): boolean =>
  seen.filter((s) => s.stop === stop && s.mark === mark).length === 1;

/** The same question one place later: as it left there, else with one of its ends as it was. */
function isSame(before: Seen, after: Seen, own: ReadonlySet<string>, isAlone: boolean): boolean {
  const { ends, behind, mark } = before;
  const then = after.ends;
  if (then.protocol !== ends.protocol) return false;
  if (behind) return isEqual(behind, then);
  if (mark !== null && after.mark !== null && mark !== after.mark) return false;
  // One of four thousand million is drawn for each connection; small ones are distances. Greetings over UDP
  // may be alike: they tell where only one said that.
  if (mark !== null && mark > 1 && mark === after.mark && isAlone) return true;
  const sameFrom = then.from === ends.from && then.fromPort === ends.fromPort;
  const sameTo = then.to === ends.to && then.toPort === ends.toPort;
  // Another sender’s question to the same program is not this one.
  return sameFrom || (sameTo && own.has(then.from));
}

const isEqual = (a: Ends, b: Ends): boolean =>
  a.from === b.from && a.fromPort === b.fromPort && a.to === b.to && a.toPort === b.toPort;

const endText = (host: string, port: number): string =>
  host.includes(':') ? `[${host}]:${port}` : `${host}:${port}`;
