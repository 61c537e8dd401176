import type { CaseFacts } from '../../ledger/index.ts';
import { formatAddress, formatEndpoint, type Header } from '../../net/index.ts';
import type { TrialView } from './types.ts';
import type { Viewpoint } from './viewpoint.ts';

const FROM_CLIENT: ReadonlySet<string> = new Set(['client', 'client-by-name', 'outside']);

/** What a try from a viewpoint would be, and what came of the last one of the same. */
export function trialOf(facts: CaseFacts, { key, aim }: Viewpoint, packet: Header): TrialView {
  const from = formatAddress(packet.source.address);
  const to = `${formatEndpoint(packet.destination)}/${packet.transport}`;
  const byName = aim.name === null ? ('client' as const) : ('client-by-name' as const);
  const vantage = key === 'inside' ? 'lan-by-outside-address' : byName;
  const last = facts.document.observations?.findLast(
    (o) =>
      o.to === to &&
      (o.from === undefined ? key !== 'inside' && FROM_CLIENT.has(o.vantage) : o.from === from),
  );
  const newest = Math.max(...facts.files.map((f) => (f.at === null ? -Infinity : Date.parse(f.at))));
  return {
    vantage,
    from,
    to,
    last: last
      ? {
          outcome: last.outcome,
          other: last.other === true,
          at: last.at ?? null,
          stale: last.at !== undefined && Date.parse(last.at) < newest,
        }
      : null,
  };
}
