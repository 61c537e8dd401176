import { follow, type Delivery, type Flood, type Run } from '../crossing/index.ts';
import type { Header } from '../net/index.ts';
import { explore, type PacketSet } from '../rules/index.ts';
import type { Site } from '../site/index.ts';

/**
 * Where the first packet of a run came to: a listener (or what may be one), nowhere, or out of what is known.
 */
export function fate(run: Run): string {
  for (const leg of run.legs) {
    const taken = leg.events.find((e) => e.event === 'delivered');
    if (taken && leg.lane === 'forward') return `reaches ${leg.stop} ${taken.socket?.port ?? '?'}`;
  }
  if (run.outcome !== 'open') return 'ends';
  const { ending } = run;
  return ending.kind === 'not-known' && ending.need.need === 'listeners' ? `may reach ${run.stop}` : 'open';
}

/** Whether a set holds a packet as it was sent. */
export const holdsPacket = ({ box }: PacketSet, { source: from, destination: to }: Header): boolean => {
  const within = (side: PacketSet['box'][0], bits: bigint | number): boolean =>
    side.some((i) => bits >= i.first && bits <= i.last);
  return (
    within(box[0], from.address.bits) &&
    within(box[1], to.address.bits) &&
    within(box[2], from.port) &&
    within(box[3], to.port)
  );
};

/** Everything that can become of a packet, by trace: one run for each way to answer what is open. */
export const fatesByTrace = (site: Site, header: Header): Set<string> =>
  new Set(explore((ask) => follow(site, header, ask, true)).results.map(fate));

/** The same by flood. Packets that no part holds end on the way. */
export function fatesByFlood(
  { deliveries, open }: Flood,
  header: Header,
): { fates: Set<string>; sure: boolean } {
  const hits = deliveries.filter((d) => holdsPacket(d.set, header));
  const ends = open.filter((o) => holdsPacket(o.set, header));
  const name = (d: Delivery): string =>
    d.machine.sockets === null
      ? `may reach ${d.machine.id}`
      : `reaches ${d.machine.id} ${d.socket?.port ?? '?'}`;
  return {
    fates: new Set([...hits.map(name), ...ends.map(() => 'open')]),
    sure: hits.some((d) => d.set.given === null),
  };
}
