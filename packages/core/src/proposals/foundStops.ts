import { factsOf, labelledAddress, type CaseFacts } from '../ledger/index.ts';
import { isDismissed, type PathStop } from '../case/index.ts';
import { secondGatewayId, wanAddress } from '../model/index.ts';
import {
  addressKind,
  formatAddress,
  isReachable,
  parseAddress,
  prefixContains,
  prefixOf,
  sameAddress,
  type Address,
} from '../net/index.ts';
import type { Machine, Site } from '../site/index.ts';
import type { SourceRef } from '../place/index.ts';
import type { StopProposal } from './types.ts';
import { containers, innerRouters } from './foundInner.ts';
import { freeId, isPrivate, machineOf, sources, stopsOf } from './foundParts.ts';

/** Interfaces that lead into a tunnel, by the names that systems and programs give them. */
const TUNNEL = /^(?:tun|tap|utun|wg|ipsec|vti|gre|sit|he-)[\w-]*$/;

/** Stops that the evidence shows and the path lacks, from outside to inside. */
export function foundStops(facts: CaseFacts, site: Site): StopProposal[] {
  return [
    ...perimeter(facts, site),
    ...sharedHop(facts, site),
    ...tunnels(facts, site),
    ...secondGateway(facts, site),
    ...innerRouters(facts, site),
    ...containers(facts, site),
  ].filter((p) => !isDismissed(facts.document, p.id));
}

const isShared = (a: Address): boolean => ['shared', 'ds-lite'].includes(addressKind(a).kind);

/**
 * The outermost gateway stands behind an address of the carrier's shared space, and no carrier is on the
 * path.
 */
function sharedHop(facts: CaseFacts, site: Site): StopProposal[] {
  const [outer] = stopsOf(facts, 'gateway');
  const machine = machineOf(site, outer);
  const wan = machine?.interfaces ? wanAddress(facts, machine) : null;
  if (!outer || !wan || !isShared(wan.address) || stopsOf(facts, 'carrier').length > 0) return [];
  return [
    {
      kind: 'stop',
      id: `carrier/${outer.id}`,
      stop: { id: freeId(facts, 'carrier'), role: 'carrier', name: 'Carrier' },
      before: outer.id,
      reason: { by: 'shared-wan', gateway: outer.id, address: formatAddress(wan.address) },
      evidence: sources(wan.source),
    },
  ];
}

/**
 * A rented machine with private addresses only, while the internet sees a public one: its provider turns it,
 * and lets in what it lists.
 */
function perimeter(facts: CaseFacts, site: Site): StopProposal[] {
  const [host] = stopsOf(facts, 'host');
  const machine = machineOf(site, host);
  const seen = labelledAddress(facts, null, 'seen-address');
  if (
    !host ||
    !machine?.interfaces ||
    stopsOf(facts, 'gateway').length > 0 ||
    stopsOf(facts, 'edge').length > 0 ||
    !seen ||
    !isReachable(seen.address)
  )
    return [];
  const own = machine.interfaces
    .flatMap((i) => (i.loopback ? [] : i.addresses))
    .filter((a) => a.address.family === 4);
  if (own.length === 0 || own.some((a) => isReachable(a.address))) return [];
  return [
    {
      kind: 'stop',
      id: `perimeter/${host.id}`,
      stop: { id: freeId(facts, 'edge'), role: 'edge', name: 'Cloud perimeter' },
      before: host.id,
      reason: { by: 'provider', machine: host.id, address: formatAddress(seen.address) },
      evidence: sources(seen.source),
    },
  ];
}

