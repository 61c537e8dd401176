import { withId } from '../place/index.ts';
import {
  addressKind,
  isReachable,
  parseAddress,
  prefixContains,
  prefixOf,
  type Address,
  type Prefix,
  prefix,
} from '../net/index.ts';
import { withDevice, zoneFirewallDevice, type ForwardRow } from '../devices/index.ts';
import {
  withoutSourceCheck,
  everyTransport,
  type InterfaceAddress,
  type Machine,
  type NetInterface,
  type Route,
  routeTo,
} from '../site/index.ts';
import type { SourceRef } from '../place/index.ts';
import { factsOf, type CaseFacts, labelledAddress } from '../ledger/index.ts';
import { forwardCompiler } from './forwardCompiler.ts';
import { forwardRows, knowsForwards } from './forwards.ts';
import { hasPartOfLines, knowsZones, listedZones } from './zones.ts';

/** An interface prefix where only the address was said; nearly every home network has this one. */
export const PRESUMED_LENGTH = 24;

export function simpleInterface(
  name: string,
  address: Address,
  prefixLength: number,
  source: SourceRef | null,
): NetInterface {
  const own: InterfaceAddress = {
    address,
    prefixLength,
    peer: null,
    secondary: false,
    unusable: false,
    scope: 'global',
    source,
  };
  return {
    name,
    index: null,
    adminUp: true,
    carrier: null,
    mac: null,
    loopback: false,
    noNeighbours: false,
    addresses: [own],
    source,
  };
}

/**
 * A gateway with evidence of a packet filter is that filter. One that shows a forward table or a status page
 * is a plain router with a line outward and one inward.
 */
export function gatewayMachine(machine: Machine, facts: CaseFacts): Machine {
  const hasTable = knowsForwards(facts, machine.id);
  const rows = forwardRows(facts, machine.id);
  if (machine.program[4] !== null) return machine;
  if (knowsZones(facts, machine.id)) return zoneMachine(machine, facts, rows);
  if (machine.interfaces) {
    if (!hasTable) return machine;
    const program = forwardCompiler(withId(facts.document.path, machine.id), machine, facts)(rows);
    return { ...machine, program: { 4: program, 6: null } };
  }
  const wan = labelledAddress(facts, machine.id, 'wan-address');
  if (!wan && !hasTable) return machine;
  return boxMachine(machine, facts, rows, hasTable, wan);
}

/** Every router leads outward; by which line, nothing that is known of this one says. */
const UNKNOWN_OUTWARD = routeTo(
  prefix('0.0.0.0/0'),
  { via: null, device: null },
  { unmodelled: 'a line outward that nothing tells of' },
);

/** A firewall with zones whose lines, rules and translations its pages show. */
function zoneMachine(machine: Machine, facts: CaseFacts, rows: readonly ForwardRow[]): Machine {
  if (hasPartOfLines(facts, machine.id)) return machine;
  const wan = labelledAddress(facts, machine.id, 'wan-address');
  const box = machine.interfaces ? machine : boxMachine(machine, facts, rows, false, wan);
  const zones = listedZones(facts, box, rows);
  if (!zones) return box;
  const device = zoneFirewallDevice(zones.settings, zones.listing);
  const isLinked = zones.settings.interfaces.some((d) => d.side === 'outside');
  const laid = withDevice(
    box,
    isLinked ? device : { ...device, routes: [...device.routes, UNKNOWN_OUTWARD] },
  );
  // What it does with IPv6 is not told by its table of IPv4 translations (RFC 6092).
  return { ...laid, program: { 4: laid.program[4], 6: machine.program[6] } };
}

