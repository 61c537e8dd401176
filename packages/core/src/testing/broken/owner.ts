import type { FaultId } from '../../faults/index.ts';
import type { Break } from './break.ts';
import { HOST_BREAKS } from './hostBreaks.ts';
import { OUTER_BREAKS } from './outerBreaks.ts';
import { rules } from './filterListings.ts';
import { addresses, routes, sockets } from './listings.ts';
import { lotsOf, pick } from './lots.ts';
import { workingNetwork, type Network, type Surroundings } from './network.ts';
import {
  allowList,
  forwards,
  leases,
  lookup,
  pageOf,
  rowsOf,
  status,
  zoneLines,
  zoneRules,
} from './pages.ts';

/** What an owner says when asked: listings by their file names, a try, or that it cannot be had. */
export interface OwnerAnswer {
  readonly stop: string;
  readonly yields: string;
  readonly vantage?: string;
  readonly texts?: Readonly<Record<string, string>>;
  readonly observations?: readonly {
    readonly vantage: string;
    readonly to: string;
    readonly outcome: string;
  }[];
  readonly cannot?: boolean;
}

/** A network that was broken, as its owner comes with it, and what is wrong in truth. */
export interface BrokenCase {
  readonly name: string;
  readonly network: Network;
  readonly document: Readonly<Record<string, unknown>>;
  readonly answers: readonly OwnerAnswer[];
  readonly faults: readonly {
    readonly id: FaultId;
    readonly stop: string;
    readonly acceptIds: readonly string[];
    readonly acceptStops: readonly string[];
  }[];
}

const BREAKS: readonly Break[] = [...OUTER_BREAKS, ...HOST_BREAKS];
const SURROUNDINGS: readonly Surroundings[] = ['home', 'home', 'office', 'rented'];

/**
 * The case of a seed: about one in twelve has no fault, one in four has two, at different stops. The same
 * seed makes the same case.
 */
export function brokenCase(seed: number): BrokenCase {
  const lots = lotsOf(seed * 7919 + 13);
  const drawn = pick(SURROUNDINGS, lots);
  const surroundings = placeOf(seed, drawn);
  const network = workingNetwork(surroundings, lots);
  const fitting = BREAKS.filter((b) => (b.at?.includes(surroundings) ?? true) && (b.fits?.(network) ?? true));
  const chosen = breaksOf(fitting, lots());
  function breaksOf(from: readonly Break[], lot: number): Break[] {
    if (lot < 1 / 12) return [];
    const first = pick(from, lots);
    if (lot > 1 / 3) return [first];
    // Where nothing behind it can be seen, or what is dialled is wrong, a second one is of no use to anybody.
    const others = from.filter((b) => b.stop !== first.stop && b.stop !== 'client' && b.stop !== 'carrier');
    return first.stop === 'client' || first.stop === 'carrier' || others.length === 0
      ? [first]
      : [first, pick(others, lots)];
  }
  const tries = chosen.map((b) => b.tries(network));
  for (const b of chosen) b.break(network);
  const client = outcomeOf(tries.map((t) => t.client));
  const near = outcomeOf(tries.map((t) => t.near).filter((o) => o !== 'answered'));
  return {
    name: `b${String(seed).padStart(4, '0')}`,
    network,
    document: documentOf(network, chosen.length === 0 ? 'unknown' : client),
    answers: answersOf(network, client, near),
    faults: chosen.map(({ id, stop, also = [], stops = [stop] }) => ({
      id,
      stop,
      acceptIds: [id, ...also],
      acceptStops: stops,
    })),
  };
}

function placeOf(seed: number, drawn: Surroundings): Surroundings {
  if (seed % 9 === 0) return 'relayed';
  return seed % 7 === 0 ? 'doubled' : drawn;
}

/** Silence hides what would be refused behind it. */
const outcomeOf = (list: readonly string[]): 'answered' | 'lost' | 'refused' => {
  if (list.length === 0) return 'answered';
  return list.includes('lost') ? 'lost' : 'refused';
};

