import type { Doubt } from '../rules/index.ts';
import { parseDialled } from '../intake/index.ts';
import {
  addressKind,
  isReachable,
  parseAddress,
  prefixContains,
  prefixOf,
  sameAddress,
  type Address,
  prefix,
} from '../net/index.ts';
import { rowsOf, sourcePrefixes, type ForwardRow } from '../devices/index.ts';
import { settingsOfKind, type PathStop, isDismissed } from '../case/index.ts';
import {
  bareMachine,
  withoutSourceCheck,
  everyTransport,
  type InterfaceAddress,
  type Machine,
  type NetInterface,
  type Route,
  type Site,
} from '../site/index.ts';
import type { SourceRef } from '../place/index.ts';
import { factsOf, type CaseFacts, labelledAddress } from '../ledger/index.ts';
import { forwardCompiler, portalRows, withSettings } from './devices.ts';
import { machineFrom } from './reconcile.ts';

/** An interface prefix where only the address was said; nearly every home network has this one. */
const PRESUMED_LENGTH = 24;

/** Builds the model of the whole way from the facts of a case. */
export function buildSite(facts: CaseFacts): Site {
  const { document } = facts;
  const read = document.path.map((stop) => machineOf(stop, facts));
  const { machines, fronts, problems } = withSettings(facts, chained(read), (stop) =>
    forwardRows(facts, stop),
  );
  const carrier = document.path.find((s) => s.role === 'carrier');
  const client = clientMachine(facts, machines);
  const all = client ? machines.map((m) => (m.id === client.id ? client : m)) : machines;
  const thinCarrier = carrier !== undefined && machines.find((m) => m.id === carrier.id)?.interfaces === null;
  let internet;
  if (thinCarrier) internet = carrier.id;
  else if (carrier === undefined && !onKnownNetwork(client, machines)) internet = 'internet';
  else internet = null;
  const outside = outsideUnknown(facts, all, fronts);
  return {
    machines: all,
    sharedAddresses: sharedAddresses(facts, all, carrier?.id ?? 'internet'),
    fronts,
    problems,
    internet,
    ...(outside ? { outsideUnknown: outside } : {}),
  };
}

/**
 * A plain router behind another router: its default route leads to the router on whose inside network its
 * outside address lies.
 */
function chained(machines: readonly Machine[]): Machine[] {
  return machines.map((machine): Machine => {
    const wan =
      machine.presumed.kind === 'box' ? machine.interfaces?.find((i) => i.name === 'wan') : undefined;
    const own = wan?.addresses[0];
    if (!wan || !own || own.address.family !== 4) return machine;
    const near = machines
      .filter((m) => m !== machine)
      .flatMap((m) => m.interfaces ?? [])
      .flatMap((i) => i.addresses)
      .find(
        (a) =>
          a.address.family === 4 &&
          a.prefixLength < 31 &&
          !sameAddress(a.address, own.address) &&
          prefixContains(prefixOf(a.address, a.prefixLength), own.address),
      );
    if (!near) return machine;
    const link = prefixOf(near.address, near.prefixLength);
    const routes = (machine.routes[4] ?? []).map((r): Route =>
      r.destination.length === 0 ? { ...r, hops: [{ via: near.address, device: 'wan' }] } : r,
    );
    const connected: Route = { ...routes[0]!, destination: link, hops: [{ via: null, device: 'wan' }] };
    return {
      ...machine,
      interfaces: machine.interfaces!.map((i) =>
        i === wan ? { ...wan, addresses: [{ ...own, prefixLength: near.prefixLength }] } : i,
      ),
      routes: { ...machine.routes, 4: [...routes, connected] },
    };
  });
}

/** What a technician has said of a router before the outermost gateway: that there is none. */
export const secondGatewayId = (gateway: string): string => `second-gateway/${gateway}`;

/**
 * Addresses that only a carrier gives out, so that nothing from outside comes in by itself (RFC 6598, RFC
 * 6333).
 */
const isCarriers = (a: Address): boolean => ['shared', 'ds-lite'].includes(addressKind(a).kind);

/** Whether the outermost device may hold an address that nobody has told of yet. */
function outsideUnknown(
  facts: CaseFacts,
  machines: readonly Machine[],
  fronts: NonNullable<Site['fronts']>,
): Site['outsideUnknown'] | null {
  const stop = facts.document.path.find(
    (s) => s.role === 'gateway' || s.role === 'host' || s.role === 'edge',
  );
  const machine = machines.find((m) => m.id === stop?.id);
  if (!machine) return null;
  if (machine.role === 'edge') {
    const said =
      fronts.some((f) => f.machine === machine.id) ||
      settingsOfKind(stop, 'allow-list')?.publicAddress !== undefined;
    return said
      ? null
      : {
          stop: machine.id,
          need: { need: 'public-address-turned', stop: machine.id },
          yields: 'seen-address',
        };
  }
  if (machine.role === 'host') {
    if (!machine.interfaces)
      return { stop: machine.id, need: { need: 'addresses', stop: machine.id }, yields: 'addresses' };
    // A rented machine may have private addresses only, and a public one that its provider turns.
    const reachable = machine.interfaces.some((i) =>
      i.addresses.some((a) => a.address.family === 4 && isReachable(a.address)),
    );
    return reachable
      ? null
      : {
          stop: machine.id,
          need: { need: 'public-address-of-private', stop: machine.id },
          yields: 'seen-address',
        };
  }
  const wan = machine.interfaces ? wanAddress(facts, machine) : null;
  if (!wan)
    return { stop: machine.id, need: { need: 'outside-address', stop: machine.id }, yields: 'status' };
  if (
    isReachable(wan.address) ||
    isCarriers(wan.address) ||
    isDismissed(facts.document, secondGatewayId(machine.id))
  )
    return null;
  return {
    stop: machine.id,
    need: { need: 'router-before', stop: machine.id, address: wan.address },
    yields: 'seen-address',
  };
}

