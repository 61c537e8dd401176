import { nth } from '../../place/index.ts';
import type { Leg } from '../../crossing/index.ts';
import type { MendStep } from '../../mend/index.ts';
import { formatEndpoint, type Endpoint, type Header } from '../../net/index.ts';
import type { Aim } from './packet.ts';
import type { WireLane, WireView } from './types.ts';
import { type Column, type State } from './column.ts';

export function wireOf(
  left: Column,
  right: Column,
  i: number,
  states: readonly State[],
  endAt: number,
  steps: readonly MendStep[],
  aim: Aim,
): WireView {
  const s = nth(states, i + 1);
  const l = nth(states, i);
  const { packet } = nth(steps, 0).scene;
  const beyond = s.beyond || (endAt >= 0 && i >= endAt);
  let outHeader;
  if (left.kind === 'name' || left.kind === 'client')
    outHeader = right.kind === 'name' ? null : packetOf(s, packet);
  else outHeader = l.leg?.after ?? s.leg?.before ?? null;
  const before = left.kind === 'client' || left.kind === 'name' ? outHeader : (l.leg?.before ?? null);
  const out: WireLane =
    right.kind === 'name'
      ? {
          state: 'carried',
          source: formatEndpoint(packet.source),
          destination: `${aim.name}:${packet.destination.port}`,
          sourceChanged: false,
          destinationChanged: false,
          note: '',
        }
      : lane(
          outHeader,
          beyond ? 'beyond' : 'carried',
          left.kind === 'name' ? null : before,
          left.kind === 'name' && aim.address !== null,
        );
  // Nothing changes at the name on the way back, nor where the packet does not come: the wires on both sides
  // carry what the first machine behind it sent.
  const answering = states.slice(right.kind === 'name' ? i + 2 : i + 1).find((a) => a.lamp !== 'aside') ?? s;
  return { out: known(left, right, s, l) ? out : EMPTY, back: backLane(answering) };
}

const packetOf = (s: State, packet: Header): Header =>
  s.beyond && s.step.scene.packet !== packet ? s.step.scene.packet : packet;

const known = (left: Column, right: Column, s: State, l: State): boolean =>
  right.kind === 'name' ||
  (left.kind === 'name' && s.leg !== null) ||
  l.leg !== null ||
  s.leg !== null ||
  left.kind === 'client';

const EMPTY: WireLane = {
  state: 'empty',
  source: '',
  destination: '',
  sourceChanged: false,
  destinationChanged: false,
  note: '',
};

export function lane(
  header: Header | null,
  state: 'carried' | 'beyond',
  before: Header | null,
  allNew = false,
): WireLane {
  if (!header) return EMPTY;
  const changed = (a: Endpoint, b: Endpoint | undefined): boolean =>
    b !== undefined && formatEndpoint(a) !== formatEndpoint(b);
  return {
    state,
    source: formatEndpoint(header.source),
    destination: formatEndpoint(header.destination),
    sourceChanged: changed(header.source, before?.source),
    destinationChanged: allNew || changed(header.destination, before?.destination),
    note: '',
  };
}

/**
 * The answer's way back is drawn between the same gates; a wire carries what the stop on its right sent
 * towards the client.
 */
function backLane(s: State): WireLane {
  const sent = s.back;
  if (!sent) return EMPTY;
  const carried = sent.out !== null || sent.events.every((e) => e.event !== 'ended');
  if (!carried) return { ...EMPTY, note: 'the answer ends here' };
  return { ...lane(sent.after, s.beyond ? 'beyond' : 'carried', sent.before), note: noteOf(sent) };
}

const noteOf = (leg: Leg | null): string => {
  if (leg?.form === 'reset') return 'refusal (reset)';
  return leg?.form === 'error' ? 'refusal (ICMP)' : '';
};
