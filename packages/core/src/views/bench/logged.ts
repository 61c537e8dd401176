import { awaited, keptOut, type CaseFacts, type TrafficRecord } from '../../ledger/index.ts';
import type { ServiceEndpoint } from '../../case/index.ts';
import { trace, type Trace } from '../../crossing/index.ts';
import { keptOutMend, mendChain, sceneFrom, type MendStep } from '../../mend/index.ts';
import { parseAddress, type Address, type Header, type Transport } from '../../net/index.ts';
import type { Site } from '../../site/index.ts';
import { KEPT_OUT_CAPTION } from '../../words/index.ts';
import { neverArrives } from './crossingView.ts';
import type { CrossingView } from './types.ts';

/** A machine kept the packet out, as its own log shows, where its rules alone do not decide. */
export interface Logged {
  readonly record: TrafficRecord;
  /** The case, with the mend that the log calls for, and what would come after it. */
  readonly steps: readonly [MendStep, ...MendStep[]];
  /** Whether it was the client of the case who was kept out. */
  readonly isClient: boolean;
  /** Who the client was said to be; null: nobody has said it. */
  readonly client: Address | null;
}

/**
 * What a log decides of a packet whose way is not known to its end; null: no log of the way shows that it was
 * kept out, or something was changed since.
 */
export function loggedSteps(facts: CaseFacts, first: MendStep): Logged | null {
  const { trace, scene } = first;
  if (trace.outcome !== 'unknown' || neverArrives(trace.shown) || awaited(facts).length > 0) return null;
  const { packet } = trace;
  const ports = portsOf(trace);
  const client = parseAddress(facts.document.client?.address ?? '') && packet.source.address;
  const isServed = (transport: Transport, port: number): boolean =>
    transport === packet.transport && ports.has(port);
  const own = client && keptOut(facts, isServed, client);
  const record = own ?? keptOut(facts, isServed, null);
  if (!record) return null;
  const mend = keptOutMend(scene, record, packet);
  const after = mend?.apply ? mendChain(facts, mend.apply(scene)) : [];
  return { record, steps: [{ ...first, mend }, ...after], isClient: own !== null, client };
}

/**
 * The same where nobody has said what is dialled: that a packet to the service came so far, and who sent it,
 * the log tells all the same.
 */
export function loggedWithoutDial(facts: CaseFacts, site: Site, endpoint: ServiceEndpoint): Logged | null {
  if (awaited(facts).length > 0) return null;
  const { protocol, port, portEnd = port } = endpoint;
  const isServed = (transport: Transport, p: number): boolean =>
    transport === protocol && p >= port && p <= portEnd;
  const client = parseAddress(facts.document.client?.address ?? '');
  const own = client && keptOut(facts, isServed, client);
  const record = own ?? keptOut(facts, isServed, null);
  if (!record?.to) return null;
  const packet: Header = {
    transport: record.transport,
    source: { address: record.from, port: 51_514 },
    destination: { address: record.to, port: record.port },
  };
  const scene = sceneFrom(facts, packet, site);
  const mend = keptOutMend(scene, record, packet);
  const step = { scene, trace: trace(site, packet), mend: mend && { ...mend, apply: null } };
  return { record, steps: [step], isClient: own !== null, client };
}

/** The ports that the packet has on its way: the one that was dialled, and those of translations. */
export function portsOf(trace: Trace): ReadonlySet<number> {
  return new Set([
    trace.packet.destination.port,
    ...trace.shown.legs.filter((l) => l.lane === 'forward').map((l) => l.before.destination.port),
  ]);
}

/** The picture of a way that ends where a log shows that it ends: so far it came. */
export function loggedCrossing(view: CrossingView, { record }: Logged): CrossingView {
  const at = view.stops.findIndex((s) => s.id === record.stop);
  if (at < 0) return view;
  return {
    ...view,
    stops: view.stops.map((s, i) => {
      if (i < at) return { ...s, lamp: 'lit', word: 'seen to pass', ends: false, beyond: false };
      if (i === at)
        return {
          ...s,
          lamp: 'shut',
          word: 'kept out',
          caption: KEPT_OUT_CAPTION,
          ends: true,
          beyond: false,
          source: record.source,
        };
      return { ...s, beyond: true };
    }),
  };
}