/** The outermost gateway's own outside address is private, or a route tracing shows a second private hop. */
function secondGateway(facts: CaseFacts, site: Site): StopProposal[] {
  const [outer] = stopsOf(facts, 'gateway');
  const machine = machineOf(site, outer);
  if (!outer || !machine) return [];
  const wan = machine.interfaces ? wanAddress(facts, machine) : null;
  const id = secondGatewayId(outer.id);
  if (wan && isPrivate(wan.address) && !onKnownLan(site, machine, wan.address)) {
    const via = routerOf(facts, outer.id, machine);
    const stop: PathStop = {
      id: freeId(facts, 'outer-gateway'),
      role: 'gateway',
      name: 'Second gateway',
      ...(via ? { typed: [{ text: `LAN IP ${formatAddress(via)}` }] } : {}),
    };
    return [
      {
        kind: 'stop',
        id,
        stop,
        before: outer.id,
        reason: { by: 'private-wan', gateway: outer.id, address: formatAddress(wan.address) },
        evidence: sources(wan.source),
      },
    ];
  }
  const hop = wan ? null : secondPrivateHop(facts, site);
  return hop
    ? [
        {
          kind: 'stop',
          id,
          stop: {
            id: freeId(facts, 'outer-gateway'),
            role: 'gateway',
            name: 'Second gateway',
            typed: [{ text: `LAN IP ${formatAddress(hop.address)}` }],
          },
          before: outer.id,
          reason: { by: 'hops', address: formatAddress(hop.address) },
          evidence: sources(hop.source),
        },
      ]
    : [];
}

/** Somebody on the path already answers for the network on which that outside address lies. */
const onKnownLan = (site: Site, self: Machine, a: Address): boolean =>
  site.machines.some(
    (m) =>
      m !== self &&
      (m.role === 'gateway' || m.role === 'carrier') &&
      m.interfaces?.some((i) =>
        i.addresses.some(
          (own) => own.prefixLength < 32 && prefixContains(prefixOf(own.address, own.prefixLength), a),
        ),
      ),
  );

/** Whom the gateway itself sends everything to: a printed default gateway, or its default route. */
function routerOf(facts: CaseFacts, stop: string, machine: Machine): Address | null {
  const said = labelledAddress(facts, stop, 'default-gateway')?.address;
  return said ?? machine.routes[4]?.find((r) => r.destination.length === 0)?.hops[0]?.via ?? null;
}

/**
 * Hops as seen from the server's side: the second one, where it is private and belongs to nobody on the path.
 */
function secondPrivateHop(facts: CaseFacts, site: Site): { address: Address; source: SourceRef } | null {
  for (const { fact, stop, source } of factsOf(facts, 'hops')) {
    const role = facts.document.path.find((s) => s.id === stop)?.role;
    const [first, second] = fact.value.map((h) => (h === null ? null : parseAddress(h)));
    if (role !== 'host' && role !== 'gateway') continue;
    const hop = role === 'gateway' ? first : second;
    if (!hop || !isPrivate(hop) || (role === 'host' && (!first || !isPrivate(first)))) continue;
    if (
      site.machines.some((m) =>
        m.interfaces?.some((i) =>
          i.addresses.some(
            (a) =>
              sameAddress(a.address, hop) ||
              (a.prefixLength < 32 && prefixContains(prefixOf(a.address, a.prefixLength), hop)),
          ),
        ),
      )
    )
      continue;
    return { address: hop, source };
  }
  return null;
}

/** A server that sends everything into a tunnel: its far end is a stop of its own. */
function tunnels(facts: CaseFacts, site: Site): StopProposal[] {
  if (stopsOf(facts, 'relay').length > 0) return [];
  return stopsOf(facts, 'host').flatMap((stop): StopProposal[] => {
    const machine = machineOf(site, stop);
    const route = machine?.routes[4]?.find(
      (r) =>
        r.table === 'main' &&
        (r.destination.length === 0 || (r.destination.length === 1 && r.destination.bits === 0n)) &&
        leadsIntoTunnel(machine, r.hops[0]?.device ?? null),
    );
    const device = route?.hops[0]?.device;
    if (!route || !device) return [];
    const [outer] = stopsOf(facts, 'gateway');
    return [
      {
        kind: 'stop',
        id: `tunnel/${stop.id}`,
        stop: { id: freeId(facts, 'relay'), role: 'relay', name: 'Tunnel’s far end' },
        before: outer?.id ?? stop.id,
        reason: { by: 'tunnel-route', machine: stop.id, device },
        evidence: sources(route.source),
      },
    ];
  });
}

function leadsIntoTunnel(machine: Machine, name: string | null): boolean {
  if (name === null) return false;
  const device = machine.interfaces?.find((i) => i.name === name);
  return TUNNEL.test(name) || (device?.noNeighbours === true && !device.loopback && !/^ppp/.test(name));
}