function boxMachine(
  machine: Machine,
  facts: CaseFacts,
  rows: readonly ForwardRow[],
  hasTable: boolean,
  wan: ReturnType<typeof labelledAddress>,
): Machine {
  const stop = withId(facts.document.path, machine.id);
  const lan = lanSide(machine.id, facts, rows);
  const guest = labelledAddress(facts, machine.id, 'guest-address');
  const interfaces = [
    ...(wan
      ? [
          {
            ...simpleInterface('wan', wan.address, wan.prefix ?? 32, wan.source),
            carrier: lineState(machine.id, facts),
          },
        ]
      : []),
    ...(guest
      ? [simpleInterface('guest', guest.address, guest.prefix ?? PRESUMED_LENGTH, guest.source)]
      : []),
    ...(lan ? [simpleInterface('lan', lan.address, lan.length, lan.source)] : []),
  ];
  const route = (to: Prefix, device: string): Route => routeTo(to, { via: null, device });
  const routes: Route[] = [
    wan ? route(prefix('0.0.0.0/0'), 'wan') : UNKNOWN_OUTWARD,
    ...(guest ? [route(prefixOf(guest.address, guest.prefix ?? PRESUMED_LENGTH), 'guest')] : []),
    ...(lan ? [route(prefixOf(lan.address, lan.length), 'lan')] : []),
  ];
  const leases = factsOf(facts, 'lease').filter((l) => l.stop === machine.id);
  return {
    ...machine,
    interfaces,
    routes: { 4: routes, 6: machine.routes[6] },
    neighbours: [
      ...machine.neighbours,
      ...leases.flatMap(({ fact, source }) => {
        const address = parseAddress(fact.address);
        return address && fact.mac ? [{ address, device: 'lan', mac: fact.mac, failed: false, source }] : [];
      }),
    ],
    program: {
      4: hasTable
        ? forwardCompiler(stop, { ...machine, interfaces, routes: { 4: routes, 6: null } }, facts)(rows)
        : null,
      6: null,
    },
    settings: machine.settings.size > 0 ? machine.settings : new Map(withoutSourceCheck(interfaces)),
    presumed: { forwarding: true, socketsComplete: everyTransport(false), kind: 'box' },
  };
}

/** Whether the page says that the outside line is up; null: it does not say. */
function lineState(gateway: string, facts: CaseFacts): boolean | null {
  const said = factsOf(facts, 'labelled').filter((l) => l.stop === gateway && l.fact.what === 'line-state');
  const newest = said[said.length - 1]?.fact.value;
  return newest === undefined ? null : newest === 'up';
}

/**
 * The inside network: said on the status page, else where the server's default route leads, else around what
 * a row forwards to, or around the outside address of the router behind it.
 */
function lanSide(
  gateway: string,
  facts: CaseFacts,
  rows: readonly ForwardRow[],
): { address: Address; length: number; source: SourceRef | null } | null {
  const said = labelledAddress(facts, gateway, 'lan-address');
  if (said) return { address: said.address, length: said.prefix ?? PRESUMED_LENGTH, source: said.source };
  const gateways = facts.document.path.filter((s) => s.role === 'gateway');
  const next = gateways[gateways.findIndex((s) => s.id === gateway) + 1];
  // The server stands behind the last of several; before that one lies the network of its outside address.
  for (const { fact, stop, source } of next ? [] : factsOf(facts, 'route')) {
    const via =
      fact.to === 'default' && fact.family === 4 && fact.hops[0]?.via ? parseAddress(fact.hops[0].via) : null;
    if (
      !via ||
      facts.document.path.find((s) => s.id === stop)?.role !== 'host' ||
      !['private', 'shared'].includes(addressKind(via).kind)
    )
      continue;
    const own = factsOf(facts, 'address').find(
      (a) =>
        a.stop === stop &&
        a.fact.family === 4 &&
        prefixContains(prefixOf(parseAddress(a.fact.address)!, a.fact.prefix), via),
    );
    return { address: via, length: own?.fact.prefix ?? PRESUMED_LENGTH, source };
  }
  const behind = next ? labelledAddress(facts, next.id, 'wan-address')?.address : privateServer(facts);
  const inside = rows.find((r) => r.insideAddress)?.insideAddress ?? behind;
  return inside && !isReachable(inside)
    ? {
        address: { family: 4, bits: prefixOf(inside, PRESUMED_LENGTH).bits | 1n },
        length: PRESUMED_LENGTH,
        source: null,
      }
    : null;
}

function privateServer(facts: CaseFacts): Address | null {
  const said = labelledAddress(facts, null, 'server-address')?.address;
  if (said && !isReachable(said)) return said;
  const own = factsOf(facts, 'address').find(
    (a) =>
      a.fact.family === 4 &&
      a.fact.scope !== 'host' &&
      facts.document.path.find((s) => s.id === a.stop)?.role === 'host',
  );
  return own ? parseAddress(own.fact.address) : null;
}
