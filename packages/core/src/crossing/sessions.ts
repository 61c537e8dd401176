import { PROTOCOL, reversed, sameHeader, type Header } from '../net/index.ts';
import type { Direction, Session, Tracking } from '../rules/index.ts';
import type { Flight } from './types.ts';

/** The connections that the machines of one run remember. */
export class SessionTables {
  readonly #tables = new Map<string, Session[]>();

  of(machine: string): Session[] {
    let table = this.#tables.get(machine);
    if (!table) this.#tables.set(machine, (table = []));
    return table;
  }
}

export function newSession(original: Header): Session {
  return {
    protocol: PROTOCOL[original.transport],
    family: original.source.address.family,
    original,
    reply: reversed(original),
    mark: 0,
    destinationTranslated: false,
    sourceTranslated: false,
    destinationDone: false,
    sourceDone: false,
    sawReply: false,
    assured: false,
    confirmed: false,
  };
}

/**
 * What connection tracking makes of a packet. A TCP answer or reset without a session is invalid (a tracker
 * that missed the SYN does not pick it up); a UDP answer without one is new. A further TCP segment is invalid
 * where the answer did not come by (nf_conntrack_proto_tcp), and makes its session an assured one. An ICMP
 * error belongs to the session that its quote belongs to.
 */
export function track(table: readonly Session[], flight: Flight): Tracking {
  if (flight.form === 'error') {
    const back = reversed(flight.quote);
    for (const session of table) {
      let direction: Direction | null;
      if (sameHeader(back, session.reply)) direction = 'reply';
      else if (sameHeader(back, session.original)) direction = 'original';
      else direction = null;
      if (direction) return { state: 'related', direction, session };
    }
    return { state: 'invalid', direction: 'original', session: null };
  }
  const { header } = flight;
  for (const session of table) {
    if (sameHeader(header, session.reply)) {
      session.sawReply = true;
      return { state: 'established', direction: 'reply', session };
    }
    if (sameHeader(header, session.original)) return onceMore(flight, session);
  }
  if (header.transport === 'tcp' && (flight.form === 'answer' || flight.form === 'reset'))
    return { state: 'invalid', direction: 'original', session: null };
  return { state: 'new', direction: 'original', session: newSession(header) };
}

/** A packet of the original direction before any answer is still new, unless it speaks of the answer. */
function onceMore({ form }: Flight, session: Session): Tracking {
  if (form !== 'further')
    return { state: session.sawReply ? 'established' : 'new', direction: 'original', session };
  if (!session.sawReply) return { state: 'invalid', direction: 'original', session: null };
  session.assured = true;
  return { state: 'established', direction: 'original', session };
}
