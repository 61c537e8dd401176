import { prefixOf, sameEndpoint, type Address, type Endpoint } from '../net/index.ts';
import {
  MOST_RANGE_CHOICES,
  type Ask,
  type Question,
  type Session,
  type Subject,
  type TranslationTarget,
} from '../rules/index.ts';

/**
 * The endpoint that a translation picks. Ports: with a base the distance is kept; without, a port inside the
 * range stays, any other becomes the first of the range (measured on Linux 6.18). Addresses: the kernel picks
 * from a range by a hash that nobody can foretell, so it is asked for.
 * @returns null where the range is too large to ask for each of its addresses
 */
export function chooseTarget(
  current: Endpoint,
  original: Endpoint,
  target: TranslationTarget,
  question: Question,
  ask: Ask,
): Endpoint | null {
  const address = chooseAddress(current, target, question, ask);
  return address === null ? null : { address, port: choosePort(current.port, original.port, target.ports) };
}

function chooseAddress(
  current: Endpoint,
  { addresses: range, prefix }: TranslationTarget,
  question: Question,
  ask: Ask,
): Address | null {
  if (!range) return current.address;
  if (prefix) {
    const host = current.address.bits - prefixOf(current.address, prefix.length).bits;
    return { family: prefix.family, bits: prefix.bits | host };
  }
  const count = range.last.bits - range.first.bits + 1n;
  if (count === 1n) return range.first;
  if (count > MOST_RANGE_CHOICES) return null;
  return { family: range.first.family, bits: range.first.bits + BigInt(ask(question, Number(count))) };
}

function choosePort(port: number, original: number, range: TranslationTarget['ports']): number {
  if (!range) return port;
  if (range.base !== null) {
    const size = range.last - range.first + 1;
    // The kernel counts the distance in 16 bits (net/netfilter/nf_nat_core.c), so below the base it is long.
    return range.first + (((original - range.base) & 0xffff) % size);
  }
  return port >= range.first && port <= range.last ? port : range.first;
}

/**
 * Writes a new destination (or source) into the session's expected answer; equal values leave no trace, as in
 * the kernel.
 */
export function bind(session: Session, side: 'source' | 'destination', to: Endpoint): void {
  if (side === 'destination') {
    session.destinationDone = true;
    if (sameEndpoint(session.reply.source, to)) return;
    session.reply = { ...session.reply, source: to };
    session.destinationTranslated = true;
  } else {
    session.sourceDone = true;
    if (sameEndpoint(session.reply.destination, to)) return;
    session.reply = { ...session.reply, destination: to };
    session.sourceTranslated = true;
  }
}

/**
 * Rewrites the packet for one stage from its session. Both directions use the same two stages (RFC 2663
 * §4.1).
 */
export function applyStage(subject: Subject, side: 'source' | 'destination'): void {
  const { tracking } = subject;
  const session = tracking?.session;
  if (!session) return;
  const forward = tracking.direction === 'original';
  let to;
  if (side === 'destination') to = forward ? session.reply.source : session.original.source;
  else if (forward) to = session.reply.destination;
  else to = session.original.destination;
  let changed;
  if (side === 'destination') changed = forward ? session.destinationTranslated : session.sourceTranslated;
  else if (forward) changed = session.sourceTranslated;
  else changed = session.destinationTranslated;
  if (!changed) return;
  if (side === 'destination') {
    subject.destination = to.address;
    if (subject.dport !== null) subject.dport = to.port;
  } else {
    subject.source = to.address;
    if (subject.sport !== null) subject.sport = to.port;
  }
}
