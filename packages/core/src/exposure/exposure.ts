import { floodSite, type Delivery } from '../crossing/index.ts';
import { addressBits, formatAddress, formatPrefix, isWithin, join, meet, prefix, prefixInterval, sideLine, sideOfAddresses, SIDE, toPrefixes, wholeSide, without, type Address, type Family, type PortSet, type Side } from '../net/index.ts';
import { trailOf } from '../rules/flood/index.ts';
import type { Machine, Site, Socket, SourceRef } from '../site/index.ts';

/** One listener, and the outside packets that reach it: ports that share one set of sources. */
export interface Exposure {
  readonly stop: string;
  readonly program: string | null;
  readonly family: Family;
  readonly transport: 'tcp' | 'udp';
  /** Where it listens; null where a machine's sockets are not known. */
  readonly socket: Socket | null;
  /** The outside addresses that are dialled. */
  readonly outsideAddresses: readonly string[];
  readonly outsidePorts: PortSet;
  /** Smallest set of prefixes; `0.0.0.0/0` or `::/0` for anyone. */
  readonly sources: readonly string[];
  readonly anyone: boolean;
  /** Something that is not known has to be so. */
  readonly maybe: boolean;
  readonly why: readonly { readonly stop: string; readonly text: string; readonly source: SourceRef | null }[];
}

/** Everything that an outside sender can reach, in both families and transports. Exact for what is known. */
export function exposures(site: Site): Exposure[] {
  return ([4, 6] as const).flatMap((family) => (['tcp', 'udp'] as const).flatMap((transport) => grouped(floodSite(site, family, transport), family, transport, possibleSenders(site, family))));
}

function grouped(deliveries: readonly Delivery[], family: Family, transport: 'tcp' | 'udp', possible: Side): Exposure[] {
  const byListener = new Map<string, Delivery[]>();
  for (const d of deliveries) {
    const key = `${d.machine.id}/${d.socket ? `${d.socket.address ? formatAddress(d.socket.address) : '*'}:${d.socket.port}/${d.socket.program ?? ''}` : '?'}/${d.beam.maybe}`;
    const list = byListener.get(key);
    if (list) list.push(d);
    else byListener.set(key, [d]);
  }
  return [...byListener.values()].flatMap((list) => ofListener(list, family, transport, possible));
}

/** Ports with the same set of sources stand together: the smallest number of rows that says everything. */
function ofListener(list: readonly Delivery[], family: Family, transport: 'tcp' | 'udp', possible: Side): Exposure[] {
  const { machine, socket, beam } = list[0]!;
  const portLine = sideLine(family, SIDE.dport);
  const groups = new Map<string, { sources: Side; ports: { first: number; last: number }[]; addresses: Side; from: Delivery[] }>();
  for (const piece of elementary(list.map((d) => d.beam.box[SIDE.dport]))) {
    const here = list.filter((d) => meet(d.beam.box[SIDE.dport], [piece]).length > 0);
    const sources = join(sideLine(family, SIDE.source), ...here.map((d) => d.beam.box[SIDE.source]));
    const addresses = join(sideLine(family, SIDE.destination), ...here.map((d) => d.beam.box[SIDE.destination]));
    const key = [sources, addresses].map((side) => side.map((i) => `${i.first}-${i.last}`).join()).join('/');
    const group = groups.get(key) ?? { sources, ports: [], addresses, from: [] };
    group.ports.push({ first: Number(piece.first), last: Number(piece.last) });
    for (const d of here) if (!group.from.includes(d)) group.from.push(d);
    groups.set(key, group);
  }
  return [...groups.values()].map((g): Exposure => ({
    stop: machine.id, program: socket?.program ?? null, family, transport, socket, outsideAddresses: texts(family, g.addresses), outsidePorts: join(portLine, g.ports) as PortSet, ...audience(family, g.sources, possible), maybe: beam.maybe,
    why: reasons(g.from),
  }));
}

/** Cuts sides into the pieces on which all of them are constant. */
function elementary(sides: readonly Side[]): Side {
  const starts = new Set<number>();
  for (const side of sides) for (const i of side) starts.add(Number(i.first)).add(Number(i.last) + 1);
  const sorted = [...starts].sort((a, b) => a - b);
  const all = join(sideLine(4, SIDE.dport), ...sides);
  return sorted.slice(0, -1).map((first, i) => ({ first, last: sorted[i + 1]! - 1 })).filter((piece) => isWithin([piece], all));
}

const texts = (family: Family, side: Side): string[] => toPrefixes({ 4: [], 6: [], [family]: addressBits(side) }).map((p) => formatPrefix(p).replace(/\/(32|128)$/, ''));

/** Outside senders never have these: leaving them out of "anyone" would only make the list long. */
const NEVER: Readonly<Record<Family, readonly string[]>> = { 4: ['0.0.0.0/8', '10.0.0.0/8', '100.64.0.0/10', '127.0.0.0/8', '169.254.0.0/16', '172.16.0.0/12', '192.0.0.0/24', '192.168.0.0/16', '224.0.0.0/3'], 6: ['::/8', 'fc00::/7', 'fe80::/10', 'fec0::/10', 'ff00::/8'] };

function audience(family: Family, side: Side, possible: Side): { sources: string[]; anyone: boolean } {
  const set = { 4: [], 6: [], [family]: addressBits(side) } as Parameters<typeof toPrefixes>[0];
  if (isWithin(possible, side)) return { sources: [family === 4 ? '0.0.0.0/0' : '::/0'], anyone: true };
  const within = addressBits(meet(side, possible));
  return { sources: toPrefixes({ ...set, [family]: within }).map((p) => `${formatAddress(p)}/${p.length}`), anyone: false };
}

/** Addresses that an outside sender can have: none that only exists inside, and none of the site's own machines. */
function possibleSenders(site: Site, family: Family): Side {
  const own = site.machines.filter((m) => m.role !== 'client').flatMap((m) => (m.interfaces ?? []).flatMap((i) => i.addresses.filter((a) => a.address.family === family).map((a) => ({ first: a.address.bits, last: a.address.bits }))));
  const never = [...NEVER[family].map((p) => prefixInterval(prefix(p))), ...own];
  return never.reduce<Side>((left, i) => without(sideLine(family, SIDE.source), left, sideOfAddresses(family, [i])), wholeSide(family, SIDE.source));
}

function reasons(list: readonly Delivery[]): Exposure['why'] {
  const seen = new Map<string, Exposure['why'][number]>();
  for (const d of list.slice(0, 50)) for (const t of trailOf(d.beam)) seen.set(`${t.stop}/${t.rule.id}`, { stop: t.stop, text: t.rule.text, source: t.source });
  return [...seen.values()];
}

/** Whether a packet from an address to an outside endpoint is among what reaches some listener for sure. */
export function reaches(site: Site, deliveries: readonly Delivery[], source: Address, sport: number, destination: Address, dport: number): Machine | null {
  const has = (side: Side, bits: bigint | number): boolean => side.some((i) => bits >= i.first && bits <= i.last);
  const hit = deliveries.find(({ beam: { box, maybe } }) => !maybe && has(box[0], source.bits) && has(box[1], destination.bits) && has(box[2], sport) && has(box[3], dport));
  return hit ? (site.machines.find((m) => m.id === hit.machine.id) ?? null) : null;
}