function machineOf(stop: PathStop, facts: CaseFacts): Machine {
  const readings = facts.files.filter((f) => f.stop === stop.id);
  const machine = machineFrom(stop.id, stop.role, readings, {
    forwarding: null,
    socketsComplete: everyTransport(true),
    kind: 'linux',
  });
  if (stop.role === 'gateway') return gatewayMachine(machine, facts);
  if (stop.role === 'host' && !machine.interfaces) return hostFromLabel(machine, facts);
  return machine;
}

/** A server of which only the address was said. */
function hostFromLabel(machine: Machine, facts: CaseFacts): Machine {
  const server = labelledAddress(facts, null, 'server-address');
  if (!server) return machine;
  return {
    ...machine,
    interfaces: [simpleInterface('net', server.address, server.prefix ?? PRESUMED_LENGTH, server.source)],
  };
}

function simpleInterface(
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
 * The rows in force at a stop: of its settings where they have any, else of the newest table; those of the
 * carrier's portal come
 * with them, or instead of them where the portal keeps the forwards.
 */
export function forwardRows(facts: CaseFacts, stop: string): ForwardRow[] {
  const settings = settingsOfKind(
    facts.document.path.find((s) => s.id === stop),
    'forward-table',
  );
  const portal = portalRows(facts.document, stop);
  if (settings?.keptBy === 'carrier') return portal;
  return [
    ...(settings && settings.rows.length > 0 ? rowsOf(settings.rows) : tableRows(facts, stop)),
    ...portal,
  ];
}

/** Whether anything is known of a stop's forwards, an empty table included. */
export function knowsForwards(facts: CaseFacts, stop: string): boolean {
  return (
    facts.files.some((f) => f.stop === stop && f.covers.includes('forwards')) ||
    settingsOfKind(
      facts.document.path.find((s) => s.id === stop),
      'forward-table',
    ) !== null ||
    portalRows(facts.document, stop).length > 0
  );
}

const unreadSources = (sources: readonly string[]): Doubt => ({
  doubt: 'word',
  field: 'source',
  text: sources.join(', '),
});

function tableRows(facts: CaseFacts, stop: string): ForwardRow[] {
  const tables = facts.files.filter((f) => f.stop === stop && f.covers.includes('forwards'));
  const newest = tables[tables.length - 1];
  return (newest?.facts ?? []).flatMap((f): ForwardRow[] => {
    const inside = f.kind === 'forward' ? parseAddress(f.insideAddress) : null;
    if (f.kind !== 'forward' || !inside) return [];
    const sources = f.sources === null ? null : sourcePrefixes(f.sources);
    return [
      {
        name: f.name ?? '',
        protocol: f.protocol,
        outside: { first: f.outsideFirst, last: f.outsideLast },
        insideAddress: inside,
        insideFirst: f.insideFirst,
        enabled: f.enabled,
        applied: f.applied,
        sources,
        doubt: f.doubt ?? (f.sources !== null && sources === null ? unreadSources(f.sources) : null),
        source: { file: newest!.file, ...f.at },
      },
    ];
  });
}

/**
 * A gateway with evidence of a packet filter is that filter. One that shows a forward table or a status page
 * is a plain
 * router with a line outward and one inward.
 */
function gatewayMachine(machine: Machine, facts: CaseFacts): Machine {
  const hasTable = knowsForwards(facts, machine.id);
  const rows = forwardRows(facts, machine.id);
  if (machine.program[4] !== null) return machine;
  if (machine.interfaces) {
    if (!hasTable) return machine;
    const program = forwardCompiler(
      facts.document.path.find((s) => s.id === machine.id)!,
      machine,
      facts,
    )(rows);
    return { ...machine, program: { 4: program, 6: null } };
  }
  const wan = labelledAddress(facts, machine.id, 'wan-address');
  if (!wan && !hasTable) return machine;
  return boxMachine(machine, facts, rows, hasTable, wan);
}

function boxMachine(
  machine: Machine,
  facts: CaseFacts,
  rows: readonly ForwardRow[],
  hasTable: boolean,
  wan: ReturnType<typeof labelledAddress>,
): Machine {
  const stop = facts.document.path.find((s) => s.id === machine.id)!;
  const lan = lanSide(machine.id, facts, rows);
  const interfaces = [
    ...(wan ? [simpleInterface('wan', wan.address, wan.prefix ?? 32, wan.source)] : []),
    ...(lan ? [simpleInterface('lan', lan.address, lan.length, lan.source)] : []),
  ];
  const route = (to: string, device: string): Route => ({
    family: 4,
    table: 'main',
    type: 'unicast',
    destination: prefix(to),
    hops: [{ via: null, device }],
    metric: 0,
    preferred: null,
    dead: false,
    unmodelled: null,
    source: null,
  });
  const routes: Route[] = [
    ...(wan ? [route('0.0.0.0/0', 'wan')] : []),
    ...(lan ? [{ ...route('0.0.0.0/0', 'lan'), destination: prefixOf(lan.address, lan.length) }] : []),
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

/**
 * The inside network: said on the status page, else where the server's default route leads, else around what
 * a row forwards to.
 */
function lanSide(
  gateway: string,
  facts: CaseFacts,
  rows: readonly ForwardRow[],
): { address: Address; length: number; source: SourceRef | null } | null {
  const said = labelledAddress(facts, gateway, 'lan-address');
  if (said) return { address: said.address, length: said.prefix ?? PRESUMED_LENGTH, source: said.source };
  for (const { fact, stop, source } of factsOf(facts, 'route')) {
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
  const inside = rows[0]?.insideAddress ?? privateServer(facts);
  return inside
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

/** The client by its address alone, where nothing else is known of it. */
function clientMachine(facts: CaseFacts, machines: readonly Machine[]): Machine | null {
  const stop = machines.find((m) => m.role === 'client');
  const said = facts.document.client?.address;
  const address =
    (said ? parseAddress(said) : null) ??
    labelledAddress(facts, stop?.id ?? null, 'client-address')?.address ??
    null;
  if (!stop || stop.interfaces || !address) return null;
  const held = machines.some((m) =>
    m.interfaces?.some((i) => i.addresses.some((a) => sameAddress(a.address, address))),
  );
  return held ? null : { ...bareMachine(stop.id, address) };
}

function onKnownNetwork(client: Machine | null, machines: readonly Machine[]): boolean {
  if (!client) return true;
  const own = client.interfaces![0]!.addresses[0]!.address;
  return machines.some(
    (m) =>
      m !== client &&
      m.interfaces?.some((i) =>
        i.addresses.some((a) => prefixContains(prefixOf(a.address, a.prefixLength), own)),
      ),
  );
}

/**
 * Public addresses that a carrier answers for on behalf of many customers: the one that the internet sees (or
 * that is dialled)
 * while the gateway's own WAN address is shared, private, or only good for a tunnel to the carrier.
 */
function sharedAddresses(
  facts: CaseFacts,
  machines: readonly Machine[],
  carrier: string,
): Site['sharedAddresses'] {
  const out: { address: Address; carrier: string; gateway: string; source: SourceRef | null }[] = [];
  const outer = machines.find((m) => m.role === 'gateway');
  if (!outer?.interfaces) return out;
  const wan = wanAddress(facts, outer);
  const held = (a: Address): boolean =>
    machines.some((m) => m.interfaces?.some((i) => i.addresses.some((x) => sameAddress(x.address, a))));
  for (const stop of facts.document.path) {
    const settings = settingsOfKind(stop, 'carrier');
    for (const text of settings?.ipv4 === 'own' ? [] : (settings?.sharedAddresses ?? [])) {
      const address = parseAddress(text);
      if (address && !held(address)) out.push({ address, carrier: stop.id, gateway: outer.id, source: null });
    }
  }
  if (!wan || isReachable(wan.address)) return out;
  // Behind a private address there may be a router of the owner's, which may forward.
  if (!isCarriers(wan.address) && !isDismissed(facts.document, secondGatewayId(outer.id))) return out;
  const seen = labelledAddress(facts, null, 'seen-address');
  if (seen && isReachable(seen.address) && !held(seen.address))
    out.push({ address: seen.address, carrier, gateway: outer.id, source: seen.source });
  const dialled = parseAddress(parseDialled(facts.document.client?.dials ?? '')?.host ?? '');
  for (const { a, source } of [
    ...factsOf(facts, 'name').flatMap(({ fact, source }) =>
      fact.answers.map((answer) => ({ a: parseAddress(answer), source: source as SourceRef | null })),
    ),
    { a: dialled, source: null },
  ]) {
    if (a && a.family === 4 && isReachable(a) && !held(a) && !out.some((o) => sameAddress(o.address, a)))
      out.push({ address: a, carrier, gateway: outer.id, source });
  }
  return out;
}

/** A gateway's outside address: said on its page, else the one on the interface of its default route. */
export function wanAddress(
  facts: CaseFacts,
  gateway: Machine,
): { address: Address; source: SourceRef | null } | null {
  const said = labelledAddress(facts, gateway.id, 'wan-address');
  if (said) return said;
  const device = gateway.routes[4]?.find((r) => r.destination.length === 0)?.hops[0]?.device;
  const own = gateway.interfaces
    ?.find((i) => i.name === device)
    ?.addresses.find((a) => a.address.family === 4);
  return own ? { address: own.address, source: own.source } : null;
}
