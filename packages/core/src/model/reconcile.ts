import {
  parseAddress,
  parsePrefix,
  prefix,
  prefixOf,
  sameAddress,
  type Family,
  PROTOCOL_NUMBER,
} from '../net/index.ts';
import type {
  InterfaceAddress,
  Machine,
  Neighbour,
  NetInterface,
  PolicyRule,
  Presumed,
  Role,
  Route,
  Socket,
} from '../site/index.ts';
import type { SourceRef, Span } from '../place/index.ts';
import { compilePrograms } from './programs.ts';
import { standing, type AgedReading } from '../ledger/index.ts';
import type {
  AddressFact,
  Coverage,
  Fact,
  InterfaceFact,
  PolicyFact,
  RouteFact,
  SocketFact,
} from '../facts/index.ts';

const of = <K extends Fact['kind']>(
  readings: readonly AgedReading[],
  kind: K,
): { fact: Extract<Fact, { kind: K }>; source: SourceRef }[] =>
  readings.flatMap((r) =>
    r.facts
      .filter((f): f is Extract<Fact, { kind: K }> => f.kind === kind)
      .map((fact) => ({ fact, source: ref(r.file, fact.at) })),
  );

const ref = (file: string, at: Span): SourceRef => ({ file, ...at });

/**
 * Builds the machine of one stop from the readings of its evidence, later readings standing over earlier
 * ones.
 */
export function machineFrom(
  id: string,
  role: Role,
  all: readonly AgedReading[],
  presumed: Presumed,
): Machine {
  const readings = standing(all);
  const covered = new Set(readings.flatMap((r) => r.covers));
  const routes = (family: Family): Route[] | null =>
    covered.has(family === 4 ? 'routes4' : 'routes6')
      ? lastOf(readings, family === 4 ? 'routes4' : 'routes6', 'route')
          .filter(({ fact }) => fact.family === family)
          .map(({ fact, source }) => routeOf(fact, source))
      : null;
  const shown = new Set(all.flatMap((r) => r.shows ?? []));
  const policy = (family: Family): PolicyRule[] | 'open' | null => {
    const aspect = family === 4 ? 'policy4' : 'policy6';
    if (covered.has(aspect)) return policyOf(lastOf(readings, aspect, 'policy'), family);
    return shown.has(aspect) ? 'open' : null;
  };
  const interfaces = covered.has('addresses') ? interfacesOf(readings) : null;
  const listening = socketsOf(readings);
  const sockets =
    covered.has('sockets-tcp') || covered.has('sockets-udp') || listening.length > 0 ? listening : null;
  return {
    id,
    role,
    interfaces,
    routes: {
      4: withConnected(byName(routes(4), interfaces), interfaces),
      6: byName(routes(6), interfaces),
    },
    policy: { 4: policy(4), 6: policy(6) },
    sockets,
    neighbours: of(readings, 'neighbour').flatMap(({ fact, source }): Neighbour[] => {
      const address = parseAddress(fact.address);
      return address
        ? [
            {
              address,
              device: fact.dev,
              mac: fact.mac,
              failed: fact.states.some((s) => s === 'FAILED' || s === 'INCOMPLETE'),
              source,
            },
          ]
        : [];
    }),
    settings: new Map(
      of(readings, 'setting').map(({ fact, source }) => [fact.key, { value: fact.value, source }]),
    ),
    program: compilePrograms(readings),
    presumed: {
      ...presumed,
      socketsComplete: { tcp: covered.has('sockets-tcp'), udp: covered.has('sockets-udp') },
    },
  };
}

/**
 * Some systems name a route's interface by its address. One that names an interface which the machine does
 * not have is not understood: one of the two listings is cut, miscopied or of another time.
 */
function byName(routes: Route[] | null, interfaces: readonly NetInterface[] | null): Route[] | null {
  if (!routes || !interfaces) return routes;
  return routes.map((r) => {
    const hops = r.hops.map((hop) => {
      const at = hop.device ? parseAddress(hop.device) : null;
      const owner = at && interfaces.find((i) => i.addresses.some((a) => sameAddress(a.address, at)));
      return owner ? { ...hop, device: owner.name } : hop;
    });
    const stray = hops.find((h) => h.device !== null && !interfaces.some((i) => i.name === h.device));
    return { ...r, hops, unmodelled: r.unmodelled ?? (stray ? `interface ${stray.device}` : null) };
  });
}

/**
 * The kernel routes what lies on an interface's own network by that interface (Linux fib_add_ifaddr). A
 * listing without such a route breaks off, or somebody took the route away: what goes there is open.
 */
function withConnected(routes: Route[] | null, interfaces: readonly NetInterface[] | null): Route[] | null {
  if (!routes || !interfaces) return routes;
  const missing = interfaces
    .filter((i) => i.adminUp && !i.loopback && i.carrier !== false)
    .flatMap((i) =>
      i.addresses
        .filter((a) => a.address.family === 4 && a.peer === null && a.prefixLength > 0 && a.prefixLength < 32)
        .map((a) => ({ device: i.name, to: prefixOf(a.address, a.prefixLength), source: a.source })),
    )
    .filter(
      ({ to }) => !routes.some((r) => r.destination.length === to.length && r.destination.bits === to.bits),
    );
  return [
    ...routes,
    ...missing.map(({ device, to, source }): Route => ({
      family: 4,
      table: 'main',
      type: 'unicast',
      destination: to,
      hops: [{ via: null, device }],
      metric: 0,
      preferred: null,
      dead: false,
      unmodelled: `the network of ${device}, which is not among the routes`,
      source,
    })),
  ];
}

/**
 * Facts of the newest readings that cover an aspect; listings of different tables or families add up within
 * one file only.
 */
