import type { AskKind } from '../asks/index.ts';
import { addressKind, type Address } from '../net/index.ts';
import type { Need } from '../rules/index.ts';
import type { Machine, NetInterface, Site } from '../site/index.ts';
import { holds } from './bareSender.ts';
import { onLink, onOneLink, resolve, unlinkedAt } from './links.ts';
import type { Exit } from './mover.ts';
import type { Ending } from './types.ts';

/** What becomes of a packet that leaves a machine by one of its interfaces. */
export type WireEnd =
  | { readonly to: 'machine'; readonly machine: Machine; readonly interface: NetInterface }
  /** Into the internet, which carries it to whoever holds its destination. */
  | { readonly to: 'internet' }
  | { readonly to: 'nobody'; readonly ending: Ending }
  | { readonly to: 'outside'; readonly ending: Ending }
  | { readonly to: 'unknown'; readonly need: Need; readonly yields: AskKind };

/** How a packet leaves: as an answer or as a question, and where the machine's own translation sent it. */
export interface Leaving {
  readonly isQuestion: boolean;
  readonly isForwarded: boolean;
  readonly destination: Address;
}

/** Who takes a packet for `hop` on the wire behind an interface. */
export function wireEnd(site: Site, machine: Machine, exit: Exit, hop: Address, how: Leaving): WireEnd {
  const device = machine.interfaces?.find((i) => i.name === exit.out);
  if (!device)
    return {
      to: 'unknown',
      need: { need: 'interface', stop: machine.id, interface: exit.out },
      yields: 'addresses',
    };
  const receiver = resolve(site, machine, device, hop);
  if (receiver.who === 'machine' && (device.carrier !== false || device.noNeighbours))
    return { to: 'machine', machine: receiver.machine, interface: receiver.interface };
  if (device.carrier === false)
    return { to: 'nobody', ending: { kind: 'link-down', interface: device, address: hop } };
  const isForeign = how.isQuestion && how.isForwarded && knowsServer(site, machine) && !isServers(site, hop);
  // A relay's tunnel has its customers alone on it: a lease for another address is another customer's.
  if (machine.role === 'relay' && isForeign && onLink(device, hop))
    return { to: 'outside', ending: { kind: 'astray', address: hop, mac: null, source: null } };
  if (device.noNeighbours) return intoTunnel(site, machine, device, hop);
  if (receiver.who === 'nobody')
    return {
      to: 'nobody',
      ending: {
        kind: 'nobody-there',
        address: hop,
        interface: device.name,
        unlinked: unlinkedAt(site, hop),
        source: receiver.source,
      },
    };
  // A next hop outward that is no stop of the case is somebody else's working router.
  if (receiver.who === 'stranger' && leadsOut(site, machine, exit, device)) return { to: 'internet' };
  if (receiver.who === 'stranger') {
    const { mac, source } = receiver;
    return isForeign
      ? { to: 'outside', ending: { kind: 'astray', address: hop, mac, source } }
      : {
          to: 'unknown',
          need: { need: 'holder', stop: machine.id, interface: device.name, address: hop, mac },
          yields: 'addresses',
        };
  }
  if (leadsOut(site, machine, exit, device)) {
    // A simple router whose inside network is not known: where it sends a private address is not known
    // either.
    if (machine.presumed.kind === 'box' && how.isForwarded && !addressKind(how.destination).reachable)
      return {
        to: 'unknown',
        need: { need: 'holder', stop: machine.id, interface: null, address: how.destination, mac: null },
        yields: 'status',
      };
    return { to: 'internet' };
  }
  return isForeign
    ? { to: 'outside', ending: { kind: 'astray', address: hop, mac: null, source: null } }
    : {
        to: 'unknown',
        need: { need: 'holder', stop: machine.id, interface: device.name, address: hop, mac: null },
        yields: 'neighbours',
      };
}

/** A tunnel has two ends: whatever goes in comes out at the other, where the case knows it. */
function intoTunnel(site: Site, machine: Machine, device: NetInterface, hop: Address): WireEnd {
  const ends = site.machines
    .filter((m) => m !== machine)
    .flatMap((m) =>
      (m.interfaces ?? [])
        .filter((i) => i.noNeighbours && i.adminUp && onOneLink(device, i))
        .map((i) => ({ machine: m, interface: i })),
    );
  const [end] = ends;
  if (end && ends.length === 1 && !onLink(device, hop)) return { to: 'machine', ...end };
  return { to: 'outside', ending: { kind: 'left-by-tunnel', interface: device.name, address: hop } };
}

/** The server's addresses are known: an address that a forward names is not one that we wait for. */
const knowsServer = (site: Site, machine: Machine): boolean =>
  site.machines.some((m) => m !== machine && m.role === 'host' && m.interfaces !== null && !m.mayHoldMore);

/** An address that the server's own listing has, whatever others say of who holds it. */
const isServers = (site: Site, address: Address): boolean =>
  site.machines.some((m) => m.role === 'host' && holds(m, address));

/**
 * Only a line with a public address of its own, or a plain router's outside, leads straight to the internet.
 */
const leadsOut = (site: Site, machine: Machine, exit: Exit, device: NetInterface): boolean =>
  site.internet !== null &&
  exit.viaDefault &&
  machine.id !== site.internet &&
  (machine.presumed.kind === 'box' || device.addresses.some((a) => addressKind(a.address).reachable));
