import type { Address } from '../net/index.ts';
import { listedPolicy, type Machine, type NetInterface } from '../site/index.ts';
import { loopbackCuts, policyAddressCuts, policyPortCuts, routeCuts } from './cuts.ts';
import type { Mover, Part } from './mover.ts';
import { checkSource } from './reversePath.ts';
import { lookUpRoute } from './routing.ts';
import type { Ending } from './types.ts';
import { allowsLoopback, isLoopback, isMartian, queryOf, routeKey, type Way, wayOf } from './ways.ts';

/**
 * Loopback addresses never come in from a wire (RFC 1122 §3.2.1.3), unless route_localnet says otherwise.
 */
export function notMartian<P>(mover: Mover<P>, machine: Machine, device: NetInterface, p: P): P[] {
  if (device.loopback || allowsLoopback(machine, device, mover.familyOf(p))) return [p];
  let sound: P[] = [p];
  for (const side of ['destination', 'source'] as const) {
    sound = sound.flatMap((part) =>
      mover
        .split(
          part,
          side,
          loopbackCuts,
          (packet) => (isLoopback(packet[side]) ? packet[side] : null),
          isMartian,
        )
        .flatMap(({ value, part: piece }) => {
          if (value === null) return [piece];
          mover.lost(machine, piece, { kind: 'martian', address: value });
          return [];
        }),
    );
  }
  return sound;
}

/**
 * The parts of what moves by their route; `from` is the interface that it came in by, `lo` for the
 * machine's own packets.
 */
export function routed<P>(mover: Mover<P>, machine: Machine, p: P, from: string): Part<P, Way>[] {
  return alikeForPolicy(mover, machine, p).flatMap((alike) =>
    mover
      .split(
        alike,
        'destination',
        routeCuts(machine),
        (packet, ask) => ({
          answer: lookUpRoute(machine, queryOf(packet, from), ask),
          destination: packet.destination,
        }),
        ({ answer }) => routeKey(answer),
      )
      .map(({ value: { answer, destination }, part }): Part<P, Way> => {
        mover.noteRoute(machine, part, answer);
        return { value: wayOf(machine, answer, destination), part };
      }),
  );
}

/** Policy rules may look at sources and ports: what they tell apart is routed apart. */
function alikeForPolicy<P>(mover: Mover<P>, machine: Machine, p: P): P[] {
  const rules = listedPolicy(machine, mover.familyOf(p));
  let parts: P[] = [p];
  const by = (header: 'source' | 'sport' | 'dport', cuts: ReturnType<typeof policyPortCuts>): void => {
    parts = parts.flatMap((part) =>
      mover.split(part, header, cuts, (packet) => packet[header], pointKey).map((x) => x.part),
    );
  };
  if (rules.some((r) => r.from !== null && r.from.length > 0)) by('source', policyAddressCuts(machine));
  if (rules.some((r) => r.sport !== null)) by('sport', policyPortCuts(machine));
  if (rules.some((r) => r.dport !== null)) by('dport', policyPortCuts(machine));
  return parts;
}

export function sourceChecked<P>(mover: Mover<P>, machine: Machine, device: NetInterface, p: P): P[] {
  return mover
    .split(
      p,
      'source',
      routeCuts(machine),
      (packet, ask): Ending | null => checkSource(machine, packet, device.name, ask),
      (ending) => ending?.kind ?? 'passes',
    )
    .flatMap(({ value, part }) => {
      if (value === null) return [part];
      mover.lost(machine, part, value);
      return [];
    });
}

const pointKey = (value: Address | number | null): string =>
  typeof value === 'object' && value !== null ? String(value.bits) : String(value);
