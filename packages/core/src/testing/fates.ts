import { floodFrom, follow, type Delivery, type Flood, type Run, type Trace } from '../crossing/index.ts';
import type { Header } from '../net/index.ts';
import { explore, type PacketSet } from '../rules/index.ts';
import type { Site } from '../site/index.ts';

/**
 * Where the first packet of a run came to: a listener (or what may be one), nowhere, or out of what is known.
 */
export function fate(run: Run): string {
  if (run.reached) return `reaches ${run.reached.stop} ${run.reached.socket?.port ?? '?'}`;
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

/**
 * Floods the site from where the packet comes into it, and holds what becomes of this packet against trace:
 * the difference in one line, null where there is none.
 * @param flooded what was flooded before, by place
 */
export function floodDifference(
  site: Site,
  { packet, shown }: Trace,
  flooded: Map<string, Flood>,
): string | null {
  const [first, second] = shown.legs.filter((l) => l.lane === 'forward');
  const machine = site.machines.find((m) => m.id === second?.stop);
  const device = machine?.interfaces?.find((i) => i.name === second?.in);
  if (!first || !machine || !device) return null;
  const { family } = packet.source.address;
  const key = `${machine.id}/${device.name}/${family}/${packet.transport}`;
  const flood = flooded.get(key) ?? floodFrom(site, [{ machine, device }], family, packet.transport);
  flooded.set(key, flood);
  const traced = fatesByTrace(site, packet);
  traced.delete('ends');
  const { fates } = fatesByFlood(flood, first.after);
  const [a, b] = [[...traced].sort().join(), [...fates].sort().join()];
  return a === b ? null : `trace: ${a || 'ends'}, flood: ${b || 'ends'}`;
}
