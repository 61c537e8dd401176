import type { Became, CountedRule, Death, TrafficRecord } from '../ledger/index.ts';
import { formatAddress } from '../net/index.ts';
import { inSentence, type StopNames } from './named.ts';
import { becameText, endText, NEXT, type Teller } from './trafficEnds.ts';

const BY: Readonly<Record<TrafficRecord['by'], string>> = {
  log: 'its log',
  capture: 'a capture there',
  sessions: 'its session table',
};

/** Under the lamp of the place where a log shows the packet kept out. */
export const KEPT_OUT_CAPTION = 'kept out, as its own log shows';

/** What a machine on the way saw of packets, in one line. */
export function recordText(r: TrafficRecord, isClient: boolean, names: StopNames): string {
  const who = `${isClient ? 'the client, ' : ''}${formatAddress(r.from)}`;
  const often = r.count === 1 ? '' : `, ${r.count} packets`;
  const when = r.last === null ? '' : `, the last at ${r.last}`;
  const ways = r.ways ? `; it came by ${r.ways.in}, the answer leaves by ${r.ways.out}` : '';
  return (
    `${names(r.stop)}, ${BY[r.by]}: ${who} to ${r.transport.toUpperCase()} ${r.port}: ` +
    `${becameText(r.became)}${often}${when}${ways}`
  );
}

/** What the counter of a rule for the service shows between two listings. */
export function countedText({ stop, rule, before, after }: CountedRule, names: StopNames): string {
  const short = rule.length > 90 ? `${rule.slice(0, 89)}…` : rule;
  const by = after - before;
  const what =
    by === 0
      ? 'counted nothing between its two listings: no first packet came to it'
      : `counted ${by} ${by === 1 ? 'packet' : 'packets'} between its two listings (${before} → ${after})`;
  return `${names(stop)}: “${short}” ${what}`;
}

interface TriedWords {
  readonly from: string;
  readonly service: string;
  readonly became: Became;
  readonly count: number;
  readonly last: string | null;
  readonly isClient: boolean;
  /** Who refused it, or answered in the place of the one that was asked, as a capture tells. */
  readonly by?: Teller | null;
}

/** What a record of traffic shows of one service, as data. */
export interface TrafficStory {
  /** Tries at the service, the newest last. */
  readonly tries: readonly TriedWords[];
  /** The client's tries at other ports. */
  readonly elsewhere: readonly TriedWords[];
  /** null: nobody has said it. */
  readonly client: string | null;
  /** The ports of the service; empty: not known. */
  readonly services: readonly string[];
}

const times = (count: number): string => (count === 1 ? 'once' : `${count} times`);

const inWords = ({ isClient, from }: TriedWords): string => (isClient ? `the client, ${from},` : from);

/** What became of the client's try, in one sentence. */
export function trafficHeadline({ tries, elsewhere, client, services }: TrafficStory): string {
  if (services.length === 0) return 'Which port the client tries is not known: take one of those below.';
  const own = tries.filter((t) => t.isClient);
  const [told] = (own.length > 0 ? own : tries).toReversed();
  const what = services.join(', ');
  const [other] = elsewhere;
  if (!told && other)
    return (
      `The client, ${other.from}, tried ${other.service}, which is none of this service’s ports ` +
      `(${what}): ${endText(other.became, other.by ?? null)}.`
    );
  if (!told) return `No packet to ${what} is in this record.`;
  const who = told.isClient ? `The client, ${told.from},` : told.from;
  const when = told.last === null ? '' : `, the last time at ${told.last}`;
  if (told.became === 'only-answers')
    return `Only answers to ${inWords(told)} are in this record: its questions came another way.`;
  const end = endText(told.became, told.by ?? null);
  const line = `${who} tried ${told.service} ${times(told.count)}: ${end}${when}.`;
  if (told.isClient || client === null) return line;
  return `${line} The client was said to be ${client}.`;
}

