import { addressKind, isReachable, parseAddress, sameAddress, type Address } from '../net/index.ts';
import { factsOf } from '../ledger/index.ts';
import { wanAddress } from '../model/index.ts';
import type { SourceRef } from '../place/index.ts';
import type { MendContext } from './context.ts';
import type { Mend } from './mend.ts';
import type { Finding } from './finding.ts';
import { withMachine, type Scene } from './scene.ts';

/** The packet went to an address that is not the gateway's: dialled or resolved wrongly. */
export function dialMend(c: MendContext, now: Address): Mend | null {
  // Where a translation sent the packet is no address that anybody dialled.
  if (!sameAddress(now, c.scene.packet.destination.address)) return null;
  const outside = outsideAddress(c);
  if (!outside || !isReachable(outside.address) || sameAddress(outside.address, now)) return null;
  const mended = outside.address;
  const record = factsOf(c.facts, 'name').find(({ fact }) =>
    fact.answers.map(parseAddress).some((a) => a !== null && sameAddress(a, now)),
  );
  const common = {
    stop: c.facts.document.path.find((s) => s.role === 'client')?.id ?? 'client',
    evidence: [...(record ? [record.source] : []), ...(outside.source ? [outside.source] : [])],
    apply: (scene: Scene): Scene => ({
      ...scene,
      packet: { ...scene.packet, destination: { ...scene.packet.destination, address: mended } },
    }),
  };
  if (record) {
    const { name, type } = record.fact;
    const finding: Finding = { found: 'record', name, type, now, mended };
    return { ...common, fault: isReachable(now) ? 'name-stale' : 'name-private', finding };
  }
  const fault = isReachable(now) ? 'wan-changed' : 'dial-private';
  return { ...common, fault, finding: { found: 'dialled', now, mended } };
}

function outsideAddress(c: MendContext): { address: Address; source: SourceRef | null } | null {
  for (const stop of c.facts.document.path) {
    if (stop.role !== 'gateway' && stop.role !== 'host') continue;
    const machine = c.scene.site.machines.find((m) => m.id === stop.id);
    if (!machine) continue;
    const wan = stop.role === 'gateway' ? wanAddress(c.facts, machine) : null;
    if (wan) return wan;
    const own = machine.interfaces
      ?.flatMap((i) => i.addresses)
      .find((a) => a.address.family === 4 && isReachable(a.address));
    if (own) return { address: own.address, source: own.source };
  }
  return null;
}

/** The carrier shares one public address between customers: nothing inbound can work until that changes. */
export function sharedMend(c: MendContext, shared: Address, gateway: string): Mend {
  const machine = c.scene.site.machines.find((m) => m.id === gateway);
  const wan = machine ? wanAddress(c.facts, machine) : null;
  const isTunnelOnly = wan !== null && addressKind(wan.address).kind === 'ds-lite';
  const { ending, stop } = c.run;
  const seenIn = ending.kind === 'shared-address' ? ending.source : null;
  return {
    fault: isTunnelOnly ? 'carrier-v6-only' : 'carrier-shared',
    stop: stop ?? 'carrier',
    finding: {
      found: 'shared-address',
      gateway,
      wan: wan?.address ?? null,
      shared,
      isSeen: seenIn !== null,
    },
    evidence: [...(wan?.source ? [wan.source] : []), ...(seenIn ? [seenIn] : [])],
    apply: (scene) => withOwnAddress(scene, gateway, wan?.address ?? null, shared),
  };
}

/** The gateway holds the public address itself, and shares it with nobody. */
function withOwnAddress(scene: Scene, gateway: string, wan: Address | null, own: Address): Scene {
  const isWan = (a: Address): boolean => wan !== null && sameAddress(a, wan);
  const given = withMachine(scene, gateway, (m) => ({
    ...m,
    interfaces: (m.interfaces ?? []).map((i) => ({
      ...i,
      addresses: i.addresses.map((a) => (isWan(a.address) ? { ...a, address: own, prefixLength: 32 } : a)),
    })),
  }));
  const sharedAddresses = given.site.sharedAddresses.filter((s) => s.gateway !== gateway);
  return { ...given, site: { ...given.site, sharedAddresses } };
}
