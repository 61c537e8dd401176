import {
  formatAddress,
  parseAddress,
  parsePortRange,
  sameAddress,
  type Address,
  type Endpoint,
} from '../net/index.ts';
import type { ZoneTranslation } from '../devices/index.ts';
import type { Machine, NetInterface } from '../site/index.ts';
import { endMachine, lastLeg, lineOf, type MendContext } from './context.ts';
import type { Mend } from './mend.ts';
import { servedBy } from './rows.ts';
import { turnMend, turnOf } from './turnRound.ts';
import { zonesIn } from './scene.ts';

/**
 * An inside client dialled an outside address of the gateway, and a forward takes that from outside only: the
 * gateway turns nothing round (hairpinning, RFC 4787 §6).
 */
export function hairpinMend(c: MendContext): Mend | null {
  const turn = turnOf(c);
  if (turn) return dialledInside(c, turn.machine.id, turn.dialled, turn.to, turnMend(c, turn));
  const machine = endMachine(c);
  const { run } = c;
  const leg = lastLeg(c);
  const line = machine?.routes[4]?.find((r) => r.destination.length === 0)?.hops[0]?.device ?? null;
  if (machine?.role !== 'gateway' || run.direction !== 'forward' || !leg?.in || line === null) return null;
  const isTurned = leg.events.some((e) => e.event === 'translated' && e.side === 'destination');
  if (leg.in === line || isTurned) return null;
  const dialled = leg.before.destination;
  const isOwn = machine.interfaces?.some((i) =>
    i.addresses.some((a) => sameAddress(a.address, dialled.address)),
  );
  const to = isOwn ? forwardedTo(c, machine, dialled) : null;
  return to && dialledInside(c, machine.id, dialled, to, null);
}

/** Inside the service has another address: that one is dialled, or the name answers so there. */
const dialledInside = (
  c: MendContext,
  stop: string,
  dialled: Endpoint,
  to: Endpoint,
  or: Mend | null,
): Mend => ({
  fault: 'hairpin-missing',
  stop,
  finding: { found: 'hairpin', served: servedBy(c), dialled: dialled.address, to },
  evidence: or?.evidence ?? [],
  apply: (scene) => ({ ...scene, packet: { ...scene.packet, destination: to } }),
  ...(or ? { or } : {}),
});

/** A name that is none of the lines stands for the only one. */
const holds = (line: NetInterface | undefined, address: Address): boolean =>
  !line || line.addresses.some((a) => sameAddress(a.address, address));

/** Where a live forward of the gateway sends what is dialled, for callers from outside. */
function forwardedTo(c: MendContext, machine: Machine, dialled: Endpoint): Endpoint | null {
  const { transport } = c.scene.packet;
  const rows = c.scene.rows.get(machine.id) ?? [];
  const row = rows.find(
    (r) =>
      r.enabled &&
      r.applied !== false &&
      (r.protocol === 'both' || r.protocol === transport) &&
      dialled.port >= r.outside.first &&
      dialled.port <= r.outside.last &&
      (!r.outsideAddress || sameAddress(r.outsideAddress, dialled.address)) &&
      (r.line === undefined || holds(lineOf(machine, r.line), dialled.address)),
  );
  if (row?.insideAddress)
    return { address: row.insideAddress, port: row.insideFirst + dialled.port - row.outside.first };
  const translations = zonesIn(c.facts, c.scene, machine)?.settings.translations ?? [];
  for (const t of translations) {
    const to = t.enabled === false ? null : translatedBy(t, transport, dialled);
    if (to) return to;
  }
  return null;
}

function translatedBy(t: ZoneTranslation, transport: string, dialled: Endpoint): Endpoint | null {
  if (t.type === 'source' || t.outside !== formatAddress(dialled.address)) return null;
  if (t.type === 'one-to-one') {
    const inside = parseAddress(t.inside);
    return inside && { address: inside, port: dialled.port };
  }
  const range = parsePortRange(`${t.ports}`);
  const to = parseAddress(t.to);
  const isFor = t.protocol === 'both' || t.protocol === transport;
  return to && range && isFor && dialled.port >= range.first && dialled.port <= range.last
    ? { address: to, port: (t.toPort ?? range.first) + dialled.port - range.first }
    : null;
}
