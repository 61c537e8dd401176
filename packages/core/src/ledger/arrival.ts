import { formatAddress, sameAddress, type Address, type Transport } from '../net/index.ts';
import { factsOf, type CaseFacts } from './caseFacts.ts';
import { recordsOf, type Became, type TrafficRecord } from './records.ts';

/** How a question dies at the server, or its answer on the way back from it. */
export type Death = 'refused' | 'not-answered' | 'answer-lost' | 'answer-refused';

/** How far a sender's packets were seen to come. */
export interface Arrival {
  /** At the farthest stop that saw them: what became of them there at best. */
  readonly record: TrafficRecord;
  /** How they died, as that record shows; null: they went on, or nobody knows what became of them. */
  readonly died: Death | null;
}

/** Whether it was the answer that died: any place before may have done that. */
export const diedOnReturn = (death: Death): boolean => death === 'answer-lost' || death === 'answer-refused';

/** What says most of a sender's packets at one place, the strongest word first. */
const STRENGTH: readonly Became[] = [
  'answered',
  'answer-refused',
  'answer-lost',
  'refused',
  'not-answered',
  'let-in',
  'only-answers',
  'came',
];

/**
 * The farthest stop of the way at which a sender's packets were seen by a log, a capture or a session table;
 * null: nowhere.
 */
export function arrivalOf(
  facts: CaseFacts,
  isServed: (transport: Transport, port: number) => boolean,
  from: Address,
): Arrival | null {
  const own = recordsOf(facts, isServed).filter((r) => r.became !== 'kept-out' && sameAddress(r.from, from));
  const stops = facts.document.path.map((s) => s.id).toReversed();
  const stop = stops.find((id) => own.some((r) => r.stop === id));
  const there = own.filter((r) => r.stop === stop);
  const rank = (r: TrafficRecord): number => STRENGTH.indexOf(r.became);
  const [record] = there.sort((a, b) => rank(a) - rank(b));
  if (!record) return null;
  const isServer = record.stop === stops[0];
  return { record, died: isServer && record.by === 'capture' ? deathOf(record, facts) : null };
}

/** A question that came once may have been answered after the capture was stopped. */
const REPEATED = 2;

function deathOf(record: TrafficRecord, facts: CaseFacts): Death | null {
  const { became } = record;
  if (became === 'refused') return became;
  if (became === 'answer-lost' || became === 'answer-refused')
    return ONE_WAY.test(commandOf(record, facts)) ? null : became;
  // Silence of a UDP service may be its manner.
  if (became !== 'not-answered' || record.transport !== 'tcp' || record.count < REPEATED) return null;
  return seesAnswers(record, facts) ? 'not-answered' : null;
}

/**
 * A filter by direction, by one end, by length or by flags leaves packets out (pcap-filter(7), tcpdump(8)),
 * and so may whatever the lines are passed on to.
 */
const ONE_WAY = /\b(?:src|dst|inbound|outbound|less|greater|len)\b|tcp\[|tcp-?flags|\s-Q\s*(?:in|out)\b|\|/;
const commandOf = ({ source }: TrafficRecord, facts: CaseFacts): string =>
  facts.files.find((f) => f.file === source.file)?.command ?? '';
const EVERY_INTERFACE = /\s-[a-zA-Z]{0,9}i\s*any\b/;

/**
 * Whether a capture would show an answer wherever it left: on every interface, and in both directions. By
 * its command, or by what it shows of other packets.
 */
function seesAnswers({ source, stop, from }: TrafficRecord, facts: CaseFacts): boolean {
  const file = facts.files.find((f) => f.file === source.file);
  if (!file || file.part) return false;
  const own = factsOf(facts, 'conversation').filter((c) => c.source.file === source.file);
  const command = file.command ?? '';
  const isAnswer = file.asked === `${stop}/capture` && command === '';
  if (ONE_WAY.test(command)) return false;
  const isEvery =
    isAnswer ||
    EVERY_INTERFACE.test(command) ||
    // Lines name interfaces where all were listened to; files name the one that was.
    (file.format === 'capture-listing' && own.some((c) => c.fact.value['perInterface'] !== undefined));
  const isBothWays =
    isAnswer ||
    /\btcpdump\b/.test(command) ||
    own.some((c) => c.fact.value.packetsBack > 0 && c.fact.value.forwardTuple.source !== formatAddress(from));
  return isEvery && isBothWays;
}
