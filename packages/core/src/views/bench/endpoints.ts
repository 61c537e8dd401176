import type { ServiceEndpoint } from '../../case/index.ts';
import { trace, type Trace } from '../../crossing/index.ts';
import type { CaseFacts } from '../../ledger/index.ts';
import type { Header } from '../../net/index.ts';
import type { Site } from '../../site/index.ts';
import { neverArrives } from './crossingView.ts';
import { packetsFor } from './packet.ts';
import type { EndpointTab, Lamp } from './types.ts';
import type { Viewpoint } from './viewpoint.ts';

export const endpointKey = (e: ServiceEndpoint): string => `${e.protocol}/${e.port}`;
export const endpointLabel = (e: ServiceEndpoint): string =>
  `${e.protocol} ${e.port}${e.portEnd && e.portEnd > e.port ? `–${e.portEnd}` : ''}`;

export interface Tried {
  readonly endpoint: ServiceEndpoint;
  readonly packet: Header | null;
  readonly lamp: Lamp;
}

export const WORDS: Readonly<Record<Lamp, string>> = {
  lit: 'answered',
  shut: 'does not get through',
  fogged: 'not known yet',
};

export const viewpointTab = (v: Viewpoint, w: Tried): EndpointTab => ({
  key: v.key,
  label: v.label,
  lamp: w.lamp,
  word: WORDS[w.lamp],
});

/**
 * One endpoint tried from one place, a range at both of its ends: the end that does not get through counts.
 * What would mend it is only worked out for the one that is shown.
 */
export function tried(
  facts: CaseFacts,
  site: Site,
  { aim, from }: Viewpoint,
  endpoint: ServiceEndpoint,
): Tried {
  const ends = packetsFor(facts, aim, endpoint, from).map((packet) => ({
    endpoint,
    packet,
    lamp: lampOf(trace(site, packet, { explain: false })),
  }));
  const isNowhere = aim.trouble === 'no-such-name' || aim.trouble === 'no-address';
  const nothing: Tried = { endpoint, packet: null, lamp: isNowhere ? 'shut' : 'fogged' };
  return WORST.flatMap((lamp) => ends.find((e) => e.lamp === lamp) ?? [])[0] ?? nothing;
}

const WORST: readonly Lamp[] = ['shut', 'fogged', 'lit'];

export function lampOf({ outcome, shown }: Trace): Lamp {
  if (outcome === 'answered') return 'lit';
  return outcome === 'unknown' && !neverArrives(shown) ? 'fogged' : 'shut';
}
