import { of } from './listedFacts.ts';
import { parseAddress, sameAddress, type Family } from '../net/index.ts';
import type {
  Machine,
  Neighbour,
  NetInterface,
  PolicyRule,
  Presumed,
  Role,
  Route,
  Socket,
} from '../site/index.ts';
import { compilePrograms } from './programs.ts';
import { standing, type AgedReading } from '../ledger/index.ts';
import type { Coverage, Fact, SocketFact } from '../facts/index.ts';
import { policyOf, routeOf } from './listedRoutes.ts';
import { interfacesOf, withConnected } from './listedInterfaces.ts';

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
 * Facts of the newest readings that cover an aspect; listings of different tables or families add up within
 * one file only.
 */
function lastOf<K extends Fact['kind']>(readings: readonly AgedReading[], aspect: Coverage, kind: K) {
  return of(
    readings.filter((r) => r.covers.includes(aspect)),
    kind,
  );
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