function lastOf<K extends Fact['kind']>(readings: readonly AgedReading[], aspect: Coverage, kind: K) {
  return of(
    readings.filter((r) => r.covers.includes(aspect)),
    kind,
  );
}

function interfacesOf(readings: readonly AgedReading[]): NetInterface[] {
  const heads = new Map<string, { fact: InterfaceFact; source: SourceRef }>();
  for (const head of of(readings, 'interface')) {
    const before = heads.get(head.fact.name);
    heads.set(
      head.fact.name,
      before ? { fact: { ...before.fact, ...head.fact }, source: head.source } : head,
    );
  }
  const addresses = new Map<string, Map<string, { fact: AddressFact; source: SourceRef }>>();
  for (const a of of(readings, 'address')) {
    const list =
      addresses.get(a.fact.interface) ?? new Map<string, { fact: AddressFact; source: SourceRef }>();
    list.set(a.fact.address, a);
    addresses.set(a.fact.interface, list);
  }
  const names = new Set([...heads.keys(), ...addresses.keys()]);
  return [...names].map((name): NetInterface => {
    const head = heads.get(name);
    const own = [...(addresses.get(name)?.values() ?? [])];
    const loopback = head?.fact.loopback ?? name === 'lo';
    return {
      name,
      index: head?.fact.index ?? null,
      adminUp: head?.fact.adminUp ?? true,
      carrier: loopback ? true : (head?.fact.carrier ?? null),
      mac: head?.fact.mac ?? null,
      loopback,
      noNeighbours: head?.fact.noNeighbours ?? false,
      addresses: own.flatMap(({ fact, source }) => interfaceAddress(fact, source)),
      source: head?.source ?? own[0]?.source ?? null,
    };
  });
}

function interfaceAddress(fact: AddressFact, source: SourceRef): InterfaceAddress[] {
  const address = parseAddress(fact.address);
  if (!address) return [];
  let scope: 'global' | 'link' | 'host' | 'site' | 'other';
  if (fact.scope === 'global' || fact.scope === 'link' || fact.scope === 'host' || fact.scope === 'site')
    scope = fact.scope;
  else if (fact.scope === undefined) scope = 'global';
  else scope = 'other';
  return [
    {
      address,
      prefixLength: fact.prefix,
      peer: fact.peer ? parseAddress(fact.peer) : null,
      secondary: fact.secondary ?? false,
      unusable: fact.unusable ?? false,
      scope,
      source,
    },
  ];
}

const ROUTE_TYPES: ReadonlySet<string> = new Set<Route['type']>([
  'unicast',
  'local',
  'broadcast',
  'anycast',
  'multicast',
  'blackhole',
  'unreachable',
  'prohibit',
  'throw',
  'nat',
]);

function routeOf(fact: RouteFact, source: SourceRef): Route {
  const everything = prefix(fact.family === 4 ? '0.0.0.0/0' : '::/0');
  return {
    family: fact.family,
    table: fact.table,
    type: (ROUTE_TYPES.has(fact.type) ? fact.type : 'unicast') as Route['type'],
    destination: fact.to === 'default' ? everything : (parsePrefix(fact.to) ?? everything),
    hops: fact.hops.map((h) => ({ via: h.via ? parseAddress(h.via) : null, device: h.dev })),
    metric: fact.metric,
    preferred: fact.src ? parseAddress(fact.src) : null,
    dead: fact.dead ?? false,
    unmodelled: fact.unmodelled ?? (ROUTE_TYPES.has(fact.type) ? null : `the type ${fact.type}`),
    source,
  };
}

function policyOf(facts: readonly { fact: PolicyFact; source: SourceRef }[], family: Family): PolicyRule[] {
  return facts
    .filter(({ fact }) => fact.family === null || fact.family === family)
    .map(({ fact, source }): PolicyRule => {
      let protocol;
      if (fact.protocol === undefined) protocol = null;
      else if (/^\d+$/.test(fact.protocol)) protocol = Number(fact.protocol);
      else protocol = PROTOCOL_NUMBER[fact.protocol] ?? null;
      return {
        family,
        priority: fact.priority,
        not: fact.not ?? false,
        from: fact.from ? parsePrefix(fact.from) : null,
        to: fact.to ? parsePrefix(fact.to) : null,
        in: fact.iif ?? null,
        out: fact.oif ?? null,
        mark: fact.fwmark ?? null,
        protocol,
        sport: fact.sport ?? null,
        dport: fact.dport ?? null,
        action: fact.action,
        table: fact.table ?? 'main',
        goto: fact.goto ?? null,
        suppressPrefixLength: fact.suppress ?? null,
        unmodelled: fact.unmodelled ?? null,
        source,
      };
    })
    .sort((a, b) => a.priority - b.priority);
}

/** Sockets that take new packets: TCP in LISTEN, UDP not connected. */
function socketsOf(readings: readonly AgedReading[]): Socket[] {
  return of(readings, 'socket').flatMap(({ fact, source }): Socket[] => {
    if (fact.protocol === 'tcp' ? fact.state !== 'LISTEN' : fact.state !== 'UNCONN') return [];
    const any = fact.address === '*' || fact.address === '0.0.0.0' || fact.address === '::';
    const address = any ? null : parseAddress(fact.address);
    if (!any && !address) return [];
    return [
      {
        transport: fact.protocol,
        address,
        families: familiesOf(fact),
        ...(fact.bothFamilies ? { perhapsFour: true } : {}),
        port: fact.port,
        device: fact.device ?? null,
        program: fact.processes[0]?.name ?? null,
        source,
      },
    ];
  });
}

function familiesOf(fact: SocketFact): Family[] {
  return fact.family === 0 ? [4, 6] : [fact.family];
}
