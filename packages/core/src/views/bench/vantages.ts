import type { Observation, ServiceEndpoint } from '../../case/index.ts';
import { trace } from '../../crossing/index.ts';
import type { CaseFacts } from '../../ledger/index.ts';
import { buildSite } from '../../model/index.ts';
import {
  formatAddress,
  formatEndpoint,
  parseAddress,
  sameAddress,
  type Address,
  type Family,
} from '../../net/index.ts';
import type { Machine, Site } from '../../site/index.ts';
import { vantageText } from '../../words/index.ts';
import { aimOf, packetFor, STAND_IN_CLIENT } from './packet.ts';
import type { Lamp } from './types.ts';
import { endpointKey, endpointLabel, lampOf } from './endpoints.ts';
import { insideNeighbour } from './viewpoint.ts';

type Vantage = Observation['vantage'];

/** One try: from one place, to one endpoint: what is worked out for it, and what was seen of it. */
export interface VantageCell {
  readonly endpoint: string;
  readonly vantage: Vantage;
  /** null: nobody knows from which address. */
  readonly from: string | null;
  /** `203.0.113.50:8214/tcp`; null where the address is not known. */
  readonly to: string | null;
  readonly lamp: Lamp;
  readonly seen: {
    readonly outcome: Observation['outcome'];
    readonly other: boolean;
    readonly at: string | null;
    /** What was seen is not what is worked out. */
    readonly disagrees: boolean;
  } | null;
}

export interface VantageRow {
  readonly key: string;
  readonly label: string;
  readonly cells: readonly VantageCell[];
}

/** Who tries × endpoint: from the server itself outward to a network that nobody knows. */
export interface VantageGrid {
  readonly endpoints: readonly { readonly key: string; readonly label: string }[];
  readonly rows: readonly VantageRow[];
}

interface Place {
  readonly vantage: Vantage;
  readonly label: string;
  /** null: the client of the case. */
  readonly from: Address | null;
  readonly isFromKnown: boolean;
  readonly to: Address | null;
}

export function vantageGrid(facts: CaseFacts): VantageGrid {
  const site = buildSite(facts);
  const endpoints = facts.document.service?.endpoints ?? [];
  return {
    endpoints: endpoints.map((e) => ({ key: endpointKey(e), label: endpointLabel(e) })),
    rows: placesOf(facts, site).map((p, i) => ({
      key: `${p.vantage}-${i}`,
      label: p.label,
      cells: endpoints.map((e) => cellOf(facts, site, p, e)),
    })),
  };
}

/** The places from which a try tells something of its own, from the server outward (diagnosis by vantage). */
function placesOf(facts: CaseFacts, site: Site): Place[] {
  const { client } = facts.document;
  const aim = aimOf(facts);
  const six = aim.name !== null && aim.address?.family === 4 ? aimOf(facts, 6).address : null;
  const server = serverAddress(site, aim.address?.family ?? 4);
  const near = insideNeighbour(site);
  const place = (vantage: Vantage, from: Address | null, to: Address | null, more = ''): Place => ({
    vantage,
    label: `${vantageText(vantage)}${more}`,
    from,
    isFromKnown: from !== null || client?.address !== undefined,
    to,
  });
  const others = (client?.others ?? []).flatMap((text) => parseAddress(text) ?? []);
  // A machine in a data centre has no network of its own around it.
  const isInside = near !== null || facts.document.path.some((s) => s.role === 'gateway');
  // What gets to the program from beside the server gets to it from the server itself as well.
  const own = place('host', near, server);
  const inside = [place('lan', near, server), place('lan-by-outside-address', near, aim.address)];
  return [
    own,
    ...(isInside ? inside.map((p) => ({ ...p, isFromKnown: near !== null })) : []),
    place('client', null, aim.address),
    ...(aim.name === null ? [] : [place('client-by-name', null, aim.address, six ? ' (IPv4)' : '')]),
    ...(six ? [place('client-by-name', null, six, ' (IPv6)')] : []),
    ...(client?.alsoDials ?? []).map((typed) => {
      const by = aimOf(facts, null, typed);
      const vantage = by.name === null ? 'client' : 'client-by-name';
      return { ...place(vantage, null, by.address), label: `the client, by ${typed}` };
    }),
    ...others.map((a) => ({
      ...place('client', a, aim.address),
      label: `from ${formatAddress(a)}, by the address`,
    })),
    place('outside', parseAddress(STAND_IN_CLIENT), aim.address),
  ];
}

/** The innermost server's address of a family. */
function serverAddress(site: Site, family: Family): Address | null {
  const servers = site.machines.filter((m: Machine) => m.role === 'host');
  const own = servers
    .flatMap((m) => (m.interfaces ?? []).filter((i) => !i.loopback && i.adminUp))
    .flatMap((i) => i.addresses.filter((a) => a.address.family === family && a.scope !== 'link'));
  return own[0]?.address ?? null;
}

function cellOf(facts: CaseFacts, site: Site, place: Place, endpoint: ServiceEndpoint): VantageCell {
  const { vantage, from, to } = place;
  const aim = { ...aimOf(facts), address: to };
  const packet = to === null ? null : packetFor(facts, aim, endpoint, from);
  // By the inside address it is the program's own port that is tried.
  const isByInside = vantage === 'host' || vantage === 'lan';
  const tried =
    packet && isByInside
      ? { ...packet, destination: { ...packet.destination, port: endpoint.port } }
      : packet;
  const target = tried && `${formatEndpoint(tried.destination)}/${tried.transport}`;
  const triedLamp = tried ? lampOf(trace(site, tried, { explain: false })) : 'fogged';
  const lamp = vantage === 'host' && !listens(site, endpoint, to) ? 'shut' : triedLamp;
  // Nobody knows the address of another network, and the server's own needs none.
  const isNamed = place.isFromKnown && vantage !== 'outside' && vantage !== 'host';
  const source = tried && isNamed ? formatAddress(tried.source.address) : null;
  const last = facts.document.observations?.findLast(
    (o) =>
      o.vantage === vantage &&
      o.to === target &&
      (o.from === undefined || source === null || o.from === source),
  );
  return {
    endpoint: endpointKey(endpoint),
    vantage,
    from: source,
    to: target,
    lamp,
    seen: last
      ? {
          outcome: last.outcome,
          other: last.other === true,
          at: last.at ?? null,
          disagrees:
            lamp !== 'fogged' && (lamp === 'lit') !== (last.outcome === 'answered' && last.other !== true),
        }
      : null,
  };
}

/** Whether the program listens at that address of the server; also where nobody knows. */
function listens(site: Site, { protocol, port }: ServiceEndpoint, to: Address | null): boolean {
  const server = site.machines.find((m) => m.role === 'host' && to !== null && holds(m, to));
  if (!server?.sockets || to === null) return true;
  return server.sockets.some(
    (s) =>
      s.transport === protocol &&
      s.port === port &&
      s.families.includes(to.family) &&
      (s.address === null || sameAddress(s.address, to)),
  );
}

const holds = (m: Machine, address: Address): boolean =>
  (m.interfaces ?? []).some((i) => i.addresses.some((a) => sameAddress(a.address, address)));
