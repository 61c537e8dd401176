import { isDismissed, serves } from '../case/index.ts';
import { factsOf, trafficRecords, type CaseFacts, type TrafficRecord } from '../ledger/index.ts';
import { formatAddress } from '../net/index.ts';
import type { LoggedProposal } from './types.ts';

/** So many ports are proposed where nobody has said which one it is. */
const MOST = 3;

/** Tries at one port by one sender, at one place. */
interface Tried extends Omit<TrafficRecord, 'last' | 'to' | 'by'> {
  readonly isClient: boolean;
  readonly isHeard: boolean;
}

/**
 * Ports to which a log shows tries and that the service lacks: any where no port is known yet, else only
 * those that the client itself tried.
 */
export function loggedProposals(facts: CaseFacts): LoggedProposal[] {
  const had = facts.document.service?.endpoints ?? [];
  const client = facts.document.client?.address;
  const listening = new Set(
    factsOf(facts, 'socket')
      .filter((s) => s.fact.state === 'LISTEN' || s.fact.state === 'UNCONN')
      .map((s) => `${s.fact.protocol} ${s.fact.port}`),
  );
  const tries = new Map<string, Tried>();
  for (const r of trafficRecords(facts)) {
    if (r.by !== 'log' || r.port === 0) continue;
    const from = formatAddress(r.from);
    const key = JSON.stringify([r.stop, r.transport, r.port, from]);
    const before = tries.get(key);
    tries.set(key, {
      ...r,
      count: r.count + (before?.count ?? 0),
      isClient: from === client,
      isHeard: listening.has(`${r.transport} ${r.port}`),
    });
  }
  const isServed = (t: Tried): boolean => serves(had, t.transport, t.port);
  const rank = (t: Tried): number => (t.isClient ? 2 : 0) + (t.isHeard ? 1 : 0);
  const seen = new Set<string>();
  return [...tries.values()]
    .filter((t) => !isServed(t) && (had.length === 0 || t.isClient))
    .sort((a, b) => rank(b) - rank(a) || b.count - a.count)
    .flatMap((t): LoggedProposal[] => {
      const id = `logged/${t.transport}/${t.port}`;
      if (seen.has(id) || isDismissed(facts.document, id)) return [];
      seen.add(id);
      return [
        {
          kind: 'logged-port',
          id,
          endpoint: { protocol: t.transport, port: t.port },
          stop: t.stop,
          from: formatAddress(t.from),
          count: t.count,
          isKeptOut: t.became === 'kept-out',
          evidence: [t.source],
        },
      ];
    })
    .slice(0, MOST);
}
