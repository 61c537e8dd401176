import { floodSite, isNeed, type Delivery, type OpenEnd } from '../crossing/index.ts';
import {
  formatAddress,
  join,
  meet,
  sideLine,
  SIDE,
  type Family,
  type PortSet,
  type Side,
} from '../net/index.ts';
import { Effort, givenList, MOST_EFFORT, trailOf, type Need } from '../rules/index.ts';
import { sorted } from './sureness.ts';
import type { Site, Socket } from '../site/index.ts';
import type { SourceRef } from '../place/index.ts';
import { audience, bySources, elementary, possibleSenders, sideKey, texts } from './senders.ts';

/** One listener, and the outside packets that reach it: ports that share one set of sources. */
export interface Exposure {
  readonly stop: string;
  readonly program: string | null;
  readonly family: Family;
  readonly transport: 'tcp' | 'udp';
  /** Where it listens; null where a machine's sockets are not known. */
  readonly socket: Socket | null;
  /** Where it is not known who takes it: why, or where it leaves what the case shows. Null for a listener. */
  readonly beyond: OpenEnd['why'] | null;
  /** The outside addresses that are dialled. */
  readonly outsideAddresses: readonly string[];
  readonly outsidePorts: PortSet;
  /** Smallest set of prefixes; `0.0.0.0/0` or `::/0` for anyone. */
  readonly sources: readonly string[];
  readonly anyone: boolean;
  /** What of all that is not known has to be so; empty: it is reached for sure. */
  readonly needs: readonly Need[];
  readonly maybe: boolean;
  readonly why: readonly {
    readonly stop: string;
    readonly text: string;
    readonly source: SourceRef | null;
  }[];
}

/**
 * Everything that an outside sender can reach, in both families and transports. Exact for what is known.
 * @param pause called now and then; stops the work by throwing
 * @throws TooMuchWork where the rule sets split the packets into too many parts
 */
export function exposures(site: Site, pause: (() => void) | null = null): Exposure[] {
  const effort = new Effort('what is open from outside', MOST_EFFORT, pause);
  return ([4, 6] as const).flatMap((family) =>
    (['tcp', 'udp'] as const).flatMap((transport) => {
      const { deliveries, open } = floodSite(site, family, transport, effort);
      const outside = deliveries.filter((d) => d.machine.role !== 'client');
      const frame = { family, transport, possible: possibleSenders(site, family) };
      return [...grouped(outside, frame), ...groupedBeyond(site, open, frame)];
    }),
  );
}

/** Endings of packets that never come to the site. */
const NOT_HERE: ReadonlySet<string> = new Set(['elsewhere', 'not-routed']);

/**
 * What passes the border and ends nobody knows where: forwards to machines that are no stops, and rows of
 * which it is not known where they lead.
 */
function groupedBeyond(site: Site, ends: readonly OpenEnd[], frame: Frame): Exposure[] {
  const groups = new Map<string, { why: OpenEnd['why']; list: Delivery[] }>();
  for (const { stop, why, set } of ends) {
    const machine = site.machines.find((m) => m.id === stop);
    if (!machine || machine.role === 'client' || machine.id === site.internet) continue;
    if (!isNeed(why) && NOT_HERE.has(why.kind)) continue;
    const key = `${stop}/${beyondKey(why)}`;
    const group = groups.get(key) ?? { why, list: [] };
    group.list.push({ machine, socket: null, set });
    groups.set(key, group);
  }
  return [...groups.values()].flatMap(({ why, list }) =>
    ofListener(list, frame).map((e) => ({ ...e, beyond: why, maybe: true })),
  );
}

/** The same for ends for the same reason. */
export const beyondKey = (why: Exposure['beyond']): string =>
  JSON.stringify(why, (_key, value: unknown) => (typeof value === 'bigint' ? value.toString() : value));

/** What all rows of one flood have in common. */
interface Frame {
  readonly family: Family;
  readonly transport: 'tcp' | 'udp';
  readonly possible: Side;
}

function grouped(deliveries: readonly Delivery[], frame: Frame): Exposure[] {
  const byListener = new Map<string, Delivery[]>();
  for (const d of deliveries) {
    const key = listenerKey(d);
    const list = byListener.get(key);
    if (list) list.push(d);
    else byListener.set(key, [d]);
  }
  return [...byListener.values()].flatMap((list) => {
    const { sure, maybe } = sorted(list);
    return [...ofListener(sure, frame), ...ofListener(maybe, frame)];
  });
}

function listenerKey({ machine, socket }: Delivery): string {
  if (!socket) return `${machine.id}/?`;
  const address = socket.address ? formatAddress(socket.address) : '*';
  return `${machine.id}/${address}:${socket.port}/${socket.program ?? ''}`;
}

/** Outside ports that are reached from the same sources by the same addresses. */
interface Group {
  readonly sources: Side;
  readonly addresses: Side;
  readonly ports: { first: number; last: number }[];
  readonly from: Set<Delivery>;
}

/** Ports with the same set of sources stand together: the smallest number of rows that says everything. */
function ofListener(list: readonly Delivery[], { family, transport, possible }: Frame): Exposure[] {
  const [first] = list;
  if (!first) return [];
  const { machine, socket } = first;
  const groups = new Map<string, Group>();
  for (const port of elementary(family, SIDE.dport, list)) {
    const here = list.filter((d) => meet(d.set.box[SIDE.dport], [port]).length > 0);
    for (const { sources, addresses, from } of bySources(family, here)) {
      const key = `${sideKey(sources)}/${sideKey(addresses)}`;
      const group = groups.get(key) ?? { sources, addresses, ports: [], from: new Set<Delivery>() };
      group.ports.push({ first: Number(port.first), last: Number(port.last) });
      for (const d of from) group.from.add(d);
      groups.set(key, group);
    }
  }
  const maybe = first.set.given !== null;
  const reached = [...groups.values()].filter((g) => meet(g.sources, possible).length > 0);
  return reached.map((g): Exposure => ({
    stop: machine.id,
    program: socket?.program ?? null,
    family,
    transport,
    socket,
    beyond: null,
    outsideAddresses: texts(family, g.addresses),
    outsidePorts: join(sideLine(family, SIDE.dport), g.ports) as PortSet,
    ...audience(family, g.sources, possible),
    needs: needsOf([...g.from]),
    maybe,
    why: reasons([...g.from]),
  }));
}

/** What would have to be known, each once. */
function needsOf(deliveries: readonly Delivery[]): Need[] {
  const questions = deliveries.flatMap((d) => givenList(d.set.given).map((x) => x.question));
  return [...new Map(questions.map((q) => [q.key, q.need])).values()];
}

/** Deliveries whose rules are named as reasons for one row. */
const MOST_REASONS = 50;

function reasons(list: readonly Delivery[]): Exposure['why'] {
  const seen = new Map<string, Exposure['why'][number]>();
  for (const d of list.slice(0, MOST_REASONS))
    for (const t of trailOf(d.set))
      seen.set(`${t.stop}/${t.rule.id}`, { stop: t.stop, text: t.rule.text, source: t.source });
  return [...seen.values()];
}
