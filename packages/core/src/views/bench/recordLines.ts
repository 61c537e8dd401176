import type { ServiceEndpoint } from '../../case/index.ts';
import { countedBetween, recordsOf, type CaseFacts, type TrafficRecord } from '../../ledger/index.ts';
import { formatAddress } from '../../net/index.ts';
import type { SourceRef } from '../../place/index.ts';
import { countedText, recordText, type StopNames } from '../../words/index.ts';

/** What a machine on the way saw of the service's packets, in one line that leads to where it stands. */
export interface RecordLine {
  readonly text: string;
  readonly source: SourceRef;
}

/** What the counters of rules for the service show between two listings; one rule of each place. */
function counterLines(
  facts: CaseFacts,
  { protocol, port, portEnd = port }: ServiceEndpoint,
  names: StopNames,
) {
  const own = countedBetween(facts).filter(
    ({ rule, ports }) =>
      ports.some((p) => p.first <= portEnd && p.last >= port) &&
      !new RegExp(`\\b${protocol === 'tcp' ? 'udp' : 'tcp'}\\b`).test(rule),
  );
  return own
    .sort((a, b) => b.after - b.before - (a.after - a.before))
    .filter((c, i, all) => all.findIndex((o) => o.stop === c.stop) === i)
    .map((c) => ({ text: countedText(c, names), source: c.source }));
}

/** So many lines stand beside the verdict; the rest is under Traffic. */
const MOST = 3;

/** What logs, captures and session tables show of one endpoint, the client's own packets first. */
export function recordLines(facts: CaseFacts, endpoint: ServiceEndpoint, names: StopNames): RecordLine[] {
  const { protocol, port, portEnd = port } = endpoint;
  const client = facts.document.client?.address ?? null;
  const isClient = (r: TrafficRecord): boolean => formatAddress(r.from) === client;
  const seen = recordsOf(facts, (transport, p) => transport === protocol && p >= port && p <= portEnd)
    .sort((a, b) => Number(isClient(b)) - Number(isClient(a)) || b.count - a.count)
    .map((r) => ({ text: recordText(r, isClient(r), names), source: r.source }));
  return [...counterLines(facts, endpoint, names), ...seen].slice(0, MOST);
}
