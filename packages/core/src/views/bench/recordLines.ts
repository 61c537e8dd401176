import type { ServiceEndpoint } from '../../case/index.ts';
import { recordsOf, type CaseFacts, type TrafficRecord } from '../../ledger/index.ts';
import { formatAddress } from '../../net/index.ts';
import type { SourceRef } from '../../place/index.ts';
import { recordText, type StopNames } from '../../words/index.ts';

/** What a machine on the way saw of the service's packets, in one line that leads to where it stands. */
export interface RecordLine {
  readonly text: string;
  readonly source: SourceRef;
}

/** So many lines stand beside the verdict; the rest is under Traffic. */
const MOST = 3;

/** What logs, captures and session tables show of one endpoint, the client's own packets first. */
export function recordLines(facts: CaseFacts, endpoint: ServiceEndpoint, names: StopNames): RecordLine[] {
  const { protocol, port, portEnd = port } = endpoint;
  const client = facts.document.client?.address ?? null;
  const isClient = (r: TrafficRecord): boolean => formatAddress(r.from) === client;
  return recordsOf(facts, (transport, p) => transport === protocol && p >= port && p <= portEnd)
    .sort((a, b) => Number(isClient(b)) - Number(isClient(a)) || b.count - a.count)
    .slice(0, MOST)
    .map((r) => ({ text: recordText(r, isClient(r), names), source: r.source }));
}