/** What follows from it, and what to do next. */
export function trafficDetail({ tries, elsewhere, services }: TrafficStory): string {
  if (services.length === 0) return '';
  if (tries.length === 0 && elsewhere.length > 0)
    return 'Either the client dials a wrong port, or the port was heard wrong.';
  if (tries.length === 0)
    return (
      'Either nobody tried while it was recorded, or the packets end before this place. Let them ' +
      'try once, now, and bring the record again.'
    );
  const own = tries.filter((t) => t.isClient);
  const told = (own.length > 0 ? own : tries).at(-1);
  const next = told && NEXT[told.by?.is === 'other' ? 'other' : told.became];
  if (next !== undefined) return next;
  const senders = new Set(tries.map((t) => t.from)).size;
  return senders > 1 ? `${senders} senders came to the service’s ports.` : '';
}

/**
 * What came when the client was told to try.
 * @param at the moment by the record's clock
 */
export function watchedText(
  at: string | null,
  tries: readonly Pick<TriedWords, 'from' | 'service' | 'became' | 'count'>[],
  client: string | null,
): string {
  const seen = tries.map(({ from, service, became, count }) => {
    const who = from === client ? `the client, ${from},` : from;
    return `${who} came to ${service} ${times(count)}: ${becameText(became)}`;
  });
  const when = at === null ? '' : `, ${at} by this clock`;
  return `When the client was told to try${when}: ${seen.join('; ')}.`;
}

/**
 * A record in which what came when the client was told to try was not found.
 * @param isElsewhere whether something came to the service at other times
 */
export function unwatchedText(why: 'none' | 'several', isElsewhere: boolean): string {
  if (why === 'several')
    return (
      'Which of the tries in this record is the one that was asked for, its clock does not tell: let them ' +
      'try once more, some minutes later, and say so again.'
    );
  return isElsewhere
    ? 'Nothing in this record came when the client was told to try, by any usual clock: the try ended ' +
        'before this place, or it was recorded later.'
    : 'Nothing came to the service in this record: the try ended before this place, or it ' +
        'was recorded later.';
}

const UNITS = [
  [86_400, 'day'],
  [3600, 'hour'],
  [60, 'minute'],
  [1, 'second'],
] as const;

/** How far the clock of a record is from the technician's. */
export function clockAheadText(seconds: number): string {
  let rest = Math.round(Math.abs(seconds));
  const parts = UNITS.flatMap(([size, name]) => {
    const n = Math.floor(rest / size);
    rest -= n * size;
    return n === 0 ? [] : [`${n} ${name}${n === 1 ? '' : 's'}`];
  });
  return `The clock of this record is ${parts.join(' ')} ${seconds > 0 ? 'ahead' : 'behind'}.`;
}

interface PlaceWords {
  readonly name: string;
  readonly question: { readonly from: string; readonly to: string };
  readonly there: number;
  readonly back: number;
  readonly isReset: boolean;
}

/** What became of one try at the places that saw it, in a sentence; the first stands outermost. */
export function placesText(places: readonly PlaceWords[]): string {
  const [first] = places;
  const last = places[places.length - 1];
  if (!first || !last) return '';
  const at = inSentence(last.name);
  const came = `The question arrives at ${at} as ${last.question.from} → ${last.question.to}`;
  if (last.isReset) return `${came}, and ${at} refuses it.`;
  if (last.back === 0) return `${came}, and no answer is seen there.`;
  // The answer is followed outward, as far as places saw it.
  const lost = places.toReversed().find((p) => p.back === 0);
  if (lost) return `${came}, and is answered; the answer is not seen at ${inSentence(lost.name)}.`;
  return `${came}, and its answer is seen at ${inSentence(first.name)}.`;
}

/** Under the lamp of the place to which the client's packets were seen to come. */
export function cameCaption(by: TrafficRecord['by'], died: Death | null): string {
  if (died === 'answer-lost') return 'its answer leaves, and does not arrive';
  if (died === 'answer-refused') return 'its answer leaves, and is reset';
  if (died === 'refused') return 'its refusal is in the capture taken there';
  if (died === 'not-answered') return 'the question comes, and no answer leaves';
  return `seen in ${BY[by]}`;
}
