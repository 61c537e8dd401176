import { labelledAddress, type CaseFacts, factsOf } from '../ledger/index.ts';
import {
  sameAddress,
  formatAddress,
  type Address,
  parseAddress,
  prefixContains,
  prefixOf,
  isReachable,
} from '../net/index.ts';
import type { Machine, NetInterface, Site } from '../site/index.ts';
import type { StopProposal } from './types.ts';
import { sources } from './foundParts.ts';
import { freeId } from './foundParts.ts';
import { isPrivate } from './foundParts.ts';
import { machineOf } from './foundParts.ts';
import { stopsOf } from './foundParts.ts';
import { forwardsOf } from '../devices/index.ts';

/** Bridges that container programs make for what runs inside. */
export const BRIDGE = /^(?:docker|br-|podman|cni|lxc|lxd|nerdctl|incus)[\w-]*$/;

export const isOnBridge = (machine: Machine, a: Address): boolean => bridgeFor(machine, a) !== undefined;

export const bridgeFor = (machine: Machine, a: Address): NetInterface | undefined =>
  machine.interfaces?.find(
    (i) =>
      BRIDGE.test(i.name) &&
      i.addresses.some((own) => prefixContains(prefixOf(own.address, own.prefixLength), a)),
  );

/**
 * The server's default gateway is none of the gateway's addresses and not on its network: a router stands
 * between.
 */
export function innerRouters(facts: CaseFacts, site: Site): StopProposal[] {
  const gateways = stopsOf(facts, 'gateway');
  const inner = gateways[gateways.length - 1];
  const gateway = machineOf(site, inner);
  const lan = inner ? labelledAddress(facts, inner.id, 'lan-address') : null;
  const printed = factsOf(facts, 'address').some((a) => a.stop === inner?.id);
  // Without a word about its inside network, that network is taken from the server's own route.
  if (!inner || !gateway?.interfaces || (!lan && !printed)) return [];
  return stopsOf(facts, 'host').flatMap((stop): StopProposal[] => {
    const machine = machineOf(site, stop);
    const route = machine?.routes[4]?.find((r) => r.table === 'main' && r.destination.length === 0);
    const via = route?.hops[0]?.via;
    if (!route || !via || !isPrivate(via)) return [];
    const known = gateway.interfaces!.some((i) =>
      i.addresses.some(
        (a) => sameAddress(a.address, via) || prefixContains(prefixOf(a.address, a.prefixLength), via),
      ),
    );
    const taken = site.machines.some(
      (m) => m !== machine && m.interfaces?.some((i) => i.addresses.some((a) => sameAddress(a.address, via))),
    );
    if (known || taken || isOnBridge(machine!, via)) return [];
    return [
      {
        kind: 'stop',
        id: `inner-router/${stop.id}`,
        stop: {
          id: freeId(facts, 'inner-router'),
          role: 'gateway',
          name: 'Inside router',
          typed: [{ text: `LAN IP ${formatAddress(via)}` }],
        },
        before: stop.id,
        reason: { by: 'inner-router', machine: stop.id, via: formatAddress(via), gateway: inner.id },
        evidence: sources(route.source),
      },
    ];
  });
}

/**
 * The server translates the service's port to an address on a bridge of its own: the program runs in a
 * container.
 */
export function containers(facts: CaseFacts, site: Site): StopProposal[] {
  const endpoints = facts.document.service?.endpoints ?? [];
  return stopsOf(facts, 'host').flatMap((stop): StopProposal[] => {
    const machine = machineOf(site, stop);
    const program = machine?.program[4];
    if (!machine?.interfaces || !program) return [];
    for (const forward of forwardsOf(program)) {
      const to = forward.to ? parseAddress(forward.to) : null;
      const bridge = to ? bridgeFor(machine, to) : undefined;
      if (
        !to ||
        !bridge ||
        isReachable(to) ||
        site.machines.some((m) =>
          m.interfaces?.some((i) => i.addresses.some((a) => sameAddress(a.address, to))),
        )
      )
        continue;
      const serves =
        endpoints.length === 0 ||
        endpoints.some(
          (e) =>
            (forward.protocol === null || forward.protocol === e.protocol) &&
            (forward.outsidePorts.length === 0 ||
              forward.outsidePorts.some((p) => p.first <= (e.portEnd ?? e.port) && p.last >= e.port)),
        );
      if (!serves) continue;
      const length = bridge.addresses.find((own) =>
        prefixContains(prefixOf(own.address, own.prefixLength), to),
      )!.prefixLength;
      const address = formatAddress(to);
      return [
        {
          kind: 'stop',
          id: `container/${stop.id}/${address}`,
          stop: {
            id: freeId(facts, 'container'),
            role: 'host',
            name: 'Container',
            typed: [{ text: `2: eth0    inet ${address}/${length} scope global eth0` }],
          },
          before: null,
          reason: { by: 'container', machine: stop.id, address, device: bridge.name },
          evidence: sources(forward.rule.source),
        },
      ];
    }
    return [];
  });
}