const dials = (n: Network): string => `${n.name ?? n.answer}:${n.dialledPort}`;

function documentOf(n: Network, symptom: string): Record<string, unknown> {
  const inner = n.surroundings === 'rented' ? 'edge' : 'gateway';
  return {
    format: 'bright-ferry-case',
    version: 1,
    title: n.service.name,
    service: {
      name: n.service.name,
      kind: n.service.program === 'postgres' ? 'database' : 'game',
      audience: 'anyone',
      endpoints: [{ protocol: n.service.protocol, port: n.service.port }],
    },
    client: { address: n.client, dials: dials(n), symptom },
    path: [
      'client',
      'carrier',
      ...(n.relay ? ['relay'] : []),
      ...(n.outer ? ['outer'] : []),
      inner,
      'host',
    ].map((id) => ({
      id,
      role: id === 'outer' ? 'gateway' : id,
      // What the relay's page says is filled in by whoever looks at it.
      ...(id === 'relay' && n.relay ? { settings: relaySettings(n.relay) } : {}),
    })),
    evidence: [],
    observations: [],
    declined: [],
  };
}

const relaySettings = ({ address, tunnel, leases }: NonNullable<Network['relay']>) => ({
  kind: 'relay',
  address,
  tunnelAddress: tunnel,
  leases,
  hidesClient: true,
  at: '2026-11-20T12:00:00Z',
});

function answersOf(n: Network, client: string, near: string): OwnerAnswer[] {
  const { protocol, port } = n.service;
  const tried = (stop: string, vantage: string, to: string, outcome: string): OwnerAnswer => ({
    stop,
    yields: 'dial',
    vantage,
    observations: [{ vantage, to: `${to}/${protocol}`, outcome }],
  });
  const listing = (stop: string, yields: string, text: string): OwnerAnswer => ({
    stop,
    yields,
    texts: { [`${yields}.txt`]: text },
  });
  const ruleTexts = rules(n);
  return [
    ...(n.name === null ? [] : [listing('client', 'name', lookup(n))]),
    ...outer(n, listing),
    listing('host', 'addresses', addresses(n)),
    listing('host', 'routes', routes(n)),
    listing('host', 'sockets', sockets(n)),
    { stop: 'host', yields: 'rules', texts: ruleTexts },
    tried('client', 'client', `${n.answer}:${n.dialledPort}`, client),
    tried('client', 'outside', `${n.answer}:${n.dialledPort}`, client),
    ...(n.surroundings === 'rented' ? [] : [tried('host', 'lan', `${n.server}:${port}`, near)]),
  ];
}

function outer(
  n: Network,
  listing: (stop: string, yields: string, text: string) => OwnerAnswer,
): OwnerAnswer[] {
  if (n.surroundings === 'rented')
    return [
      listing('edge', 'allow-list', allowList(n)),
      listing('edge', 'status', `Public IPv4 address: ${n.wan}\n`),
    ];
  if (n.surroundings !== 'office')
    return [
      ...(n.outer
        ? [
            listing('outer', 'status', pageOf(n.outer.wan, n.outer.router)),
            listing('outer', 'forwards', rowsOf(n.outer.rows)),
            listing('outer', 'seen-address', `${n.seen}\n`),
          ]
        : []),
      listing('gateway', 'status', status(n)),
      listing('gateway', 'forwards', forwards(n)),
      listing('gateway', 'leases', leases(n)),
      listing('gateway', 'seen-address', `${n.seen}\n`),
    ];
  return [
    listing('gateway', 'status', status(n)),
    listing('gateway', 'addresses', zoneLines(n)),
    listing('gateway', 'forwards', forwards(n)),
    listing('gateway', 'rules', zoneRules(n)),
    listing('gateway', 'leases', leases(n)),
  ];
}
